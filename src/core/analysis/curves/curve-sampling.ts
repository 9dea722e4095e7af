import type { Complex } from '../../math/complex';
import { logGrid, type Span } from '../../math/grid';
import { levelsDb } from './response';

/** A response (re, im by turns) at some frequencies (Hz). */
export type ResponseOf = (freqHz: Float64Array) => Float64Array;

/** Points a decade before anything is refined, and points across the width of a natural frequency, |s|/Q. */
const PER_DECADE = 32;
const ACROSS_WIDTH = 16;
/** Beyond its width, in widths from its middle: each half as far again. */
const FLANKS = [0.75, 1.125, 1.7, 2.5, 3.8, 5.7, 8.5];
/** Two frequencies nearer than this share are one. */
const SAME = 1e-9;
/** Narrower than this share of its frequency a resonance is as good as none: it would sing. */
const NARROWEST = 1e-6;

/**
 * Frequencies (Hz, ascending) at which a curve is first looked at: evenly in the logarithm, and across every natural
 * frequency as closely as its Q asks for, so that no resonance falls between two points.
 *
 * @param natural natural frequencies, rad/s.
 */
export function samplingGrid(natural: readonly Complex[], { fromHz, toHz }: Span): Float64Array {
  const count = 1 + Math.max(8, Math.ceil(PER_DECADE * Math.log10(toHz / fromHz)));
  const found = Array.from(logGrid(fromHz, toHz, count));
  for (const { re, im } of natural) {
    if (im < 0) continue;
    const middle = Math.hypot(re, im) / (2 * Math.PI);
    const width = Math.max(Math.abs(2 * re) / (2 * Math.PI), NARROWEST * middle);
    // A real pole, or a pair that hardly rings, has no peak of its own that the even points could miss.
    if (!(middle > fromHz / 2 && middle < toHz * 2) || width > middle) continue;
    // Half a step beside its very middle: at a natural frequency itself a pivot may be nothing but rounding.
    const steps = [...Array.from({ length: ACROSS_WIDTH / 2 + 1 }, (_, k) => (k + 0.5) / ACROSS_WIDTH), ...FLANKS];
    for (const step of steps) found.push(middle - step * width, middle + step * width);
  }
  const inside = found.filter((f) => f >= fromHz && f <= toHz).sort((a, b) => a - b);
  return Float64Array.from(inside.filter((f, i) => i === 0 || f > inside[i - 1] * (1 + SAME)));
}

/** Where a straight line between two neighbours is off by more than this, dB, a point is put between them. */
export const STRAIGHT_DB = 0.05;
const ROUNDS = 8;
const MOST_POINTS = 6000;
/** A level so low carries no information: zeros of the circuit reach −∞. */
const FLOOR_DB = -240;

/** One point of a curve: its frequency (Hz), response, and level (dB). */
export interface Sample {
  readonly f: number;
  readonly re: number;
  readonly im: number;
  readonly level: number;
  settled: boolean;
}

/** Points put between neighbours until a straight line from one to the next is true to 0.05 dB. */
export function refined(responseOf: ResponseOf, start: Float64Array): Sample[] {
  const sampled = (freqHz: Float64Array): Sample[] => {
    const response = responseOf(freqHz);
    const levels = levelsDb(response);
    return Array.from(freqHz, (f, i) => ({
      f,
      re: response[2 * i],
      im: response[2 * i + 1],
      level: Math.max(FLOOR_DB, levels[i]),
      settled: false,
    }));
  };
  let points = sampled(start);
  for (let round = 0; round < ROUNDS && points.length < MOST_POINTS; round++) {
    const open = points.flatMap((p, i) => (i > 0 && !p.settled ? [i] : []));
    if (open.length === 0) break;
    const middles = sampled(Float64Array.from(open, (i) => Math.sqrt(points[i - 1].f * points[i].f)));
    const next: Sample[] = [];
    let k = 0;
    points.forEach((p, i) => {
      if (open[k] === i) {
        const middle = middles[k++];
        p.settled = middle.settled = Math.abs(middle.level - (points[i - 1].level + p.level) / 2) <= STRAIGHT_DB;
        next.push(middle);
      }
      next.push(p);
    });
    points = next;
  }
  return points;
}
