import { Matrix, solve } from 'ml-matrix';
import type { SweepLaw } from './sweep';

/** Phase beyond what a level asks of itself, where it can be trusted: rising frequencies, turns. */
export interface ExcessPhase {
  readonly freqHz: Float64Array;
  readonly turns: Float64Array;
}

/** What two clocks, or a sample that was lost, do to the phase of a recorded sweep. */
export interface Timing {
  /** The recording's clock against the player's, as a share: 1e-4 where what lasts 1 s is recorded as 1.0001 s. */
  readonly clock: number;
  /** Where samples were lost or put in, s from the sweep's beginning; null where none were. */
  readonly brokenAtS: number | null;
}

/** Octaves under the highest frequency that are looked at: lower down a phase says little of a delay. */
const OCTAVES = 5;
const FEWEST = 24;
/** Narrower than this, in octaves, nothing can be told from the circuit. */
const LEAST_OCTAVES = 2.5;
/** What may be left of the phase, turns, and how many times as much must be explained. */
const MOST_LEFT = 3 / 360;
const TIMES_BETTER = 8;
/** A break explains less, as its neighbourhood is smeared, but is known by its whole samples. */
const TIMES_BETTER_BROKEN = 4;
/** Clocks further apart are two rates, and nearer ones are one. */
const MOST_CLOCK = 2e-3;
/** A jump is of whole samples, this near. */
const WHOLE = 0.15;
/** Points to either side of a break that it smears. */
const SMEARED = 3;

/**
 * Finds what of an excess phase is a recorder's: between two clocks a tone of frequency f is late by the share of the
 * time at which the sweep plays it, L ln(f/f₁), so the phase is −∫ of that (A. Farina, AES 122nd Convention, 2007,
 * preprint 7121, 5); where a sample is lost, all tones after it come one sample sooner. Either is believed where it
 * explains nearly all there is, which no all-pass does.
 */
export function timingOf(excess: ExcessPhase, law: SweepLaw, rateHz: number): Timing {
  const none: Timing = { clock: 0, brokenAtS: null };
  const top = excess.freqHz[excess.freqHz.length - 1];
  const from = excess.freqHz.findIndex((f) => f >= top / 2 ** OCTAVES);
  const freqHz = excess.freqHz.subarray(Math.max(0, from));
  if (freqHz.length < FEWEST || Math.log2(top / freqHz[0]) < LEAST_OCTAVES) return none;
  const turns = alongTheSlope(freqHz, excess.turns.subarray(Math.max(0, from)));
  const ones = freqHz.map(() => 1);
  const plain = fitted([ones, freqHz.map((f) => f / top)], turns);
  const played = (f: number) => law.growthS * Math.log(f / law.fromHz);
  const drift = freqHz.map((f) => -(f * played(f) - law.growthS * f));
  const clocks = fitted([ones, freqHz.map((f) => f / top), drift], turns);
  const clock = clocks.x[2];
  const isClock = clocks.left < MOST_LEFT && plain.left > TIMES_BETTER * clocks.left && Math.abs(clock) < MOST_CLOCK;
  if (isClock) return { clock, brokenAtS: null };
  const brokenAt = breakIn(freqHz, turns, rateHz);
  return brokenAt === null ? none : { clock: 0, brokenAtS: played(freqHz[brokenAt]) };
}

/** Index of the first frequency that was played after samples were lost; null where none were. */
function breakIn(freqHz: Float64Array, turns: Float64Array, rateHz: number): number | null {
  const top = freqHz[freqHz.length - 1];
  let best = { left: Infinity, plain: 0, at: -1, samples: 0 };
  for (let at = SMEARED; at < freqHz.length - SMEARED; at++) {
    // Where the break itself is heard the phase is neither side's.
    const told = (_: number, i: number) => i < at - SMEARED || i >= at + SMEARED;
    const columns = [freqHz.map(() => 1), freqHz.map((f) => f / top)].map((column) => column.filter(told));
    const before = freqHz.map((f, i) => (i < at ? -f / rateHz : 0)).filter(told);
    const kept = turns.filter(told);
    const broken = fitted([...columns, before], kept);
    if (broken.left < best.left)
      best = { left: broken.left, plain: fitted(columns, kept).left, at, samples: broken.x[2] };
  }
  const whole = Math.round(best.samples);
  const isBroken =
    best.left < MOST_LEFT &&
    best.plain > TIMES_BETTER_BROKEN * best.left &&
    whole !== 0 &&
    Math.abs(best.samples - whole) < WHOLE;
  return isBroken ? best.at : null;
}

/** A phase whose turns are counted by going on as it went: a delay of many turns a step does not fold it. */
function alongTheSlope(freqHz: Float64Array, turns: Float64Array): Float64Array {
  const out = turns.slice();
  let perHz = 0;
  for (let i = 1; i < out.length; i++) {
    const step = freqHz[i] - freqHz[i - 1];
    const foretold = out[i - 1] + perHz * step;
    out[i] = turns[i] + Math.round(foretold - turns[i]);
    perHz = 0.5 * perHz + (0.5 * (out[i] - out[i - 1])) / step;
  }
  return out;
}

/** Least squares of columns; `left` is the root mean square of what they leave. */
function fitted(columns: readonly Float64Array[], of: Float64Array): { readonly x: number[]; readonly left: number } {
  const sizes = columns.map((column) => Math.max(...column.map(Math.abs)) || 1);
  const matrix = new Matrix(Array.from(of, (_, i) => columns.map((column, k) => column[i] / sizes[k])));
  const x = solve(matrix, Matrix.columnVector(Array.from(of)), true).to1DArray();
  const left = Math.sqrt(
    of.reduce((sum, v, i) => sum + (v - x.reduce((s, share, k) => s + share * matrix.get(i, k), 0)) ** 2, 0) /
      of.length,
  );
  return { x: x.map((share, k) => share / sizes[k]), left };
}
