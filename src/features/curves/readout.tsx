'use client';

import { levelAt } from '@/core/analysis/curves/marks';
import type { ComponentType } from 'react';
import type { DeskMark, DeskResult, Stability } from '@/core/jobs/desk/desk-types';
import type { StepOutcome, TimeResult } from '@/core/jobs/desk/time';
import { decibels, formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { DESK, TIME } from '@/store/questions/live';
import { useLiveAnswer, useAnswer } from '@/store/questions/question';
import { useComparison } from '@/store/curves/comparison';
import { useView, type CurveView } from '@/store/view';
import { depthWords } from './mark-words';
import { PartsAtWork, PartSizes } from './parts-at-work';
import type { ShownTrace } from '@/store/curves/shown-traces';
import { useShownTraces } from '@/store/curves/use-shown';
import styles from './curves.module.css';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 4 });

type MarkOf<K extends DeskMark['kind']> = Extract<DeskMark, { kind: K }>;
const marksOf = <K extends DeskMark['kind']>(desk: DeskResult, kind: K): MarkOf<K>[] =>
  desk.marks.filter((m): m is MarkOf<K> => m.kind === kind);

/** What is read at the cursor of each view that is not over frequency. */
const CURSORS: Readonly<Partial<Record<CurveView, ComponentType>>> = {
  step: TimeCursor,
  wave: TimeCursor,
  four: PartsAtWork,
  impedance: PartSizes,
  difference: DifferenceCursor,
};

/** What the curves say in figures: corners, slope, peak, and every visible trace at the cursor. */
export function Readout() {
  const desk = useAnswer(DESK);
  const view = useView((s) => s.curveView);
  if (!desk) return <div className={styles.readout} />;
  if (!desk.stability.stable) return <Unsteady {...desk.stability} />;
  const slopes = marksOf(desk, 'slope');
  const Cursor = CURSORS[view] ?? FrequencyCursor;
  return (
    <div className={styles.readout}>
      <Cutoffs desk={desk} />
      <div className={styles.readoutFigure}>
        <span className="quiet">slope</span>
        <b className="figures">
          {slopes.length === 0 ? '–' : slopes.map((m) => formatSigned(m.slopeDbPerOctave, 'ratio', 1)).join(' / ')}{' '}
          dB/oct
        </b>
      </div>
      <PeakOrMiss desk={desk} />
      <Cursor />
    </div>
  );
}

function Unsteady({ singsHz, undamped }: Stability) {
  return (
    <div className={styles.readout}>
      <div className={styles.readoutFigure}>
        <span className="quiet">as built</span>
        <b className="figures bad" data-testid="readout-sings">
          {singsHz ? `${undamped ? 'undamped' : 'oscillates'} at ${hz(singsHz)}` : 'runs to a rail'}
        </b>
      </div>
      <p className="quiet">
        {undamped
          ? 'No cutoff, Q or noise: without resistance a resonance never decays.'
          : 'No cutoff, margin or step: a circuit that oscillates has no small-signal response.'}
      </p>
    </div>
  );
}

function Cutoffs({ desk }: { desk: DeskResult }) {
  const cutoffs = marksOf(desk, 'cutoff');
  const depths = [...new Set(cutoffs.map((m) => depthWords(m.depthDb)))].join(' / ') || '−3 dB';
  const bandQ = desk.passLevelOf === 'peak' ? cutoffs[0]?.q : undefined;
  return (
    <div className={styles.readoutFigure}>
      <span className="quiet" data-testid="readout-reference">
        {depths} {desk.passLevelOf === 'peak' ? 'under the peak' : 'under the pass band'},{' '}
        {formatSigned(desk.passLevelDb, 'decibel')}
      </span>
      <b className="figures" data-testid="readout-cutoff">
        {cutoffs.length === 0 ? 'none' : cutoffs.map((m) => hz(m.freqHz)).join(' … ')}
      </b>
      {bandQ !== undefined && (
        <span className="quiet">Q {formatQuantity(bandQ, 'ratio', { digits: 4 })}, centre over width</span>
      )}
    </div>
  );
}

/** The peak with its own edges, or, where nothing stands out, the worst miss. */
function PeakOrMiss({ desk }: { desk: DeskResult }) {
  const [peak] = marksOf(desk, 'peak');
  const edges = marksOf(desk, 'band-edge');
  return (
    <div className={styles.readoutFigure}>
      <span className="quiet">
        {peak ? (desk.passLevelOf === 'peak' ? 'peak' : 'peak over the pass band') : 'worst pass-band error'}
      </span>
      <b className="figures" data-testid="readout-peak">
        {peak
          ? `${formatSigned(peak.levelDb - (desk.passLevelOf === 'peak' ? 0 : peak.referenceDb), 'decibel')} ` +
            `at ${hz(peak.freqHz)}`
          : desk.worstErrorDb === null
            ? '–'
            : formatSigned(desk.worstErrorDb, 'decibel')}
      </b>
      {edges.length > 0 && (
        <span className="quiet" data-testid="readout-edges">
          its own −3 dB {edges.map((m) => hz(m.freqHz)).join(' … ')}
          {peak?.q !== undefined && `, Q ${formatQuantity(peak.q, 'ratio', { digits: 3 })}`}
        </span>
      )}
    </div>
  );
}

function FrequencyCursor() {
  const cursor = useView((s) => s.cursor);
  const view = useView((s) => s.curveView);
  const traces = useShownTraces();
  return (
    <div className={styles.readoutCursor} data-testid="readout-cursor">
      <span className="quiet">at cursor {cursor === null ? '' : <b className="figures">{hz(cursor)}</b>}</span>
      {cursor === null ? (
        <span className="quiet">Point at the curve, or press C.</span>
      ) : (
        <div className={styles.readoutTraces}>
          {[...traces].reverse().map((t) => (
            <TraceFigure
              key={t.key}
              trace={t}
              text={view === 'delay' ? delayText(t.delayS, t.freqHz, cursor) : levelText(t, cursor)}
            />
          ))}
        </div>
      )}
    </div>
  );
}

/** A curve's figure under the cursor. A kept one's name may be long: its figure stands first, so that it is not cut. */
const TraceFigure = ({ trace: { kind, name }, text }: { trace: ShownTrace; text: string }) => (
  <span className={`figures ink-${kind}`} title={kind === 'kept' ? name : undefined}>
    {kind === 'kept' ? `${text} ${name}` : `${name} ${text}`}
  </span>
);

function DifferenceCursor() {
  const cursor = useView((s) => s.cursor);
  const comparison = useComparison();
  return (
    <div className={styles.readoutCursor} data-testid="readout-cursor">
      <span className="quiet">at cursor {cursor === null ? '' : <b className="figures">{hz(cursor)}</b>}</span>
      {!comparison ? (
        <span className="quiet">Nothing to compare with yet.</span>
      ) : cursor === null ? (
        <span className="quiet">Point at the curve, or press C.</span>
      ) : (
        <span className="figures ink-asBuilt">
          {formatSigned(levelAt(comparison.freqHz, comparison.differenceDb, cursor), 'decibel')}
        </span>
      )}
    </div>
  );
}

function delayText(delayS: ArrayLike<number> | null, freqHz: ArrayLike<number>, at: number): string {
  return delayS ? formatQuantity(levelAt(freqHz, delayS, at), 'time', { digits: 4 }) : '–';
}

function levelText(
  {
    freqHz,
    levelDb,
    phaseDeg,
  }: { freqHz: ArrayLike<number>; levelDb: ArrayLike<number>; phaseDeg: ArrayLike<number> | null },
  at: number,
): string {
  const level = levelAt(freqHz, levelDb, at);
  if (!Number.isFinite(level)) return 'outside';
  const phase = phaseDeg ? ` ${formatFixed(levelAt(freqHz, phaseDeg, at), 0)}°` : '';
  return `${formatSigned(level, 'decibel')}${phase}`;
}

function TimeCursor() {
  const cursor = useView((s) => s.cursor);
  const bare = useView((s) => s.shown.bare);
  const time = useLiveAnswer(TIME);
  const settling = time?.settling;
  const at = (trace: Float64Array | null | undefined): string => {
    if (!trace || !time || cursor === null) return '–';
    const i = Math.round((cursor / time.timeS[time.timeS.length - 1]) * (trace.length - 1));
    return trace[i] === undefined ? '–' : formatQuantity(trace[i], 'voltage');
  };
  return (
    <div className={styles.readoutCursor} data-testid="readout-cursor">
      <span className="quiet">
        {settling && <StepWords outcome={settling} />}
        {!settling && time?.harmonics && harmonicWords(time.harmonics)}
        {cursor === null ? '' : settling || time?.harmonics ? '; at cursor ' : 'at cursor '}
        {cursor !== null && <b className="figures">{formatQuantity(cursor, 'time', { digits: 4 })}</b>}
      </span>
      <div className={styles.readoutTraces}>
        <span className="figures ink-drive">source {at(time?.drive)}</span>
        <span className="figures ink-asBuilt">as built {at(time?.asBuilt)}</span>
        <span className="figures ink-ideal">ideal {at(time?.ideal)}</span>
        {time?.ghost && <span className="figures ink-ghost">ghost {at(time.ghost)}</span>}
        {bare && time?.bare && <span className="figures ink-bare">without C {at(time.bare)}</span>}
      </div>
    </div>
  );
}

function StepWords({ outcome }: { outcome: StepOutcome }) {
  if (outcome.figures === 'none') return NO_STEP[outcome.why];
  const { end, peak } = outcome;
  const s = (value: number) => <b className="figures">{formatQuantity(value, 'time', { digits: 3 })}</b>;
  if (!end)
    return (
      <>
        returns to its start: no overshoot or settling; peak{' '}
        <b className="figures">{formatQuantity(peak.volts, 'voltage', { digits: 3 })}</b> at {s(peak.timeS)}
      </>
    );
  return (
    <>
      overshoot <b className="figures">{formatFixed(end.overshootPct, 1)}&#8239;%</b>, within 2 % after{' '}
      {s(end.settle2PctS)}, rise {s(end.riseS)}
    </>
  );
}
const NO_STEP: Readonly<Record<Extract<StepOutcome, { figures: 'none' }>['why'], string>> = {
  oscillates: 'no overshoot or settling: it oscillates',
  undamped: 'no overshoot or settling: undamped, it rings for ever',
  'never-settles': 'no overshoot or settling: its ringing is too long to be followed to the end',
};

/** What the first harmonics that a wave has lose: the fundamental, the 3rd, the 5th of a square. */
function harmonicWords({ before, after }: NonNullable<TimeResult['harmonics']>): string {
  const most = Math.max(...before);
  return Array.from(before, (v, k) => ({ v, k }))
    .filter(({ v }) => v > 1e-6 * most)
    .slice(0, HARMONICS_SAID)
    .map(
      ({ v, k }) => `${k === 0 ? 'fundamental' : ordinal(k + 1)} ${formatSigned(decibels(after[k] / v), 'decibel', 1)}`,
    )
    .join(', ');
}
const HARMONICS_SAID = 3;
const ordinal = (n: number): string => `${n}${n === 2 ? 'nd' : n === 3 ? 'rd' : 'th'}`;
