import type { Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { CircuitEquations, type Conditions } from '../rest/equations';
import { restOf } from '../rest/operating-point';
import { RealLu } from '../elimination/real-lu';

export interface TransientRequest {
  readonly stopS: number;
  /** Spacing of the output; integration chooses its own steps between. */
  readonly stepS: number;
  readonly conditions?: Conditions;
  /** Told the time reached, now and then; true stops the run. */
  readonly cancelled?: (timeS: number) => boolean;
}

export interface Transient {
  readonly timeS: Float64Array;
  /** Per output time all unknowns, in the structure's order (row-major). */
  readonly unknowns: Float64Array;
}

export type TransientFailure =
  'too-many-steps' | 'no-convergence' | 'no-unique-solution' | 'too-many-points' | 'cancelled';

const MOST_POINTS = 2_000_000;
/** Local error of a step against the largest value an unknown has had. */
const TOLERANCE = 1e-5;
const MOST_ITERATIONS = 40;
/** Steps in a run: this many, and so many for each output point. */
const MOST_STEPS = 100_000;
const MOST_STEPS_A_POINT = 50;
/** Newton iterations in a run: a few a step on the whole. What wants more grows without bounds, or does not settle. */
const ITERATIONS_A_STEP = 4;

type Step = { readonly length: number; readonly euler: boolean };

/**
 * A circuit in time from its operating point: trapezoidal rule with backward-Euler steps at the start and after every
 * corner of a source (J. Vlach and K. Singhal, Computer Methods for Circuit Analysis and Design, ch. 9 and 13), steps
 * chosen by the local error h³/12 x‴. The run is then repeated with every step halved, and the two extrapolated to
 * steps of zero length (L. F. Richardson, Phil. Trans. A 226, 1927), which takes the rule's slow loss of phase out of
 * long ringing.
 *
 * Fails with `no-convergence` (`node`, `timeS`), `too-many-steps` (`timeS`), `no-unique-solution`, `too-many-points` or
 * `cancelled`.
 */
export function transient(circuit: Assembled, request: TransientRequest): Result<Transient, TransientFailure> {
  const points = Math.floor(request.stopS / request.stepS + 1e-9) + 1;
  if (!(points >= 1 && points <= MOST_POINTS)) return failure('too-many-points', { points, most: MOST_POINTS });
  const timeS = Float64Array.from({ length: points }, (_, i) => i * request.stepS);
  const coarse = new Integrator(circuit, request, timeS);
  const first = coarse.run(null);
  if (!first.ok) return first;
  const fine = new Integrator(circuit, request, timeS).run(coarse.taken);
  if (!fine.ok) return fine;
  const unknowns = fine.value;
  for (let i = 0; i < unknowns.length; i++) unknowns[i] += (unknowns[i] - first.value[i]) / 3;
  return success({ timeS, unknowns });
}

class Integrator {
  /** Steps taken between landmarks (output times and corners), to be taken again halved. */
  readonly taken: Step[][] = [];
  private readonly equations: CircuitEquations;
  private readonly n: number;
  private readonly dynamic: Uint8Array;
  private readonly voltages: number;
  private x: Float64Array;
  private charge: Float64Array;
  private chargeRate: Float64Array;
  private readonly b: Float64Array;
  private readonly residual: Float64Array;
  private readonly delta: Float64Array;
  private readonly nextX: Float64Array;
  private readonly nextCharge: Float64Array;
  private readonly largest: Float64Array;
  /** Last accepted points, newest first, for the third derivative. */
  private past: { t: number; x: Float64Array }[] = [];
  private factors = new Map<string, RealLu>();
  private troubled = 0;
  private tried = 0;
  private iterated = 0;
  private time = 0;

  constructor(
    circuit: Assembled,
    private readonly request: TransientRequest,
    private readonly outputs: Float64Array,
  ) {
    this.equations = new CircuitEquations(circuit, request.conditions);
    const n = (this.n = this.equations.size);
    const array = () => new Float64Array(n);
    [
      this.x,
      this.charge,
      this.chargeRate,
      this.b,
      this.residual,
      this.delta,
      this.nextX,
      this.nextCharge,
      this.largest,
    ] = Array.from({ length: 9 }, array);
    const first = this.equations.structure.unknowns.findIndex((name) => /^i\d*\(/.test(name));
    this.voltages = first < 0 ? n : first;
    this.dynamic = new Uint8Array(n);
  }

  /** @param pattern null to choose the steps, or steps to halve. @returns unknowns at every output time. */
  run(pattern: readonly Step[][] | null): Result<Float64Array, TransientFailure> {
    const rest = restOf(this.equations, 0);
    if (!rest.ok) return rest;
    const { n, outputs, equations } = this;
    this.x.set(rest.value);
    equations.evaluate(this.x, false);
    for (let i = 0; i < n * n; i++) if (equations.chargeSlope[i] !== 0) this.dynamic[i % n] = 1;
    this.chargeAt(this.x, this.charge);
    this.noteLargest();
    const out = new Float64Array(n * outputs.length);
    out.set(this.x);
    const stop = outputs[outputs.length - 1];
    const corners = cornersOf(equations, stop);
    let [output, corner, landmark] = [1, 0, 0];
    let length = outputs.length > 1 ? outputs[1] * 1e-3 : 0;
    this.restart();
    while (output < outputs.length) {
      const target = Math.min(outputs[output], corners[corner] ?? Infinity);
      if (this.request.cancelled?.(this.time)) return failure('cancelled', { timeS: this.time });
      const atCorner = target === corners[corner];
      const done = pattern ? this.repeat(pattern[landmark], atCorner) : this.reach(target, length, atCorner);
      if (!done.ok) return done;
      landmark++;
      length = done.value;
      this.time = target;
      if (target === outputs[output]) {
        out.set(this.x, n * output);
        output++;
      }
      if (target === corners[corner]) {
        corner++;
        // Steps begin small again after a corner, and grow as the error allows.
        length = Math.min(length, 1e-3 * ((corners[corner] ?? stop) - target) || length, outputs[1] * 1e-2);
        this.restart();
      }
    }
    return success(out);
  }

  private restart(): void {
    this.past = [{ t: this.time, x: this.x.slice() }];
    this.eulerLeft = 2;
    this.jumpPending = true;
  }
  private eulerLeft = 0;
  private jumpPending = false;

  /** Halves of every step of a stretch. */
  private repeat(steps: readonly Step[], atCorner: boolean): Result<number, TransientFailure> {
    let length = 0;
    for (const [i, step] of steps.entries()) {
      for (let half = 0; half < 2; half++) {
        const moved = this.solve(step.length / 2, step.euler, atCorner && half === 1 && i === steps.length - 1);
        if (!moved) return this.stuck();
        this.accept(step.length / 2, step.euler);
      }
      length = step.length;
    }
    return success(length);
  }

  /** Steps up to a landmark; gives the length of step to go on with. */
  private reach(target: number, length: number, atCorner: boolean): Result<number, TransientFailure> {
    const steps: Step[] = [];
    let h = length;
    const smallest = Math.max(1e-14 * target, 1e-22);
    while (target - this.time > smallest) {
      const left = target - this.time;
      if (this.jumpPending) h = Math.min(h, left) * 1e-3;
      const euler = this.eulerLeft > 0;
      // Two even steps rather than one long and one tiny.
      const step = h >= left * (1 - 1e-9) ? left : h > left / 2 ? left / 2 : h;
      const most = MOST_STEPS + MOST_STEPS_A_POINT * this.outputs.length;
      if (++this.tried > most || this.iterated > ITERATIONS_A_STEP * most)
        return failure('too-many-steps', { timeS: this.time });
      const solved = this.solve(step, euler, atCorner && step === left);
      const error = solved ? this.error(step, euler) : Infinity;
      if (error > 1 && step > smallest * 4) {
        h = step * (solved ? Math.max(0.2, 0.9 * error ** (-1 / (euler ? 2 : 3))) : 0.125);
        continue;
      }
      if (!solved) return this.stuck();
      this.accept(step, euler);
      steps.push({ length: step, euler });
      const next = step * Math.min(euler ? 8 : 2, 0.9 * Math.max(error, 1e-9) ** (-1 / (euler ? 2 : 3)));
      if (this.jumpPending) {
        this.jumpPending = false;
        h = step * 1e3;
      } else h = step < left && next < h ? next : Math.max(step === left ? h : 0, next);
      if (euler) this.eulerLeft--;
    }
    this.taken.push(steps);
    return success(h);
  }

  private stuck(): Result<never, TransientFailure> {
    return failure('no-convergence', { node: this.equations.structure.unknowns[this.troubled], timeS: this.time });
  }

  private chargeAt(x: Float64Array, into: Float64Array): void {
    const { n, equations } = this;
    for (let i = 0; i < n; i++) {
      let sum = equations.charge[i];
      for (let j = 0; j < n; j++) sum += equations.c[i * n + j] * x[j];
      into[i] = sum;
    }
  }

  /**
   * Solves for the state after a step, into `nextX` and `nextCharge`. A step onto a corner sees the sources as they are
   * just before it.
   */
  private solve(h: number, euler: boolean, ontoCorner: boolean): boolean {
    const { n, equations, b, residual, delta, nextX, nextCharge } = this;
    const a = (euler ? 1 : 2) / h;
    equations.sources(b, this.time + h - (ontoCorner ? Math.max(1e-9 * h, 3e-12 * (this.time + h)) : 0));
    nextX.set(this.x);
    for (let count = 0; count < MOST_ITERATIONS; count++) {
      this.iterated++;
      const distance = equations.linear ? 0 : equations.evaluate(nextX);
      this.chargeAt(nextX, nextCharge);
      for (let i = 0; i < n; i++) {
        let sum = b[i] - equations.current[i] - a * (nextCharge[i] - this.charge[i]) + (euler ? 0 : this.chargeRate[i]);
        for (let j = 0; j < n; j++) sum -= equations.g[i * n + j] * nextX[j];
        residual[i] = sum;
      }
      const lu = this.factored(a);
      if (lu.singular) return false;
      lu.solve(residual, delta);
      let settled = distance < 1e-9;
      let worst = 0;
      for (let i = 0; i < n; i++) {
        nextX[i] += delta[i];
        // A source's current follows from the rest, and carries the rounding of charges over short steps.
        if (i >= this.voltages && !this.dynamic[i]) continue;
        const allowed = 1e-9 * Math.max(this.largest[i], Math.abs(nextX[i])) + (i < this.voltages ? 1e-9 : 1e-13);
        const size = Math.abs(delta[i]) / allowed;
        if (!(size <= worst)) [worst, this.troubled] = [size, i];
      }
      if (!(worst <= 1)) settled = false;
      if (Number.isNaN(worst)) return false;
      if (settled || equations.linear) {
        if (!equations.linear) equations.evaluate(nextX);
        this.chargeAt(nextX, nextCharge);
        return true;
      }
    }
    return false;
  }

  private factored(a: number): RealLu {
    const { equations, n } = this;
    const matrix = () =>
      (equations.linear ? equations.g : equations.currentSlope).map(
        (v, i) => v + a * (equations.linear ? equations.c : equations.chargeSlope)[i],
      );
    if (!equations.linear) return new RealLu(n, matrix());
    const key = a.toPrecision(12);
    let lu = this.factors.get(key);
    if (!lu) {
      if (this.factors.size > 32) this.factors.clear();
      this.factors.set(key, (lu = new RealLu(n, matrix())));
    }
    return lu;
  }

  private accept(h: number, euler: boolean): void {
    const { n, nextX, nextCharge } = this;
    for (let i = 0; i < n; i++) {
      const rate = (nextCharge[i] - this.charge[i]) / h;
      this.chargeRate[i] = euler ? rate : 2 * rate - this.chargeRate[i];
    }
    this.x.set(nextX);
    this.charge.set(nextCharge);
    this.time += h;
    this.past.unshift({ t: this.time, x: this.x.slice() });
    if (this.past.length > 4) this.past.pop();
    this.noteLargest();
  }

  private noteLargest(): void {
    let volts = 0;
    for (let i = 0; i < this.n; i++) {
      this.largest[i] = Math.max(this.largest[i], Math.abs(this.x[i]));
      if (i < this.voltages) volts = Math.max(volts, this.largest[i]);
    }
    this.volts = Math.max(this.volts, volts);
  }
  private volts = 0;

  /** Local error of the step just solved against what is allowed: 1 is just good enough. */
  private error(h: number, euler: boolean): number {
    const needed = euler ? 2 : 3;
    if (this.jumpPending || this.past.length < needed) return 0.5;
    const times = [this.time + h, ...this.past.slice(0, needed).map((p) => p.t)];
    let worst = 0;
    for (let i = 0; i < this.n; i++) {
      if (!this.dynamic[i]) continue;
      let values = [this.nextX[i], ...this.past.slice(0, needed).map((p) => p.x[i])];
      for (let order = 1; order <= needed; order++)
        values = values.slice(1).map((v, k) => (values[k] - v) / (times[k] - times[k + order]));
      // The divided difference is x″/2 or x‴/6.
      const local = Math.abs(values[0]) * (euler ? h * h : (h * h * h) / 2);
      const scale =
        i < this.voltages ? Math.max(this.largest[i], 1e-3 * this.volts, 1e-6) : Math.max(this.largest[i], 1e-9);
      worst = Math.max(worst, local / (TOLERANCE * scale));
    }
    return worst;
  }
}

function cornersOf(equations: CircuitEquations, stop: number): number[] {
  const times = [...(equations.circuit.sources?.values() ?? [])]
    .flatMap((source) => source.wave?.breakpoints(stop) ?? [])
    .sort((a, b) => a - b);
  const apart: number[] = [];
  for (const t of times) if (apart.length === 0 || t - apart[apart.length - 1] > 1e-12 * t) apart.push(t);
  return apart;
}
