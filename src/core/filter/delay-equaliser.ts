import { Matrix, pseudoInverse } from 'ml-matrix';
import { complex } from '../math/complex';
import { delayAt, type ZeroPole } from './zero-pole';

/** An all-pass stage of second order. */
export interface AllPassSection {
  /** rad/s. */
  readonly omega: number;
  readonly q: number;
}

export interface DelayEqualiser {
  readonly sections: readonly AllPassSection[];
  /** Largest less smallest delay over the band, s, before and after. */
  readonly rippleBeforeS: number;
  readonly rippleAfterS: number;
}

/** Delay (s) of an all-pass section at ω: twice that of its poles. */
export function allPassDelay({ omega, q }: AllPassSection, w: number): number {
  return (2 * (omega / q) * (omega ** 2 + w ** 2)) / ((omega ** 2 - w ** 2) ** 2 + ((omega * w) / q) ** 2);
}

const POINTS = 81;

/**
 * All-pass stages that even out the delay of a filter up to a band edge: least squares on the delay's deviations, with
 * growing weight where they are largest (C. Lawson's iteration), by damped Gauss-Newton on the logarithms of frequency
 * and Q (A. Zverev, Handbook of Filter Synthesis, 2.17, poses the problem).
 *
 * @param bandEdge rad/s. @param count second-order stages.
 */
export function equaliseDelay(filter: ZeroPole, bandEdge: number, count: number): DelayEqualiser {
  const grid = Array.from({ length: POINTS }, (_, i) => (bandEdge * (i + 0.5)) / POINTS);
  const own = grid.map((w) => delayAt(filter, w));
  const total = (logs: readonly number[]) =>
    grid.map((w, i) => own[i] + sectionsOf(logs).reduce((sum, s) => sum + allPassDelay(s, w), 0));
  const ripple = (delays: readonly number[]) => Math.max(...delays) - Math.min(...delays);
  // Stages spread over the band, each about as wide as its share.
  let logs = Array.from({ length: count }, (_, k) => [
    Math.log((bandEdge * (k + 0.5)) / count),
    Math.log(0.6 + 0.5 * k),
  ]).flat();
  let best = { logs, ripple: Infinity };
  const weights = grid.map(() => 1);
  for (let outer = 0; outer < 25; outer++) {
    logs = improved(logs, total, weights);
    const delays = total(logs);
    const now = ripple(delays);
    if (now < best.ripple) best = { logs, ripple: now };
    const middle = (Math.max(...delays) + Math.min(...delays)) / 2;
    delays.forEach((d, i) => (weights[i] *= 0.3 + (2 * Math.abs(d - middle)) / now));
    const mean = weights.reduce((a, b) => a + b, 0) / weights.length;
    weights.forEach((w, i) => (weights[i] = Math.max(0.05, w / mean)));
  }
  return { sections: sectionsOf(best.logs), rippleBeforeS: ripple(own), rippleAfterS: best.ripple };
}

const sectionsOf = (logs: readonly number[]): AllPassSection[] =>
  Array.from({ length: logs.length / 2 }, (_, k) => ({ omega: Math.exp(logs[2 * k]), q: Math.exp(logs[2 * k + 1]) }));

/** A few damped steps that lower the weighted scatter of the delays. */
function improved(
  start: readonly number[],
  total: (logs: readonly number[]) => number[],
  weights: readonly number[],
): number[] {
  const residual = (logs: readonly number[]) => {
    const delays = total(logs);
    const weight = weights.reduce((a, b) => a + b, 0);
    const mean = delays.reduce((sum, d, i) => sum + d * weights[i], 0) / weight;
    return delays.map((d, i) => Math.sqrt(weights[i]) * (d - mean));
  };
  const size = (r: readonly number[]) => r.reduce((sum, v) => sum + v * v, 0);
  let logs = [...start];
  let r = residual(logs);
  for (let step = 0; step < 12; step++) {
    const columns = logs.map((_, k) =>
      residual(logs.map((l, i) => (i === k ? l + 1e-5 : l))).map((v, i) => (v - r[i]) / 1e-5),
    );
    const delta = pseudoInverse(new Matrix(columns).transpose()).mmul(Matrix.columnVector(r)).to1DArray();
    let stride = Math.min(1, 0.3 / Math.max(1e-12, ...delta.map(Math.abs)));
    let moved = false;
    for (let cut = 0; cut < 12 && !moved; cut++, stride /= 2) {
      const next = logs.map((l, i) => l - stride * delta[i]);
      const value = residual(next);
      if (size(value) < size(r)) {
        [logs, r] = [next, value];
        moved = true;
      }
    }
    if (!moved) break;
  }
  return logs;
}

/** The all-pass stages as poles and zeros, of unity gain. */
export function allPassZeroPole(sections: readonly AllPassSection[]): ZeroPole {
  const poles = sections.flatMap(({ omega, q }) => {
    const damping = omega / (2 * q);
    const square = omega ** 2 - damping ** 2;
    const root = Math.sqrt(Math.abs(square));
    return square >= 0
      ? [complex(-damping, root), complex(-damping, -root)]
      : [complex(-damping + root), complex(-damping - root)];
  });
  return { poles, zeros: poles.map(({ re, im }) => complex(-re, im)), gain: 1 };
}
