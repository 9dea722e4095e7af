import type { Recording } from './impulse';

/** Samples that are looked at together. */
const BLOCK = 256;
/** A jump stands so far over all that is near it, and is so much of the tone, at the least. */
const STANDS_OUT = 5;
const LEAST_SHARE = 0.1;
/** Parts of a recording this far under its peak are not looked at. */
const QUIET = 0.05;
/** Samples of nothing that no tone has of itself. */
const FEWEST_NOTHING = 32;
/** What a jump is kept apart from: itself, over the step before and after. */
const ITSELF = 3;

/**
 * Where a recorded tone breaks off and goes on elsewhere, s: a block that was lost or put in on its way. A tone is what
 * its two neighbours foretell, x[n + 1] + x[n − 1] = 2 cos ω x[n]; a break is the one place that is not, and it stands
 * alone, as edges of a distorted tone do not. Null where there is none.
 */
export function brokenAt({ samples, rateHz }: Recording): number | null {
  const peak = samples.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  const nothing = nothingAt(samples, QUIET * peak);
  if (nothing !== null) return nothing / rateHz;
  const blocks = Math.floor((samples.length - 2) / BLOCK);
  const found = Array.from({ length: blocks }, (_, b) => surpriseOf(samples, 1 + b * BLOCK));
  for (let b = 0; b < blocks; b++) {
    const { most, at, size, crossings } = found[b];
    if (!(size > QUIET * peak) || most < LEAST_SHARE * size) continue;
    // As far to either side as three half turns of the tone go, two blocks at the least; where it begins or ends it
    // is cut off of itself.
    const reach = Math.max(2, Math.ceil(3 / Math.max(1, crossings)));
    const around = found.slice(Math.max(0, b - reach), b + reach + 1);
    if (around.length <= 2 * reach || around.some((k) => !(k.size > QUIET * peak))) continue;
    const near = around.reduce((m, k) => Math.max(m, k === found[b] ? k.second : apartFrom(k, at)), 0);
    if (most > STANDS_OUT * near && !goesOn(samples, at)) return at / rateHz;
  }
  return null;
}

interface Surprise {
  /** What was least foretold, where, and the most of all that is not beside it. */
  readonly most: number;
  readonly at: number;
  readonly second: number;
  /** Peak of the block. */
  readonly size: number;
  readonly crossings: number;
}

/** Where there is nothing at all for a while amid what is louder than so much; null where there is always something. */
function nothingAt(samples: Float64Array, loud: number): number | null {
  const isLoud = (from: number) => from >= 0 && samples.subarray(from, from + BLOCK).some((v) => Math.abs(v) > loud);
  for (let i = 0, run = 0; i < samples.length; i++) {
    run = samples[i] === 0 ? run + 1 : 0;
    if (run === FEWEST_NOTHING && isLoud(i - run - BLOCK)) {
      while (i < samples.length && samples[i] === 0) i++;
      if (isLoud(i)) return i;
      run = 0;
    }
  }
  return null;
}

/** The largest surprise of a block, or the second where the first is the one that is looked at. */
const apartFrom = (of: Surprise, at: number): number => (Math.abs(of.at - at) <= ITSELF ? of.second : of.most);

function surpriseOf(x: Float64Array, from: number): Surprise {
  let [product, square, size, crossings] = [0, 0, 0, 0];
  for (let i = from; i < from + BLOCK; i++) {
    product += x[i] * (x[i + 1] + x[i - 1]);
    square += x[i] * x[i];
    size = Math.max(size, Math.abs(x[i]));
    if (x[i] < 0 !== x[i - 1] < 0) crossings++;
  }
  const twoCos = square > 0 ? product / square : 0;
  const surprise = (i: number) => Math.abs(x[i + 1] + x[i - 1] - twoCos * x[i]);
  let [most, at, second] = [0, from, 0];
  for (let i = from; i < from + BLOCK; i++) {
    const own = surprise(i);
    if (own > most) [most, at] = [own, i];
  }
  for (let i = from; i < from + BLOCK; i++) if (Math.abs(i - at) > ITSELF) second = Math.max(second, surprise(i));
  return { most, at, second, size, crossings };
}

/** Samples to either side that a tone is fitted to: a turn, between these. */
const FITTED: readonly [number, number] = [24, 240];
/** Of a tone that goes on: what is left of it after one fit to both sides, as a share. */
const LEFT = 0.3;

/** Whether the same tone stands on both sides of a place: a click breaks nothing off. */
function goesOn(x: Float64Array, at: number): boolean {
  const beside = [-1, 1].map((side) => at + side * (ITSELF + 1 + BLOCK / 2));
  let [product, square] = [0, 0];
  for (const middle of beside)
    for (let i = middle - BLOCK / 2; i < middle + BLOCK / 2; i++) {
      product += x[i] * (x[i + 1] + x[i - 1]);
      square += x[i] * x[i];
    }
  const omega = Math.acos(Math.max(-1, Math.min(1, product / square / 2)));
  const count = Math.round(Math.max(FITTED[0], Math.min(FITTED[1], (2 * Math.PI) / Math.max(1e-3, omega))));
  let [cc, ss, cs, cx, sx, xx] = [0, 0, 0, 0, 0, 0];
  for (let i = at - ITSELF - count; i <= at + ITSELF + count; i++) {
    if (Math.abs(i - at) <= ITSELF || i < 0 || i >= x.length) continue;
    const [c, s] = [Math.cos(omega * (i - at)), Math.sin(omega * (i - at))];
    cc += c * c;
    ss += s * s;
    cs += c * s;
    cx += c * x[i];
    sx += s * x[i];
    xx += x[i] * x[i];
  }
  const determinant = cc * ss - cs * cs;
  const [a, b] = [(cx * ss - sx * cs) / determinant, (sx * cc - cx * cs) / determinant];
  return xx - a * cx - b * sx < LEFT * LEFT * xx;
}
