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
  /** Where it lies furthest from the other boards, dB, if that is far more than they differ by; else null. */
  readonly odd: { readonly freqHz: number; readonly db: number } | null;
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
/** Boards are compared no further under the highest level than this, dB: lower, a card's noise is compared. */
const TRUSTED_DB = 40;
/** A board is odd where it lies this far from the middle of all, dB, and so many times their usual distance from it. */
const LEAST_ODD_DB = 0.5;
const ODD_SCATTER = 6;
/**
 * Mean absolute deviation from the median to standard deviation, of normal scatter (P. J. Huber, Robust Statistics,
 * 5.1).
 */
const TO_SIGMA = 1.4826;

/** Judges every board of a batch, and looks for what is the same on all of them. */
export function judgeBatch(
  boards: readonly MeasuredBoard[],
  predicted: Prediction,
  limits: readonly BriefLimit[],
): Batch {
  const compared = boards.map((b) => ({ ...b, ...compareWithPrediction(b, predicted, { aligned: b.aligned }) }));
  const common = boards.length >= FEWEST_ALIKE ? commonGrid(compared, predicted) : [];
  const rows = compared.map(({ board, freqHz, levelDb, offsetDb, worst, rmsDb }, k): BoardRow => ({
    board,
    worst,
    rmsDb,
    odd: oddOf(common, k),
    roomDb: roomOf(
      freqHz,
      levelDb.map((v) => v + offsetDb - predicted.referenceDb),
      limits,
    ),
  }));
  return { rows, alike: alikeOf(common) };
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

/** How far every board lies off at one frequency, dB, the middle of all, and how widely they scatter about it. */
interface Common {
  readonly freqHz: number;
  readonly off: readonly number[];
  readonly middle: number;
  readonly sigma: number;
}

/** Frequencies that all boards were measured at, where the prediction stands high enough to be trusted. */
function commonGrid(
  compared: readonly { readonly freqHz: readonly number[]; readonly differenceDb: Float64Array }[],
  predicted: Prediction,
): Common[] {
  const top = predicted.levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const curves = compared.map((c) => ({ freqHz: Float64Array.from(c.freqHz), differenceDb: c.differenceDb }));
  return Array.from(predicted.freqHz).flatMap((f, i): Common[] => {
    if (predicted.levelDb[i] < top - TRUSTED_DB) return [];
    const off = curves.map((c) => levelAt(c.freqHz, c.differenceDb, f));
    if (!off.every(Number.isFinite)) return [];
    const middle = median(off);
    return [{ freqHz: f, off, middle, sigma: TO_SIGMA * median(off.map((v) => Math.abs(v - middle))) }];
  });
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
}

/**
 * The frequency where the middle of all boards lies furthest off, if it is far over what they differ by there: one
 * board
 * that is wrong does not move it.
 */
function alikeOf(common: readonly Common[]): Batch['alike'] {
  let found: Batch['alike'] = null;
  for (const { freqHz, middle, sigma } of common) {
    if (Math.abs(middle) < LEAST_ALIKE_DB || Math.abs(middle) < OVER_SCATTER * sigma) continue;
    if (!found || Math.abs(middle) > Math.abs(found.db)) found = { freqHz, db: middle };
  }
  return found;
}

/** Where the k-th board lies furthest from the middle of all, if that is no scatter. */
function oddOf(common: readonly Common[], k: number): BoardRow['odd'] {
  let found: BoardRow['odd'] = null;
  for (const { freqHz, off, middle, sigma } of common) {
    const db = off[k] - middle;
    if (Math.abs(db) < LEAST_ODD_DB || Math.abs(db) < ODD_SCATTER * sigma) continue;
    if (!found || Math.abs(db) > Math.abs(found.db)) found = { freqHz, db };
  }
  return found;
}
