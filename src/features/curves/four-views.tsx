'use client';

import { tenth } from '@/ui/chart/tenth';
import { useMemo, type ReactNode } from 'react';
import type { FourViews } from '@/core/jobs/network/four-views';
import { periodicWave } from '@/core/analysis/time/periodic-waves';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { DESK, FOUR_VIEWS } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { frequencyAxis, levelAxis, timeAxis, voltAxis } from './axes';
import { placeLabels } from './label-places';
import { useHeld } from './use-held';
import { useView } from '@/store/view';
import { CutoffHandles } from './handles';
import { HarmonicBars } from './harmonic-bars';
import { LevelTraces } from './response-layers';
import { levelAt } from '@/core/analysis/curves/marks';
import { useWaveHz } from './wave-bar';
import { WaveHandle } from './wave-handle';
import styles from './curves.module.css';

const time = (s: number | null) => (s === null ? '–' : formatQuantity(s, 'time', { digits: 3 }));
const hz = (f: number) => formatQuantity(f, 'frequency', { digits: 3 });

/** One cutoff seen four ways, linked by one frequency: on a switch, with a wave, in decibels, by its harmonics. */
export function FourViewsView({ width, height }: { width: number; height: number }) {
  const views = useLiveAnswer(FOUR_VIEWS);
  if (!views)
    return (
      <p className={`reason quiet ${styles.fourWait}`} role="status">
        Working out the four views …
      </p>
    );
  const narrow = width < NARROW_PX;
  const w = narrow ? width : Math.floor(width / 2);
  const cells = [
    { name: 'On a switch', says: chargeWords(views), Chart: Charge },
    { name: `A ${periodicWave(views.wave).name} through it`, says: waveWords(views), Chart: Through },
    { name: 'In decibels', says: halfWords(views), Chart: Level },
    { name: 'By its harmonics', says: harmonicWords(views), Chart: Harmonics },
  ];
  const caption = captionHeight(
    cells.map(({ name, says }) => `${name}. ${says}`),
    w,
  );
  const h = narrow ? CELL_PX : Math.floor(height / 2) - caption;
  return (
    <div className={narrow ? `four-views ${styles.narrow}` : 'four-views'} data-testid="four-views">
      {cells.map(({ name, says, Chart }) => (
        <Cell key={name} caption={caption} name={name} says={says}>
          <Chart views={views} width={w} height={h} />
        </Cell>
      ))}
    </div>
  );
}

/** px: under this the four stand under one another, each so high. */
const NARROW_PX = 520;
const CELL_PX = 200;
/** px of the captions: a letter, a line, what stands about the lines. */
const CAPTION_LETTER = 5.7;
const CAPTION_LINE = 16;
const CAPTION_PAD = 10;
/** px: room for the longest of some captions in a cell of a width; two lines at least. */
const captionHeight = (texts: readonly string[], width: number): number =>
  CAPTION_PAD +
  CAPTION_LINE * Math.max(2, ...texts.map((t) => Math.ceil((t.length * CAPTION_LETTER) / (width - 2 * CAPTION_PAD))));

/** Over the curves, for what the axes are. */
const HEADROOM = 0.2;

function Cell({ name, says, caption, children }: { name: string; says: string; caption: number; children: ReactNode }) {
  return (
    <section className={styles.fourCell} aria-label={name}>
      <p style={{ height: caption }}>
        <b>{name}.</b> {says}
      </p>
      {children}
    </section>
  );
}

function chargeWords({ charge }: FourViews): string {
  const { onTauS, offTauS, settled } = charge;
  if (onTauS === null) return 'It goes back where it came from: what is left after a while is nothing.';
  const same = offTauS !== null && Math.abs(offTauS / onTauS - 1) < 0.02;
  const taus =
    same || offTauS === null
      ? `63 % of the way after ${time(onTauS)}`
      : `63 % of the way up after ${time(onTauS)}, down after ${time(offTauS)}`;
  const within = (s: NonNullable<typeof settled>) =>
    `; within 1 % after ${time(s.onePctS)}, within a cent at 1 V/oct after ${time(s.centS)}`;
  return `${taus}${settled ? within(settled) : ''}.`;
}

function waveWords({ at, freqHz, wave }: FourViews): string {
  const turn = at.turnedOver ? 'turned over, ' : '';
  const inTime = Math.abs(at.lateS) * freqHz < 0.0014;
  const when = at.lateS > 0 ? `comes ${time(at.lateS)} late` : `leads by ${time(-at.lateS)}`;
  const late = `${turn}${inTime ? 'comes in time' : when}`;
  return (
    `At ${hz(freqHz)} its ${wave === 'sine' ? 'sine' : 'fundamental'} passes at ` +
    `${formatSigned(at.levelDb, 'decibel')} and ${late} (${formatSigned(at.phaseDeg, 'degree', 0)}).`
  );
}

function halfWords({ half }: FourViews): string {
  const say = (of: 'power' | 'voltage') =>
    half
      .filter((x) => x.of === of)
      .map((x) => hz(x.freqHz))
      .join(' and ') || 'nowhere near';
  return (
    `Half power (−3.01 dB, 0.707 of the voltage) at ${say('power')}; half voltage (−6.02 dB, a quarter ` +
    `of the power) only at ${say('voltage')}.`
  );
}

function harmonicWords({ harmonics: { before, after } }: FourViews): string {
  const counted = Array.from(before, (v, k) => ({ v, k, kept: after[k] / v })).filter(({ v }) => v > 1e-9);
  const gone = counted.find(({ kept }) => kept < Math.SQRT1_2);
  if (!gone) return 'Every harmonic shown keeps more than half its power.';
  return `Each harmonic has its own loss: from number ${gone.k + 1} on less than half its power is left.`;
}

function Charge({ views, width, height }: { views: FourViews; width: number; height: number }) {
  const { charge } = views;
  const x = timeAxis(charge.timeS[charge.timeS.length - 1], 5);
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={voltAxis([charge.output, charge.drive], HEADROOM)}
      title="V, switch on, then off"
      xUnit={x.unit}
    >
      <Trace x={charge.timeS} y={charge.drive} className="drive" />
      <Trace x={charge.timeS} y={charge.output} className="asBuilt" testId="trace-charge" />
      {charge.onTauS !== null && (
        <Stamp x={charge.onTauS} y={valueAt(charge, charge.onTauS)} text={`τ ${time(charge.onTauS)}`} />
      )}
      {charge.offTauS !== null && (
        <Stamp
          x={charge.offAtS + charge.offTauS}
          y={valueAt(charge, charge.offAtS + charge.offTauS)}
          text={`τ ${time(charge.offTauS)}`}
        />
      )}
    </ChartFrame>
  );
}

function valueAt({ timeS, output }: FourViews['charge'], at: number): number {
  const position = (at / timeS[timeS.length - 1]) * (timeS.length - 1);
  const low = Math.min(output.length - 2, Math.floor(position));
  return output[low] + (position - low) * (output[low + 1] - output[low]);
}

/** A mark with its figure beside it. */
function Stamp({ x, y, text }: { x: number; y: number; text: string }) {
  const plot = usePlot();
  if (!plot) return null;
  return (
    <g className="marks" aria-hidden="true">
      <path d={`M${tenth(plot.x(x))} ${plot.area.y}v${plot.area.height}`} className={styles.cursorLine} />
      <circle cx={plot.x(x)} cy={plot.y(y)} r={3} />
      <text x={plot.x(x) + 7} y={plot.y(y) + 4}>
        {text}
      </text>
    </g>
  );
}

function Through({ views: { through, at }, width, height }: { views: FourViews; width: number; height: number }) {
  const x = timeAxis(through.timeS[through.timeS.length - 1], 5);
  const y = useMemo(
    () => voltAxis([through.drive, through.output, ...(through.ghost ? [through.ghost] : [])], HEADROOM),
    [through],
  );
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={y}
      title={`V, in and out: ${formatSigned(at.levelDb, 'decibel', 1)}`}
      xUnit={x.unit}
    >
      <Trace x={through.timeS} y={through.drive} className="drive" />
      {through.ghost && <Trace x={through.timeS} y={through.ghost} className="ghost" testId="trace-wave-ghost" />}
      <Trace x={through.timeS} y={through.output} className="asBuilt" testId="trace-wave" />
    </ChartFrame>
  );
}

const Harmonics = ({ views, width, height }: { views: FourViews; width: number; height: number }) => (
  <HarmonicBars harmonics={views.harmonics} width={width} height={height} />
);

function Level({ width, height }: { width: number; height: number }) {
  const desk = useLiveAnswer(DESK) as DeskResult;
  const dragging = useView((s) => s.dragging);
  const axis = useHeld(levelAxis(desk), dragging);
  const [from, to] = [desk.freqHz[0], desk.freqHz[desk.freqHz.length - 1]];
  const x = useMemo(() => decadesOnly(frequencyAxis(from, to)), [from, to]);
  return (
    <ChartFrame width={width} height={height} x={x} y={axis} title="level, dB re 1 V" xUnit="Hz">
      {LEVEL_LAYERS}
    </ChartFrame>
  );
}

/** Small charts have room for the decades and the ends. */
function decadesOnly(axis: Axis): Axis {
  const decade = (v: number) => Math.abs(Math.log10(v) - Math.round(Math.log10(v))) < 1e-9;
  const kept = axis.labelled.filter(
    (v) => v === axis.from || v === axis.to || (decade(v) && v < axis.to / 3 && v > axis.from * 3),
  );
  return { ...axis, labelled: kept, minor: [...(axis.minor ?? []), ...axis.labelled.filter((v) => !kept.includes(v))] };
}

const LEVEL_LAYERS = (
  <>
    <LevelTraces />
    <HalfMarks />
    <CutoffHandles />
    <WaveHandle />
  </>
);

const LETTER_PX = 6.7;
const LABEL_PX = 14;

/** Half power and half voltage, each by its name. */
function HalfMarks() {
  const half = useLiveAnswer(FOUR_VIEWS, (f) => f.half);
  const desk = useLiveAnswer(DESK);
  const waveHz = useWaveHz();
  const plot = usePlot();
  if (!plot || !half || !desk) return null;
  const { freqHz: grid, asBuilt } = desk;
  const top = asBuilt.levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const handleX = plot.x(waveHz);
  const inked = (px: number): number[] => {
    const f = grid[0] * (grid[grid.length - 1] / grid[0]) ** ((px - plot.area.x) / plot.area.width);
    const y = plot.y(levelAt(grid, asBuilt.levelDb, f));
    // The wave’s handle takes as much room as a label is high.
    return Math.abs(px - handleX) < LABEL_PX ? [y - 8, y, y + 8] : [y];
  };
  const words = (of: 'power' | 'voltage') => `½ ${of}`;
  const places = placeLabels(
    half.map(({ of, freqHz, falling }) => ({
      key: `${of} ${freqHz}`,
      x: plot.x(freqHz),
      y: plot.y(top - (of === 'power' ? 3.01 : 6.02)),
      width: words(of).length * LETTER_PX,
      height: LABEL_PX,
      side: (of === 'power') === falling ? 'right' : 'left',
    })),
    plot.area,
    inked,
  );
  return (
    <g className="marks" aria-hidden="true">
      {half.map(({ of, freqHz }, i) => (
        <g key={`${of} ${freqHz}`}>
          <circle cx={plot.x(freqHz)} cy={plot.y(top - (of === 'power' ? 3.01 : 6.02))} r={3} />
          {places[i].free && (
            <text x={places[i].x} y={places[i].y + 4}>
              {words(of)}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
