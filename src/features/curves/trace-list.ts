import { compareWithPrediction } from '@/core/measure/compare';
import type { Design } from '@/core/design/schema';
import type { DeskResult } from '@/core/jobs/desk-types';
import type { SpreadResult } from '@/core/jobs/spread';
import { currentVariantOf } from '@/store/edits';
import type { TraceName } from '@/store/view';

/** A curve that the desk is showing: what it is called, and its figures over its own frequencies. */
export interface ShownTrace {
  readonly key: string;
  readonly name: string;
  readonly kind: Exclude<TraceName, 'spread' | 'brief'>;
  readonly freqHz: ArrayLike<number>;
  readonly levelDb: ArrayLike<number>;
  readonly phaseDeg: ArrayLike<number> | null;
  readonly delayS: ArrayLike<number> | null;
}

export interface TraceSources {
  readonly design: Design;
  readonly desk: DeskResult;
  readonly shown: Readonly<Record<TraceName, boolean>>;
  readonly ghostVariant: string | null;
  readonly flipped: boolean;
}

/** Every visible frequency curve, lowest first: the order they are painted in. Flipped, the ghost and the built change places. */
export function shownTraces({ design, desk, shown, ghostVariant, flipped }: TraceSources): ShownTrace[] {
  const { freqHz } = desk;
  const own = currentVariantOf(design);
  const other = design.variants.find((v) => v.id === ghostVariant);
  const traces: ShownTrace[] = [];
  const built = { freqHz, ...desk.asBuilt };
  const ghost = desk.ghost && other ? { freqHz, ...desk.ghost } : null;
  const front = flipped && ghost ? { name: `${other?.name} as built`, ...ghost } : { name: `${own.name} as built`, ...built };
  const back = ghost ? (flipped ? { name: `${own.name} ghost`, ...built } : { name: `${other?.name} ghost`, ...ghost }) : null;
  if (shown.ideal) traces.push({ key: 'ideal', name: 'ideal', kind: 'ideal', freqHz, ...desk.ideal });
  if (shown.ghost && back) traces.push({ key: 'ghost', kind: 'ghost', ...back });
  if (shown.measured)
    for (const measured of design.measurements) {
      const { offsetDb } = compareWithPrediction(measured, { freqHz, levelDb: desk.asBuilt.levelDb }, { aligned: measured.aligned });
      traces.push({ key: measured.id, name: measured.name, kind: 'measured', freqHz: measured.freqHz, levelDb: measured.levelDb.map((v) => v + offsetDb), phaseDeg: measured.phaseDeg, delayS: null });
    }
  if (shown.asBuilt) traces.push({ key: 'asBuilt', kind: 'asBuilt', ...front });
  return traces;
}

/** The spread as far as it still belongs to the design on the desk. */
export function freshSpread(spread: { result: SpreadResult; forDesign: Design } | null, design: Design): { result: SpreadResult; stale: boolean } | null {
  if (!spread || spread.forDesign.id !== design.id) return null;
  const same = spread.forDesign.variants === design.variants && spread.forDesign.preferences === design.preferences && spread.forDesign.brief === design.brief && spread.forDesign.currentVariant === design.currentVariant;
  return { result: spread.result, stale: !same };
}
