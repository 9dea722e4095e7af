import { failure, success, type Result } from '../../result';
import type { Complex } from '../../math/complex';
import { LinearMotion } from './linear-motion';
import type { Assembled } from '../../circuit/structure';

/** A node's voltage after the source has changed, at unevenly spaced times from just after the change on. */
export interface StepRun {
  readonly timeS: Float64Array;
  readonly volts: Float64Array;
  /** Where it ends, V. */
  readonly finalVolts: number;
  /** All unknowns at the end. */
  readonly endState: Float64Array;
}

/** Steps across one radian of the quickest motion that still lasts. */
const STEPS_A_RADIAN = 8;
/** A natural mode has died away after so many of its own time constants: e⁻²⁵ of it is left. */
const DEAD_AFTER = 25;
/** Slower than this, rad/s, a mode is a leak and not waited for. */
const SLOWEST = 1e-5;
/** More steps than this belong to a circuit that as good as never stands still. */
const MOST_STEPS = 600_000;
/** The first point after the change, as a share of the first step. */
const JUST_AFTER = 1e-6;
/** An end so small beside the largest excursion is none: what an op-amp of finite gain leaks through a high-pass. */
const NO_END = 1e-3;

/**
 * The response to a step of the source, run until every natural mode has died away: the step lengths follow the
 * quickest mode that still lasts, so that ringing of any Q and a slow tail are both resolved. Fails with
 * `never-settles` where a mode does not decay (or so slowly that it would take more than 600,000 steps), and with
 * `no-unique-solution`.
 *
 * @param natural natural frequencies of the circuit, rad/s; all in the left half-plane.
 * @param level source after the step, V. @param start all unknowns before it; zeros when absent.
 */
export function runStep(
  circuit: Assembled,
  node: string,
  natural: readonly Complex[],
  level = 1,
  start?: Float64Array,
): Result<StepRun, 'never-settles' | 'no-unique-solution'> {
  const modes = natural
    .map(({ re, im }) => ({ size: Math.hypot(re, im), deadS: DEAD_AFTER / -re }))
    .filter(({ size }) => size > SLOWEST);
  if (modes.some(({ deadS }) => !(deadS > 0) || !Number.isFinite(deadS))) return failure('never-settles');
  const lengths = stepLengths(modes);
  if (!lengths) return failure('never-settles');
  const motion = new LinearMotion(circuit);
  const at = circuit.structure.nodeOf(node) ?? -1;
  const [timeS, volts]: [number[], number[]] = [[], []];
  const ended = motion.hold(start ?? new Float64Array(motion.size), level, lengths, (t, state) => {
    timeS.push(t);
    volts.push(at < 0 ? 0 : state[at]);
  });
  if (!ended.ok) return ended;
  return success({
    timeS: Float64Array.from(timeS),
    volts: Float64Array.from(volts),
    finalVolts: volts[volts.length - 1],
    endState: ended.value,
  });
}

/** Lengths of steps (s) from the change until all modes are dead; null where there would be too many. */
function stepLengths(modes: readonly { readonly size: number; readonly deadS: number }[]): number[] | null {
  if (modes.length === 0) return [1e-9, 1e-6];
  const byDeath = [...modes].sort((a, b) => a.deadS - b.deadS);
  // Of the modes that outlive the k-th, the quickest.
  const quickest = byDeath.map(() => 0);
  for (let k = byDeath.length - 1, size = 0; k >= 0; k--) quickest[k] = size = Math.max(size, byDeath[k].size);
  const first = 1 / (STEPS_A_RADIAN * quickest[0]);
  const lengths = [JUST_AFTER * first];
  let [t, k] = [lengths[0], 0];
  while (k < byDeath.length) {
    // Powers of two, so that few propagators are needed.
    const h = first * 2 ** Math.floor(Math.log2(quickest[0] / quickest[k]) + 1e-9);
    lengths.push(h);
    t += h;
    while (k < byDeath.length && t >= byDeath[k].deadS) k++;
    if (lengths.length > MOST_STEPS) return null;
  }
  return lengths;
}

/** What is read off a step response. Times in s from the step. */
export interface StepFigures {
  /** Largest excursion from where it started, with its sign, V. */
  readonly peak: { readonly volts: number; readonly timeS: number };
  /**
   * Null where the output ends where it began: then there is nothing to overshoot and nothing to settle on.
   */
  readonly end: {
    /** How far the end lies from the start, V. */
    readonly volts: number;
    readonly overshootPct: number;
    /** Last time outside ±2 % and ±1 % of the end. */
    readonly settle2PctS: number;
    readonly settle1PctS: number;
    /** From a tenth to nine tenths of the way, and to half of it. */
    readonly riseS: number;
    readonly delayS: number;
  } | null;
}

/** Figures of a step response; extremes and crossings lie between the samples. @param fromVolts the output before. */
export function stepFigures({ timeS, volts, finalVolts }: StepRun, fromVolts = 0): StepFigures {
  const moved = volts.map((v) => v - fromVolts);
  const end = finalVolts - fromVolts;
  const extremes = extremesOf(timeS, moved);
  const peak = extremes.reduce((a, b) => (Math.abs(b.volts) > Math.abs(a.volts) ? b : a));
  if (Math.abs(end) <= NO_END * Math.abs(peak.volts)) return { peak, end: null };
  const relative = moved.map((v) => v / end);
  const highest = extremes.reduce((m, e) => Math.max(m, e.volts / end), -Infinity);
  const first = (share: number) => firstCrossing(timeS, relative, share);
  return {
    peak,
    end: {
      volts: end,
      overshootPct: Math.max(0, 100 * (highest - 1)),
      settle2PctS: lastOutside(timeS, relative, 0.02),
      settle1PctS: lastOutside(timeS, relative, 0.01),
      riseS: first(0.9) - first(0.1),
      delayS: first(0.5),
    },
  };
}

/** Last time a run that starts from 0 lies further than a share of its end from it, s; null where it has no end. */
export function settledWithin({ timeS, volts, finalVolts }: StepRun, band: number): number | null {
  const largest = volts.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  if (Math.abs(finalVolts) <= NO_END * largest) return null;
  return lastOutside(
    timeS,
    volts.map((v) => v / finalVolts),
    band,
  );
}

/** When a run has gone `share` of the way from its first value to its end, s; null where it goes nowhere. */
export function timeToShare({ timeS, volts, finalVolts }: StepRun, share: number): number | null {
  const way = finalVolts - volts[0];
  const largest = volts.reduce((m, v) => Math.max(m, Math.abs(v - finalVolts)), 0);
  if (!(Math.abs(way) > 0.05 * largest)) return null;
  return firstCrossing(
    timeS,
    volts.map((v) => (v - volts[0]) / way),
    share,
  );
}

/** When what is left of the largest distance from the end last exceeds a share of it, s: the run stands still after. */
export function stillAfter({ timeS, volts, finalVolts }: StepRun, share: number): number {
  const left = volts.map((v) => Math.abs(v - finalVolts));
  const largest = left.reduce((m, v) => Math.max(m, v), 0);
  for (let i = left.length - 1; i >= 0; i--) if (left[i] > share * largest) return timeS[i];
  return 0;
}

/** The ends and every turning point of a curve, each by a parabola through three samples. */
function extremesOf(timeS: Float64Array, y: Float64Array): { timeS: number; volts: number }[] {
  const last = y.length - 1;
  const found = [0, last].map((i) => ({ timeS: timeS[i], volts: y[i] }));
  for (let i = 1; i < last; i++) {
    const [before, after] = [y[i] - y[i - 1], y[i + 1] - y[i]];
    if (before * after > 0 || (before === 0 && after === 0)) continue;
    found.push(vertex(timeS, y, i));
  }
  return found;
}

/** The turning point of the parabola through sample i and its neighbours; the sample itself where that is none. */
function vertex(timeS: Float64Array, y: Float64Array, i: number): { timeS: number; volts: number } {
  const [a, b] = [timeS[i - 1] - timeS[i], timeS[i + 1] - timeS[i]];
  const [p, q] = [(y[i - 1] - y[i]) / a, (y[i + 1] - y[i]) / b];
  const curvature = (q - p) / (b - a);
  const slope = p - curvature * a;
  const x = -slope / (2 * curvature);
  if (!Number.isFinite(x) || x < a || x > b) return { timeS: timeS[i], volts: y[i] };
  return { timeS: timeS[i] + x, volts: y[i] + x * (slope + curvature * x) };
}

/** First time a curve that starts under a level reaches it; the start where it begins beyond it. */
function firstCrossing(timeS: Float64Array, y: Float64Array, level: number): number {
  const i = y.findIndex((v) => v >= level);
  if (i <= 0) return i === 0 ? 0 : NaN;
  return crossingBetween(timeS, y, i - 1, level);
}

/** Last time a curve lies further than `band` from 1; a turning point between two samples counts. */
function lastOutside(timeS: Float64Array, y: Float64Array, band: number): number {
  for (let i = y.length - 1; i > 0; i--) {
    if (Math.abs(y[i] - 1) > band) return i === y.length - 1 ? timeS[i] : crossingOut(timeS, y, i, band);
    if (i < y.length - 1 && (y[i] - y[i - 1]) * (y[i + 1] - y[i]) < 0) {
      const top = vertex(timeS, y, i);
      if (Math.abs(top.volts - 1) > band && top.timeS > timeS[i - 1]) return top.timeS;
    }
  }
  return Math.abs(y[0] - 1) > band ? crossingOut(timeS, y, 0, band) : 0;
}

const crossingOut = (timeS: Float64Array, y: Float64Array, i: number, band: number): number =>
  crossingBetween(timeS, y, i, y[i] > 1 ? 1 + band : 1 - band);

/** Where a curve passes a level between samples i and i + 1: bisection on the cubic through four samples. */
function crossingBetween(timeS: Float64Array, y: Float64Array, i: number, level: number): number {
  const from = Math.max(0, Math.min(y.length - 4, i - 1));
  const nodes = Array.from({ length: Math.min(4, y.length) }, (_, k) => from + k);
  const value = (t: number) =>
    nodes.reduce(
      (sum, k) => sum + y[k] * nodes.reduce((p, j) => (j === k ? p : (p * (t - timeS[j])) / (timeS[k] - timeS[j])), 1),
      0,
    );
  let [low, high] = [timeS[i], timeS[i + 1]];
  const over = y[i] >= level;
  for (let step = 0; step < 60; step++) {
    const middle = (low + high) / 2;
    if (value(middle) >= level === over) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
