import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';

/** A value slot that varies: uniformly within ± tolerance (per cent) of its nominal value. */
export interface VaryingSlot {
  readonly slot: number;
  readonly tolerancePct: number;
  /** Parts of one batch: they share most of their deviation, and differ among themselves by no more than `matchPct`. */
  readonly batch?: { readonly id: string; readonly matchPct: number };
}

/**
 * Draws part values: each call writes the next draw into `into`. A batch draws once what it has in common. Uniform,
 * since parts are sorted from the middle of their bins as often as not.
 */
export function valueDraws(
  nominal: Float64Array,
  varying: readonly VaryingSlot[],
  seed: number,
): (into: Float64Array) => Float64Array {
  const generator = xoroshiro128plus(seed);
  const unit = () => (unsafeUniformIntDistribution(0, 0xffffffff, generator) + 0.5) / 0x100000000;
  const common = new Map<string, number>();
  return (into) => {
    into.set(nominal);
    common.clear();
    for (const { slot, tolerancePct, batch } of varying) {
      if (!batch) {
        into[slot] = nominal[slot] * (1 + (tolerancePct / 100) * (2 * unit() - 1));
        continue;
      }
      // The whole stays within the tolerance: what the parts have of their own comes off what they share.
      const own = Math.min(batch.matchPct, tolerancePct);
      let shared = common.get(batch.id);
      if (shared === undefined) common.set(batch.id, (shared = 2 * unit() - 1));
      into[slot] = nominal[slot] * (1 + ((tolerancePct - own) * shared + own * (2 * unit() - 1)) / 100);
    }
    return into;
  };
}

/**
 * Share of the variance of `outcome` that each part explains: its squared correlation with the part's deviation, draws
 * by parts, summing to about 1.
 */
export function shareOfVariance(deviations: readonly Float64Array[], outcome: Float64Array): number[] {
  const mean = (v: Float64Array) => v.reduce((sum, x) => sum + x, 0) / v.length;
  const outcomeMean = mean(outcome);
  const variance = outcome.reduce((sum, x) => sum + (x - outcomeMean) ** 2, 0);
  return deviations.map((deviation) => {
    const middle = mean(deviation);
    let [both, own] = [0, 0];
    deviation.forEach((d, i) => {
      both += (d - middle) * (outcome[i] - outcomeMean);
      own += (d - middle) ** 2;
    });
    return own > 0 && variance > 0 ? both ** 2 / (own * variance) : 0;
  });
}

/** The p-quantile (0 to 1) of sorted values, interpolated between order statistics (Hyndman and Fan type 7). */
export function quantile(sorted: ArrayLike<number>, p: number): number {
  const at = p * (sorted.length - 1);
  const low = Math.floor(at);
  const high = Math.min(sorted.length - 1, low + 1);
  return sorted[low] + (at - low) * (sorted[high] - sorted[low]);
}

/** The p-quantile of every column of draws, each sorted. */
export const quantilesOf = (sorted: readonly Float64Array[], p: number): Float64Array =>
  Float64Array.from(sorted, (column) => quantile(column, p));
