import { levelAt } from '../analysis/curves/marks';
import { limitSpan, upOf, type BriefLimit } from '../filter/brief-mask';
import { compareWithPrediction } from './compare';

export interface MeasuredBoard {
  readonly board: string;
  readonly freqHz: readonly number[];
  readonly levelDb: readonly number[];
  readonly aligned: boolean;
}

/** One board of a batch against what was predicted and what was wanted. */
export interface BoardRow {
  readonly board: string;
  /** Where it lies furthest from the prediction, dB, over the top 60 dB; null where the two have nothing in common. */
  readonly worst: { readonly freqHz: number; readonly db: number } | null;
  readonly rmsDb: number;
  /** Room to the nearest limit of the brief, negative where one is missed, dB; null without limits. */
  readonly roomDb: number | null;
}

export interface Batch {
  readonly rows: readonly BoardRow[];
  /** What all boards have in common, where it is more than they differ by: the same wrong part on every one. */
  readonly alike: { readonly freqHz: number; readonly db: number } | null;
}

interface Prediction {
  readonly freqHz: Float64Array;
  readonly levelDb: Float64Array;
  /** The pass band's level, from which limits are counted. */
  readonly referenceDb: number;
}

/** From this many boards on, and this far off, dB, what they share is no chance; and so many times their scatter. */
const FEWEST_ALIKE = 3;
const LEAST_ALIKE_DB = 0.5;
const OVER_SCATTER = 3;

/** Judges every board of a batch, and looks for what is the same on all of them. */
export function judgeBatch(
  boards: readonly MeasuredBoard[],
  predicted: Prediction,
  limits: readonly BriefLimit[],
): Batch {
  const compared = boards.map((b) => ({ ...b, ...compareWithPrediction(b, predicted, { aligned: b.aligned }) }));
  const rows = compared.map(({ board, freqHz, levelDb, offsetDb, worst, rmsDb }): BoardRow => ({
    board,
    worst,
    rmsDb,
    roomDb: roomOf(
      freqHz,
      levelDb.map((v) => v + offsetDb - predicted.referenceDb),
      limits,
    ),
  }));
  return { rows, alike: boards.length >= FEWEST_ALIKE ? alikeOf(compared, predicted.freqHz) : null };
}

/** Least room over all limits, dB; null where none is measured. */
function roomOf(freqHz: readonly number[], levelDb: readonly number[], limits: readonly BriefLimit[]): number | null {
  let room: number | null = null;
  for (const limit of limits) {
    const span = [...limitSpan(limit, limits)].sort((a, b) => a - b);
    const inside = [...freqHz.keys()].filter((i) => freqHz[i] >= span[0] && freqHz[i] <= span[1]);
    if (inside.length === 0) continue;
    const spare = inside.map((i) =>
      limit.kind === 'at-most' ? Math.min(levelDb[i] + limit.db, upOf(limit) - levelDb[i]) : -limit.db - levelDb[i],
    );
    room = Math.min(room ?? Infinity, ...spare);
  }
  return room;
}

/** The frequency where the boards' mean lies furthest off, if it is far over what they differ by there. */
function alikeOf(
  compared: readonly { readonly freqHz: readonly number[]; readonly differenceDb: Float64Array }[],
  grid: Float64Array,
): Batch['alike'] {
  let found: Batch['alike'] = null;
  for (const f of grid) {
    const off = compared.map((c) => levelAt(Float64Array.from(c.freqHz), c.differenceDb, f));
    if (!off.every(Number.isFinite)) continue;
    const mean = off.reduce((a, b) => a + b, 0) / off.length;
    const scatter = Math.sqrt(off.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (off.length - 1));
    if (Math.abs(mean) < LEAST_ALIKE_DB || Math.abs(mean) < OVER_SCATTER * scatter) continue;
    if (!found || Math.abs(mean) > Math.abs(found.db)) found = { freqHz: f, db: mean };
  }
  return found;
}
