import { leastBetween } from '../../math/search';

/** Half power, in dB: what −3 dB stands for everywhere. */
export const HALF_POWER_DB = 10 * Math.log10(0.5);

export interface Crossing {
  readonly freqHz: number;
  /** Which way the level goes through, with rising frequency. */
  readonly falling: boolean;
}

export interface Peak {
  readonly freqHz: number;
  readonly levelDb: number;
}

/** Every place where a level (dB) over an ascending grid (Hz) passes a threshold: interpolated in log f. */
export function crossings(freqHz: ArrayLike<number>, levelDb: ArrayLike<number>, thresholdDb: number): Crossing[] {
  const found: Crossing[] = [];
  for (let i = 1; i < freqHz.length; i++) {
    const [a, b] = [levelDb[i - 1] - thresholdDb, levelDb[i] - thresholdDb];
    if (a >= 0 === b >= 0 || !Number.isFinite(a) || !Number.isFinite(b)) continue;
    found.push({ freqHz: freqHz[i - 1] * (freqHz[i] / freqHz[i - 1]) ** (a / (a - b)), falling: a >= 0 });
  }
  return found;
}

/**
 * Sharpens a crossing found on a grid by solving the circuit itself: false position in log f on `levelAt` (dB), to
 * about 1e-9 relative.
 */
export function refineCrossing(
  near: Crossing,
  spacing: number,
  thresholdDb: number,
  levelAt: (freqHz: number) => number,
): Crossing {
  let [low, high] = [near.freqHz / spacing, near.freqHz * spacing];
  let [a, b] = [levelAt(low) - thresholdDb, levelAt(high) - thresholdDb];
  if (a >= 0 === b >= 0) return near;
  for (let step = 0; step < 40 && high / low > 1 + 1e-10; step++) {
    const blend = step % 3 === 2 ? 0.5 : Math.min(0.95, Math.max(0.05, a / (a - b)));
    const middle = low * (high / low) ** blend;
    const value = levelAt(middle) - thresholdDb;
    if (value === 0) return { ...near, freqHz: middle };
    if (value >= 0 === a >= 0) [low, a] = [middle, value];
    else [high, b] = [middle, value];
  }
  return { ...near, freqHz: Math.sqrt(low * high) };
}

/**
 * The highest point of a curve on any ascending grid, by a parabola in log f through the highest and its neighbours; an
 * end where it is highest there.
 */
export function highestPoint(freqHz: ArrayLike<number>, levelDb: ArrayLike<number>): Peak {
  let best = 0;
  for (let i = 1; i < levelDb.length; i++) if (levelDb[i] > levelDb[best]) best = i;
  const top = { freqHz: freqHz[best], levelDb: levelDb[best] };
  if (best === 0 || best === levelDb.length - 1) return top;
  const [x0, x2] = [Math.log(freqHz[best - 1] / freqHz[best]), Math.log(freqHz[best + 1] / freqHz[best])];
  const [y0, y2] = [levelDb[best - 1] - levelDb[best], levelDb[best + 1] - levelDb[best]];
  // y = a x² + b x through both neighbours and the origin.
  const a = (y2 / x2 - y0 / x0) / (x2 - x0);
  const b = y0 / x0 - a * x0;
  if (!(a < 0) || !Number.isFinite(b)) return top;
  const x = -b / (2 * a);
  return { freqHz: freqHz[best] * Math.exp(x), levelDb: levelDb[best] - (b * b) / (4 * a) };
}

/** How far the level must rise on both sides of a dip for it to count as one, dB. */
const DIP_DB = 3;

/**
 * The lowest point inside the grid that the level rises from on both sides by 3 dB or more; null when there is none.
 */
export function deepestDip(freqHz: ArrayLike<number>, levelDb: ArrayLike<number>): Peak | null {
  const n = levelDb.length;
  const highestFrom = new Float64Array(n);
  for (let i = n - 2; i >= 0; i--)
    highestFrom[i] = Math.max(i === n - 2 ? levelDb[n - 1] : highestFrom[i + 1], levelDb[i + 1]);
  let best = -1;
  let highestBefore = levelDb[0];
  for (let i = 1; i < n - 1; i++) {
    if (Math.min(highestBefore, highestFrom[i]) >= levelDb[i] + DIP_DB && (best < 0 || levelDb[i] < levelDb[best]))
      best = i;
    highestBefore = Math.max(highestBefore, levelDb[i]);
  }
  return best < 0 ? null : { freqHz: freqHz[best], levelDb: levelDb[best] };
}

/** Sharpens a dip by solving the circuit itself: golden section in log f, to about 1e-7 relative. */
export function refineDip({ freqHz }: Peak, spacing: number, levelAt: (freqHz: number) => number): Peak {
  const { at, value } = leastBetween(
    (log) => levelAt(Math.exp(log)),
    Math.log(freqHz / spacing),
    Math.log(freqHz * spacing),
  );
  return { freqHz: Math.exp(at), levelDb: value };
}

/** Level at one place of a grid curve (dB), interpolated in log f; NaN outside. */
export function levelAt(freqHz: ArrayLike<number>, levelDb: ArrayLike<number>, at: number): number {
  let [low, high] = [0, freqHz.length - 1];
  if (!(at >= freqHz[low] && at <= freqHz[high])) return NaN;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (freqHz[middle] <= at) low = middle;
    else high = middle;
  }
  const t = Math.log(at / freqHz[low]) / Math.log(freqHz[high] / freqHz[low]);
  return levelDb[low] + t * (levelDb[high] - levelDb[low]);
}
