import type { PartKind } from '../topology/kit/part';
import { nearestPreferred, neighbours, type SeriesId } from './preferred';

/** Two parts that make a value together. */
export interface Pair {
  readonly kind: 'series' | 'parallel';
  readonly values: readonly [number, number];
  readonly value: number;
}

/**
 * A pair of equal parts is taken when it is off by no more than this beyond the best pair: equal parts from one batch
 * track.
 */
const EQUAL_PREFERENCE = 5e-4;
/** Past this ratio the smaller of two hardly counts. */
const WIDEST = 30;

/** What two parts make together, ohm, farad or henry. */
export const together = (kind: Pair['kind'], part: PartKind, a: number, b: number): number =>
  (kind === 'series') === (part !== 'capacitor') ? a + b : (a * b) / (a + b);

/**
 * The pair of a series that comes nearest to a value, joined in any of `kinds`; two equal parts where they do about as
 * well. Ohm, farad or henry. @param widest ratio of the two, at most: past 30 the smaller of two hardly counts.
 */
export function nearestPair(
  wanted: number,
  series: SeriesId,
  part: PartKind,
  kinds: readonly Pair['kind'][] = ['series', 'parallel'],
  widest = WIDEST,
): Pair {
  const off = (pair: Pair) => Math.abs(pair.value / wanted - 1);
  const pairs = kinds.flatMap((kind) => pairsOf(kind, wanted, series, part, widest));
  const best = pairs.reduce((a, b) => (off(b) < off(a) ? b : a));
  const equal = pairs.filter(({ values: [a, b] }) => a === b).sort((a, b) => off(a) - off(b))[0];
  return equal && off(equal) <= off(best) + EQUAL_PREFERENCE ? equal : best;
}

function pairsOf(kind: Pair['kind'], wanted: number, series: SeriesId, part: PartKind, widest: number): Pair[] {
  const adds = (kind === 'series') === (part !== 'capacitor');
  const pairs: Pair[] = [];
  // Where values add the larger lies between a half and the whole, where they divide the smaller between the whole and
  // its double.
  const [from, to] = adds ? [wanted / 2, wanted] : [wanted, 2 * wanted];
  for (let a = neighbours(from, series).above; a <= to * (1 + 1e-9); a = neighbours(a * 1.0001, series).above) {
    const rest = adds ? wanted - a : 1 / (1 / wanted - 1 / a);
    if (!(rest > 0) || !Number.isFinite(rest)) continue;
    const b = nearestPreferred(rest, series);
    if (Math.max(a, b) / Math.min(a, b) > widest) continue;
    pairs.push({ kind, values: a >= b ? [a, b] : [b, a], value: together(kind, part, a, b) });
  }
  const half = nearestPreferred(adds ? wanted / 2 : 2 * wanted, series);
  pairs.push({ kind, values: [half, half], value: together(kind, part, half, half) });
  return pairs;
}
