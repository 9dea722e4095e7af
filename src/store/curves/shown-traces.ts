import { levelAt } from '@/core/analysis/curves/marks';
import { compareWithPrediction } from '@/core/measure/compare';
import { thinned } from '@/core/measure/thinned';
import type { Measurement } from '@/core/design/document/schema';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import type { KeptCurve } from './kept-curves';
import type { TraceName } from '../view';
import { turnsBetween } from '@/core/jobs/reading/phase-turn';

/** A curve that the desk is showing: what it is called, and its figures over its own frequencies. */
export interface ShownTrace {
  readonly key: string;
  readonly name: string;
  readonly kind: Exclude<TraceName, 'spread' | 'brief' | 'family' | 'bank'> | 'kept';
  /** How it is drawn, where its kind alone does not say. */
  readonly look?: string;
  readonly freqHz: ArrayLike<number>;
  readonly levelDb: ArrayLike<number>;
  readonly phaseDeg: ArrayLike<number> | null;
  readonly delayS: ArrayLike<number> | null;
}

/** What there is to draw. */
export interface CurveSources {
  readonly desk: DeskResult;
  readonly measurements: readonly Measurement[];
  /** Responses that were kept, of whichever design. */
  readonly kept?: readonly KeptCurve[];
  /** What the variant on the desk and the one laid under it are called. */
  readonly ownName: string;
  readonly ghostName: string | undefined;
}

interface TraceSources extends CurveSources {
  readonly shown: Readonly<Record<TraceName, boolean>>;
  readonly flipped: boolean;
}

/**
 * Every visible frequency curve, lowest first: the order they are painted in. Flipped, the ghost and the built change
 * places.
 */
export function shownTraces({
  desk,
  measurements,
  kept = [],
  ownName,
  ghostName,
  shown,
  flipped,
}: TraceSources): ShownTrace[] {
  const { freqHz } = desk;
  const traces: ShownTrace[] = [];
  const built = { freqHz, ...desk.asBuilt };
  const ghost = desk.ghost && ghostName !== undefined ? { freqHz, ...desk.ghost } : null;
  const front =
    flipped && ghost ? { name: `${ghostName} as built`, ...ghost } : { name: `${ownName} as built`, ...built };
  const back = ghost
    ? flipped
      ? { name: `${ownName} ghost`, ...built }
      : { name: `${ghostName} ghost`, ...ghost }
    : null;
  kept.forEach((curve, i) => {
    if (!curve.hidden) traces.push({ ...curve, key: curve.id, kind: 'kept', look: keptLook(i) });
  });
  if (shown.ideal) traces.push({ key: 'ideal', name: 'ideal', kind: 'ideal', freqHz, ...desk.ideal });
  if (shown.straight && desk.straightDb)
    traces.push({
      key: 'straight',
      name: 'straight lines',
      kind: 'straight',
      freqHz,
      levelDb: desk.straightDb,
      phaseDeg: null,
      delayS: null,
    });
  if (shown.isolated && desk.isolated)
    traces.push({ key: 'isolated', name: 'isolated', kind: 'isolated', freqHz, ...desk.isolated });
  if (shown.taps) desk.taps.forEach((tap) => traces.push({ key: tap.name, kind: 'taps', freqHz, ...tap }));
  if (shown.bare && desk.bare)
    traces.push({ key: 'bare', name: bareName(desk, desk.bare.stageId), kind: 'bare', freqHz, ...desk.bare });
  if (shown.ghost && back) traces.push({ key: 'ghost', kind: 'ghost', ...back });
  if (shown.measured)
    for (const measurement of measurements) {
      const measured = { ...measurement, ...thinned(measurement) };
      const { offsetDb } = compareWithPrediction(
        measured,
        { freqHz, levelDb: desk.asBuilt.levelDb },
        { aligned: measured.aligned },
      );
      traces.push({
        key: measured.id,
        name: measured.name,
        kind: 'measured',
        freqHz: measured.freqHz,
        levelDb: measured.levelDb.map((v) => v + offsetDb),
        phaseDeg: measured.phaseDeg && inTurn(measured.freqHz, measured.phaseDeg, desk),
        delayS: null,
      });
    }
  if (shown.asBuilt) traces.push({ key: 'asBuilt', kind: 'asBuilt', ...front });
  return traces;
}

const bareName = ({ stages }: DeskResult, stageId: string): string =>
  `${stages.find((s) => s.id === stageId)?.name ?? 'a stage'} without its capacitors`;

/** Kept curves are told apart by their dashes. */
export const keptLook = (at: number): string => `kept kept-${at % 3}`;

/**
 * A measured phase in the turn of the prediction: whole turns are the card's and the reader's business, not the
 * circuit's.
 */
function inTurn(freqHz: readonly number[], phaseDeg: readonly number[], desk: DeskResult): readonly number[] {
  const turns = turnsBetween(
    phaseDeg,
    freqHz.map((f) => levelAt(desk.freqHz, desk.asBuilt.phaseDeg, f)),
  );
  return phaseDeg.map((p) => p + turns);
}
