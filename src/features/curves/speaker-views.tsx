'use client';

import { tenth } from '@/ui/chart/tenth';
import { useMemo } from 'react';
import type { Acoustics } from '@/core/jobs/loudspeaker/acoustics-types';
import { formatQuantity } from '@/core/units/quantity';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';
import { linearTicks } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { HUMP } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useView, type CurveView } from '@/store/view';
import { frequencyAxis } from './axes';
import { CrossingHandles } from './crossing-handles';
import { CursorLayer } from './cursor';
import { HumpHandle } from './hump-handle';
import { useHeld } from './use-held';
import styles from './curves.module.css';

const HEARD: ReadonlySet<CurveView> = new Set(['ways', 'load', 'angles', 'decay']);
export const isHeard = (view: CurveView): boolean => HEARD.has(view);

export interface Size {
  readonly width: number;
  readonly height: number;
}
const LOWER_SHARE = 0.3;
/** dB shown below the top. */
const SPAN_DB = 40;

/** Tops out over the highest level in steps of five; what is 40 dB under it is not heard. */
export function soundAxis(levels: readonly ArrayLike<number>[]): Axis {
  let high = -Infinity;
  for (const level of levels)
    for (let i = 0; i < level.length; i++) if (Number.isFinite(level[i])) high = Math.max(high, level[i]);
  const to = 5 * Math.ceil(((Number.isFinite(high) ? high : 90) + 2) / 5);
  return { from: to - SPAN_DB, to, labelled: linearTicks(to - SPAN_DB, to, 8), format: (v) => `${v}` };
}

export function useFrequencyAxis(acoustics: Acoustics | null) {
  const [from, to] = acoustics ? [acoustics.freqHz[0], acoustics.freqHz[acoustics.freqHz.length - 1]] : [20, 20e3];
  return useMemo(() => frequencyAxis(from, to), [from, to]);
}

/** Ohms from nothing up to what holds most of the curve: a resonance may stand out of it. */
function loadAxis(ohm: Float64Array | undefined): Axis {
  const sorted = ohm ? [...ohm].sort((a, b) => a - b) : [8];
  const most = Math.max(12, 1.15 * sorted[Math.floor(0.97 * (sorted.length - 1))]);
  const to = 4 * Math.ceil(most / 4);
  return { from: 0, to, labelled: linearTicks(0, to, 4), format: (v) => `${v}` };
}

/** What each driver gives and what they sum to, over what the amplifier sees. */
export function WaysView({ width, height }: Size) {
  const acoustics = useLiveAnswer(ACOUSTICS);
  const dragging = useView((s) => s.dragging);
  const x = useFrequencyAxis(acoustics);
  const level = useHeld(soundAxis(acoustics ? [acoustics.sumDb, acoustics.targetDb] : []), dragging);
  const load = useHeld(loadAxis(acoustics?.load?.ohm), dragging);
  if (!acoustics) return null;
  const lower = acoustics.load ? Math.round(height * LOWER_SHARE) : 0;
  return (
    <>
      <ChartFrame
        width={width}
        height={height - lower}
        x={x}
        y={level}
        title="level at 1 m for 2.83 V, dB"
        bareX={lower > 0}
        xUnit="Hz"
      >
        {WAY_LAYERS}
      </ChartFrame>
      {lower > 0 && (
        <ChartFrame width={width} height={lower} x={x} y={load} title="amplifier load, ohm" xUnit="Hz">
          {LOAD_LAYERS}
        </ChartFrame>
      )}
    </>
  );
}

function WayTraces() {
  const acoustics = useLiveAnswer(ACOUSTICS);
  const shown = useView((s) => s.shown);
  const flipped = useView((s) => s.flipped && s.ghostVariant !== null);
  if (!acoustics) return null;
  const { freqHz, ways, ghost } = acoustics;
  const [front, back] = flipped && ghost ? [ghost.sumDb, acoustics.sumDb] : [acoustics.sumDb, ghost?.sumDb];
  return (
    <g data-testid="way-traces">
      {shown.bareDrivers &&
        ways.map(
          (w, i) => w.bareDb && <Trace key={`bare ${w.wayId}`} x={freqHz} y={w.bareDb} className={`family way-${i}`} />,
        )}
      {shown.target && <Trace x={freqHz} y={acoustics.targetDb} className="sound-target" testId="trace-target" />}
      {shown.target &&
        ways.map((w) => (
          <Trace key={`target ${w.wayId}`} x={freqHz} y={w.targetDb} className={`sound-target ${styles.faint}`} />
        ))}
      {shown.ghost && back && <Trace x={freqHz} y={back} className="ghost" testId="trace-ghost" />}
      {shown.reversed && <Trace x={freqHz} y={acoustics.reversedDb} className="reversed" testId="trace-reversed" />}
      {ways.map((w, i) => (
        <Trace key={w.wayId} x={freqHz} y={w.levelDb} className={`way way-${i}`} testId={`trace-way-${i}`} />
      ))}
      {shown.asBuilt && <Trace x={freqHz} y={front} className="sound-sum" testId="trace-sum" />}
    </g>
  );
}

/** The offers for a hump, while they are looked at. */
function NotchTraces() {
  const notch = useLongJob(HUMP).result?.value;
  const onValues = useView((s) => s.task === 'values');
  if (!notch || !onValues) return null;
  return notch.offers.map((o, i) => (
    <Trace
      key={`${o.form} ${o.widthOct}`}
      x={notch.freqHz}
      y={o.wayDb}
      className={i % 2 === 0 ? 'ghost' : 'measured'}
    />
  ));
}

/** The range that counts, between two faint lines. */
function RangeMarks() {
  const flat = useLiveAnswer(ACOUSTICS, (a) => a.flat);
  const plot = usePlot();
  if (!flat || !plot) return null;
  const { area } = plot;
  return (
    <g aria-hidden="true">
      {[flat.fromHz, flat.toHz].map((f) => (
        <path key={f} d={`M${tenth(plot.x(f))} ${area.y}v${area.height}`} className={styles.rangeLine} />
      ))}
    </g>
  );
}

const WAY_LAYERS = (
  <>
    <RangeMarks />
    <WayTraces />
    <NotchTraces />
    <CursorLayer />
    <CrossingHandles />
    <HumpHandle />
  </>
);

function LoadTraces() {
  const acoustics = useLiveAnswer(ACOUSTICS);
  const shownGhost = useView((s) => s.shown.ghost);
  const lowest = useDesign((d) => currentVariantOf(d).listening?.lowestOhm ?? 3.5);
  if (!acoustics?.load) return null;
  const { freqHz, load, ghost } = acoustics;
  return (
    <>
      <Trace x={[freqHz[0], freqHz[freqHz.length - 1]]} y={[lowest, lowest]} className="sound-target" />
      {shownGhost && ghost?.ohm && <Trace x={freqHz} y={ghost.ohm} className="ghost" />}
      <Trace x={freqHz} y={load.ohm} className="asBuilt" testId="trace-load" />
      <LowestMark hz={load.lowestHz} ohm={load.lowestOhm} low={load.lowestOhm < lowest} />
    </>
  );
}

function LowestMark({ hz, ohm, low }: { hz: number; ohm: number; low: boolean }) {
  const plot = usePlot();
  if (!plot) return null;
  const [x, y] = [plot.x(hz), plot.y(ohm)];
  const left = x > plot.area.x + plot.area.width - 70;
  return (
    <g className={`marks${low ? ` ${styles.trouble}` : ''}`} aria-hidden="true">
      <circle cx={x} cy={y} r={3} />
      <text x={left ? x - 8 : x + 8} y={y - 7} textAnchor={left ? 'end' : 'start'}>
        {formatQuantity(ohm, 'resistance', { digits: 3 })}
      </text>
    </g>
  );
}
const LOAD_LAYERS = (
  <>
    <LoadTraces />
    <CursorLayer />
  </>
);

/** What the amplifier sees in full: size and what heats it, over phase. */
export function LoadView({ width, height }: Size) {
  const acoustics = useLiveAnswer(ACOUSTICS);
  const dragging = useView((s) => s.dragging);
  const x = useFrequencyAxis(acoustics);
  const ohm = useHeld(loadAxis(acoustics?.load?.ohm), dragging);
  if (!acoustics?.load)
    return (
      <p className={`quiet ${styles.plotSays}`}>
        Every way has an amplifier of its own here: each sees its own driver, and nothing else.
      </p>
    );
  const lower = Math.round(height * LOWER_SHARE);
  const { freqHz, load } = acoustics;
  return (
    <>
      <ChartFrame
        width={width}
        height={height - lower}
        x={x}
        y={ohm}
        title="amplifier load, Ω; dashed: equivalent dissipation resistance"
        bareX
      >
        <Trace x={freqHz} y={load.dissipationOhm} className="straight" testId="trace-dissipation" />
        {LOAD_LAYERS}
      </ChartFrame>
      <ChartFrame width={width} height={lower} x={x} y={PHASE} title="phase" xUnit="Hz">
        <Trace x={freqHz} y={load.phaseDeg} className="phase asBuilt" />
        <CursorLayer />
      </ChartFrame>
    </>
  );
}
const PHASE: Axis = { from: -90, to: 90, labelled: [-90, -45, 0, 45, 90], format: (v) => `${v}°`.replace('-', '−') };
