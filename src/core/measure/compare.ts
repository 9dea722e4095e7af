import { levelAt } from '../analysis/curves/marks';

export interface Comparison {
  /** What is added to the measurement so that it lies on the prediction, dB; 0 unless aligned. */
  readonly offsetDb: number;
  /** Measured (with offset) less predicted at the measured frequencies that the prediction covers; NaN elsewhere. */
  readonly differenceDb: Float64Array;
  readonly worst: { readonly freqHz: number; readonly db: number } | null;
  /** Root mean square of the differences, dB. */
  readonly rmsDb: number;
}

/**
 * Lays a measurement over a prediction. Alignment takes the median difference where the prediction is within `windowDb`
 * of its highest level, so that a wrong slope does not pull the pass band off. Only points within `floorDb` of the
 * highest level are judged: below is noise.
 */
export function compareWithPrediction(
  measured: { readonly freqHz: readonly number[]; readonly levelDb: readonly number[] },
  predicted: { readonly freqHz: Float64Array; readonly levelDb: Float64Array },
  options: { readonly aligned: boolean; readonly windowDb?: number; readonly floorDb?: number },
): Comparison {
  const { windowDb = 3, floorDb = 60 } = options;
  const top = predicted.levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const expected = measured.freqHz.map((f) => levelAt(predicted.freqHz, predicted.levelDb, f));
  const raw = expected.map((level, i) => measured.levelDb[i] - level);
  const inBand = Float64Array.from(raw.filter((_, i) => expected[i] > top - windowDb)).sort();
  const middle = inBand.length >> 1;
  const median =
    inBand.length === 0 ? 0 : inBand.length % 2 === 1 ? inBand[middle] : (inBand[middle - 1] + inBand[middle]) / 2;
  const offsetDb = options.aligned ? -median : 0;
  const differenceDb = Float64Array.from(raw, (d) => d + offsetDb);
  let worst: Comparison['worst'] = null;
  let [sum, count] = [0, 0];
  differenceDb.forEach((db, i) => {
    if (!Number.isFinite(db) || expected[i] < top - floorDb) return;
    sum += db * db;
    count++;
    if (!worst || Math.abs(db) > Math.abs(worst.db)) worst = { freqHz: measured.freqHz[i], db };
  });
  return { offsetDb, differenceDb, worst, rmsDb: count > 0 ? Math.sqrt(sum / count) : NaN };
}
