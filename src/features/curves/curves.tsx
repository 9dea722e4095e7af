'use client';

import dynamic from 'next/dynamic';
import type { KeyboardEvent } from 'react';
import { levelAt } from '@/core/analysis/curves/marks';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { useSize } from '@/ui/use-size';
import { failureWords } from '@/ui/words/failures';
import { DESK, TIME } from '@/store/questions/live';
import { useLiveAnswer, useAnswer, useFailure } from '@/store/questions/question';
import { useDesign } from '@/store/document';
import { panRange, showRange, zoomRange } from '@/store/curves/frequency-range';
import { setView, useView, viewsOf, type CurveView } from '@/store/view';
import { SpeakerLegend } from './speaker-legend';
import { SpeakerReadout } from './speaker-readout';
import { AnglesView } from './angles-view';
import { DecayView } from './decay-view';
import { isHeard, LoadView, WaysView } from './speaker-views';
import { FourViewsView } from './four-views';
import { CurveFailures } from './curve-failures';
import { FrequencyView } from './frequency-view';
import { ImpedanceView } from './impedance-view';
import { Legend } from './legend';
import { markName } from './mark-words';
import { DifferenceBar } from './difference-bar';
import { RangeField } from './range-field';
import { Readout } from './readout';
import { TimeView } from './time-view';
import { WaveBar } from './wave-bar';
import styles from './curves.module.css';

const NAMES: Record<CurveView, string> = {
  response: 'Response',
  delay: 'Group delay',
  step: 'Step',
  wave: 'Wave',
  four: 'Four views',
  impedance: 'Impedance',
  difference: 'Difference',
  sheet: 'Schematic',
  ways: 'Ways and sum',
  load: 'Load',
  angles: 'Off axis',
  decay: 'Decay',
};

/** Views in which traces can be switched on and off. */
const LEGEND_VIEWS: ReadonlySet<CurveView> = new Set(['response', 'delay', 'step', 'wave']);

/** Views over the range of frequencies. */
const RANGE_VIEWS: ReadonlySet<CurveView> = new Set([
  'response',
  'delay',
  'impedance',
  'difference',
  'ways',
  'load',
  'angles',
]);

const DESK_ALONE = [DESK];

const SheetView = dynamic(() => import('./sheet/sheet-view').then((m) => m.SheetView), { ssr: false });

/** The left of the desk: one view of the curves, its legend and its figures. */
export function Curves() {
  const view = useView((s) => s.curveView);
  const failure = useFailure(DESK_ALONE);
  const views = useDesign((d) => viewsOf(d.family));
  const heard = isHeard(view);
  return (
    <section className="curves" aria-label="Curves">
      <div className={styles.curvesTop}>
        <div role="tablist" aria-label="View" className="tabs">
          {views.map((name, i) => (
            <button
              key={name}
              role="tab"
              type="button"
              aria-selected={view === name}
              tabIndex={view === name ? 0 : -1}
              onClick={() => setView({ curveView: name, cursor: null })}
              onKeyDown={(event) => stepTabs(event, views, i)}
            >
              {NAMES[name]}
            </button>
          ))}
        </div>
        {(view === 'wave' || view === 'step' || view === 'four') && <WaveBar view={view} />}
        {view === 'difference' && <DifferenceBar />}
        {RANGE_VIEWS.has(view) && <RangeField />}
        {LEGEND_VIEWS.has(view) && <Legend />}
        {heard && <SpeakerLegend view={view} />}
      </div>
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      <CurveFailures />
      {view === 'sheet' ? (
        <SheetView />
      ) : (
        <>
          <Plot />
          {heard ? <SpeakerReadout /> : <Readout />}
        </>
      )}
    </section>
  );
}

function stepTabs(event: KeyboardEvent<HTMLButtonElement>, views: readonly CurveView[], at: number): void {
  const move = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
  if (move === 0) return;
  const next = views[(at + move + views.length) % views.length];
  setView({ curveView: next, cursor: null });
  (event.currentTarget.parentElement?.children[views.indexOf(next)] as HTMLElement | undefined)?.focus();
}

function View({ view, width, height }: { view: CurveView; width: number; height: number }) {
  switch (view) {
    case 'step':
    case 'wave':
      return <TimeView width={width} height={height} />;
    case 'four':
      return <FourViewsView width={width} height={height} />;
    case 'ways':
      return <WaysView width={width} height={height} />;
    case 'load':
      return <LoadView width={width} height={height} />;
    case 'angles':
      return <AnglesView width={width} height={height} />;
    case 'decay':
      return <DecayView width={width} height={height} />;
    case 'impedance':
      return <ImpedanceView width={width} height={height} />;
    default:
      return <FrequencyView width={width} height={height} />;
  }
}

/** What keys on the plot do to the range of frequencies. */
const ZOOM = 0.8;
const PAN = 0.1;
const RANGE_KEYS: Readonly<Record<string, () => void>> = {
  '+': () => zoomRange(ZOOM),
  '=': () => zoomRange(ZOOM),
  '-': () => zoomRange(1 / ZOOM),
  ',': () => panRange(-PAN),
  '.': () => panRange(PAN),
  '0': () => showRange(null),
};

/** What the cursor may go over: seconds, Hz, or null while nothing is drawn. */
function useSpan(isTime: boolean): readonly [number, number] | null {
  // Read, not watched: the layers inside draw every result themselves.
  const desk = useAnswer(DESK);
  const time = useLiveAnswer(TIME);
  if (isTime) return time ? [0, time.timeS[time.timeS.length - 1]] : null;
  return desk ? [desk.freqHz[0], desk.freqHz[desk.freqHz.length - 1]] : null;
}

const STEPS: Readonly<Record<string, 1 | -1>> = { ArrowRight: 1, ArrowLeft: -1 };

/** The next mark on one side of the cursor, Hz. */
function nextMark(cursor: number | null, [low, high]: readonly [number, number], up: boolean): number | undefined {
  const marks = (DESK.current().value?.marks ?? []).map((m) => m.freqHz).sort((a, b) => a - b);
  return up
    ? marks.find((f) => f > (cursor ?? low) * 1.0001)
    : marks.reverse().find((f) => f < (cursor ?? high) * 0.9999);
}

/** Where a key takes the cursor; undefined where it is none of the cursor's. */
function cursorAfter(
  { key, shiftKey }: KeyboardEvent,
  cursor: number | null,
  span: readonly [number, number],
  isTime: boolean,
): number | null | undefined {
  const [low, high] = span;
  const clamp = (v: number) => Math.min(high, Math.max(low, v));
  const steps = (STEPS[key] ?? 0) * (shiftKey ? 10 : 1);
  if (steps !== 0)
    return isTime
      ? clamp((cursor ?? high / 2) + (steps * (high - low)) / 500)
      : clamp((cursor ?? Math.sqrt(low * high)) * 10 ** (steps / 100));
  if ((key === 'PageUp' || key === 'PageDown') && !isTime) return nextMark(cursor, span, key === 'PageUp') ?? cursor;
  if (key === 'Home') return low;
  if (key === 'End') return high;
  return key === 'Escape' ? null : undefined;
}

function cursorWords(cursor: number | null, isTime: boolean, desk: DeskResult | null): string {
  if (cursor === null || !desk) return 'cursor put away';
  if (isTime) return formatQuantity(cursor, 'time');
  const near = desk.marks.find((m) => Math.abs(m.freqHz / cursor - 1) < 1e-3);
  return (
    `${formatQuantity(cursor, 'frequency')}, as built ` +
    `${formatSigned(levelAt(desk.freqHz, desk.asBuilt.levelDb, cursor), 'decibel')}` +
    (near ? `, mark: ${markName(near)}` : '')
  );
}

function Plot() {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const view = useView((s) => s.curveView);
  const desk = useAnswer(DESK);
  const cursor = useView((s) => s.cursor);
  const isTime = view === 'step' || view === 'wave';
  const span = useSpan(isTime);
  function onKeyDown(event: KeyboardEvent<HTMLDivElement>): void {
    if (!span) return;
    const to = cursorAfter(event, cursor, span, isTime);
    if (to !== undefined) {
      if (event.key !== 'Escape') event.preventDefault();
      setView({ cursor: to });
    } else if (RANGE_VIEWS.has(view) && event.key in RANGE_KEYS) {
      event.preventDefault();
      RANGE_KEYS[event.key]();
    }
  }
  return (
    <div className="plot">
      <div ref={ref} className={styles.plotInner} data-view-in-front>
        {desk && <View view={view} width={width} height={height} />}
      </div>
      {/* Beside the charts, not around them: a slider may hold no other controls, and the charts hold handles. */}
      <div
        id="plot"
        className={styles.plotFocus}
        role="slider"
        tabIndex={0}
        aria-label={
          'Curve cursor. Arrow keys move it, Page Up and Page Down jump to marks, plus and minus zoom, ' +
          'comma and full stop pan.'
        }
        aria-valuemin={span?.[0] ?? 0}
        aria-valuemax={span?.[1] ?? 0}
        aria-valuenow={cursor ?? span?.[0] ?? 0}
        aria-valuetext={cursorWords(cursor, isTime, desk)}
        onKeyDown={onKeyDown}
      />
    </div>
  );
}
