import { residualsOf, SHARE_OFF, weighed } from '../../measure/observation';
import type { BoardModel } from './board-model';
import type { Hypothesis } from './hypotheses';

interface Fit {
  readonly hypothesis: Hypothesis;
  readonly model: BoardModel;
  readonly found: { readonly state: Float64Array };
}

/**
 * Curves and readings that differ by less than this, summed over all points in standard deviations, cannot be told
 * apart.
 */
const SAME = 6;
const STEPS = 12;
/** What a reading that may lie about more widely by a factor of e is worth, in standard deviations. */
const WIDTH = 1;

/**
 * Of other explanations, those that give the same curve within the noise, all other parts as they should be: a value
 * with what comes nearest.
 */
export function alike<F extends Fit>(fit: Fit, others: readonly F[]): F[] {
  const own = aloneAt(fit);
  const target = fit.model.seen.map((s) => fit.model.response(own.state, s, s.curve.freqHz));
  const rest = fit.model.restOf(own.state);
  return others.filter((o) => o !== fit && nearest(o.model, aloneAt(o), target, rest) < SAME);
}

/** The state with nothing else off; and which number of it is free, −1 for none. */
function aloneAt({ hypothesis, model, found }: Fit): { state: Float64Array; at: number } {
  const state = new Float64Array(model.beliefs.length);
  const own = [...hypothesis.beliefs.keys()].map((element) => model.indexOf(element));
  for (const i of own) state[i] = found.state[i];
  return { state, at: hypothesis.kind === 'value' ? own[0] : -1 };
}

/** How far a curve stays from another, at the value that brings it nearest (steps by secants on the slope). */
function nearest(
  model: BoardModel,
  { state, at }: { state: Float64Array; at: number },
  target: readonly (Float64Array | null)[],
  rest: ReturnType<BoardModel['restOf']>,
): number {
  const free = at >= 0;
  const leftAt = (value: number): number[] => {
    const moved = state.slice();
    if (free) moved[at] = value;
    const left: number[] = [];
    model.seen.forEach((s, k) => {
      const { curve } = s;
      const response = model.response(moved, s, curve.freqHz);
      const wanted = target[k];
      if (!response || !wanted) return left.push(Infinity);
      const size = (of: Float64Array, i: number) => Math.hypot(of[2 * i], of[2 * i + 1]);
      const alone = {
        ...curve,
        logSize: curve.freqHz.map((_, i) => Math.log(size(wanted, i) + 1e-30)),
        phaseRad: curve.phaseRad && curve.freqHz.map((_, i) => Math.atan2(wanted[2 * i + 1], wanted[2 * i])),
      };
      residualsOf(weighed(alone, SHARE_OFF), response, left);
    });
    const itsRest = model.restOf(moved);
    rest?.forEach(({ off, sigma }, k) => {
      const its = itsRest?.[k];
      if (!its) return left.push(Infinity);
      left.push((its.off - off) / Math.min(sigma, its.sigma), WIDTH * Math.log(its.sigma / sigma));
    });
    return left;
  };
  const sizeOf = (left: readonly number[]) => left.reduce((sum, r) => sum + r * r, 0);
  let value = free ? state[at] : 0;
  let left = leftAt(value);
  for (let step = 0; free && step < STEPS; step++) {
    const there = leftAt(value + 1e-4);
    const slope = there.map((r, i) => (r - left[i]) / 1e-4);
    const move = -slope.reduce((sum, s, i) => sum + s * left[i], 0) / sizeOf(slope);
    if (!Number.isFinite(move)) break;
    const next = value + Math.max(-0.5, Math.min(0.5, move));
    const moved = leftAt(next);
    if (!(sizeOf(moved) < sizeOf(left))) break;
    [value, left] = [next, moved];
  }
  return sizeOf(left);
}
