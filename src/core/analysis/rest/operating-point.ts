import type { Assembled } from '../../circuit/structure';
import { failure, success, type Failure, type Result } from '../../result';
import { CircuitEquations, type Conditions } from './equations';
import { RealLu } from '../elimination/real-lu';

/** The resting state of a circuit: every unknown, in the structure's order. */
export type OperatingPoint = Float64Array;
export type OperatingPointFailure = 'no-convergence' | 'no-unique-solution';

const MOST_STEPS = 150;
const STEPS_NEAR = 12;
/** Conductances that are tried one after the other, S from the first to the last; and how often either way is tried. */
const FIRST_LEAK = 0.1;
const LEAST_LEAK = 1e-14;
const MOST_TRIES = 400;
/**
 * Conductance (S) from every node to ground, and resistance (Ω) in every coil, where capacitors or loops of coils leave
 * the resting state open.
 */
const REST_LEAK = 1e-12;
const REST_OHM = 1e-9;

/**
 * Finds where a circuit rests with capacitors open and coils shorted: Newton with limited junction steps; where that
 * fails, with a conductance from every node to ground taken away decade by decade; where that fails, with the sources
 * brought up from nothing (J. Vlach and K. Singhal, Computer Methods for Circuit Analysis and Design, 12.3).
 *
 * Converged to 1e-10 of each value. Fails with `no-convergence` (`node` that moved most, `iterations`) or
 * `no-unique-solution` (`unknown`).
 */
export function operatingPoint(
  circuit: Assembled,
  conditions: Conditions = {},
  timeS: number | 'rest' = 'rest',
): Result<OperatingPoint, OperatingPointFailure> {
  return restOf(new CircuitEquations(circuit, conditions), timeS);
}

/**
 * The same from a rest that cannot be far, such as that of slightly other part values: a few steps instead of dozens.
 * Looks from scratch where that leads nowhere, unless it is to stay near.
 */
export function operatingPointNear(
  circuit: Assembled,
  near: OperatingPoint,
  { stay = false, ...conditions }: Conditions & { readonly stay?: boolean } = {},
): Result<OperatingPoint, OperatingPointFailure> {
  const equations = new CircuitEquations(circuit, conditions);
  const found = new Search(equations, 'rest').from(near);
  return found.ok || stay ? found : restOf(equations, 'rest');
}

export function restOf(
  equations: CircuitEquations,
  timeS: number | 'rest',
): Result<OperatingPoint, OperatingPointFailure> {
  equations.reset();
  const search = new Search(equations, timeS);
  const first = search.newton(0, 1);
  if (first.ok || first.code === 'no-unique-solution') return first;
  const stepped = search.byLeak();
  if (stepped.ok) return stepped;
  return search.bySources();
}

/** A stride down by less than this is none. */
const LEAST_STRIDE = 1.05;

/**
 * Comes down from one value to another by strides, each a factor: longer after one that can be taken, shorter after one
 * that cannot, always from where it has come to. False where the first cannot be taken, or no stride down can, or after
 * 400 tries.
 */
export function comeDown(first: number, least: number, take: (value: number) => boolean): boolean {
  if (!take(first)) return false;
  let [reached, stride] = [first, 10];
  for (let tries = 0; tries < MOST_TRIES && reached > least; tries++) {
    if (take(reached / stride)) {
      reached /= stride;
      stride = Math.min(10, stride * 1.5);
    } else if (stride < LEAST_STRIDE) return false;
    else stride = Math.sqrt(stride);
  }
  return reached <= least;
}

class Search {
  private readonly n: number;
  private readonly b: Float64Array;
  private readonly residual: Float64Array;
  private readonly step: Float64Array;
  private x: Float64Array;
  private iterations = 0;
  private leakEverywhere = 0;
  /** Unknown that moved most in the last step. */
  private worst = 0;

  constructor(
    private readonly equations: CircuitEquations,
    private readonly timeS: number | 'rest',
  ) {
    this.n = equations.size;
    this.b = new Float64Array(this.n);
    this.residual = new Float64Array(this.n);
    this.step = new Float64Array(this.n);
    this.x = new Float64Array(this.n);
  }

  private start(): void {
    this.x.fill(0);
    this.equations.reset();
  }

  from(near: OperatingPoint): Result<OperatingPoint, OperatingPointFailure> {
    this.x.set(near);
    this.equations.evaluate(near, false);
    return this.newton(0, 1, STEPS_NEAR);
  }

  private get nodes(): number {
    const first = this.equations.structure.unknowns.findIndex((name) => /^i\d*\(/.test(name));
    return first < 0 ? this.n : first;
  }

  /** Newton from where x stands. */
  newton(leak: number, scale: number, most = MOST_STEPS): Result<OperatingPoint, OperatingPointFailure> {
    const { equations, n, x, b, residual, step } = this;
    equations.sources(b, this.timeS, scale);
    const nodes = this.nodes;
    for (let count = 0; count < most; count++) {
      this.iterations++;
      const distance = equations.evaluate(x);
      const matrix = equations.currentSlope.slice();
      const toGround = leak + this.leakEverywhere;
      if (toGround > 0) for (let i = 0; i < nodes; i++) matrix[i * n + i] += toGround;
      if (this.leakEverywhere > 0)
        for (let i = nodes; i < n; i++) if (equations.c[i * n + i] < 0) matrix[i * n + i] -= REST_OHM;
      for (let i = 0; i < n; i++) {
        let sum = b[i] - equations.current[i] - (i < nodes ? toGround * x[i] : 0);
        for (let j = 0; j < n; j++) sum -= equations.g[i * n + j] * x[j];
        residual[i] = sum;
      }
      const lu = new RealLu(n, matrix);
      if (lu.singular || lu.smallestPivot < 1e-15) {
        if (this.leakEverywhere === 0) {
          this.leakEverywhere = REST_LEAK;
          continue;
        }
        if (lu.singular)
          return failure('no-unique-solution', { unknown: equations.structure.unknowns[lu.singularColumn] });
      }
      lu.solve(residual, step);
      let settled = distance < 1e-9;
      let largest = 0;
      for (let i = 0; i < n; i++) {
        x[i] += step[i];
        const allowed = 1e-10 * Math.abs(x[i]) + (i < nodes ? 1e-10 : 1e-14);
        if (!(Math.abs(step[i]) <= allowed)) settled = false;
        const size = Math.abs(step[i]) / allowed;
        if (!(size <= largest)) [largest, this.worst] = [size, i];
      }
      if (!x.every(Number.isFinite)) break;
      if (settled || (equations.linear && count > 0)) return success(x.slice());
    }
    return this.unsettled();
  }

  private unsettled(): Failure<'no-convergence'> {
    const { unknowns } = this.equations.structure;
    return failure('no-convergence', { node: unknowns[this.worst], iterations: this.iterations });
  }

  byLeak(): Result<OperatingPoint, OperatingPointFailure> {
    this.start();
    let stuck: Failure<OperatingPointFailure> = this.unsettled();
    let last: Float64Array = this.x.slice();
    const arrived = comeDown(FIRST_LEAK, LEAST_LEAK, (leak) => {
      const found = this.newton(leak, 1, 60);
      if (found.ok) last = found.value;
      else {
        stuck = found;
        this.x.set(last);
      }
      return found.ok;
    });
    return arrived ? this.newton(0, 1) : stuck;
  }

  bySources(): Result<OperatingPoint, OperatingPointFailure> {
    this.start();
    let [scale, stride] = [0, 0.1];
    let last: Float64Array = this.x.slice();
    for (let tries = 0; tries < MOST_TRIES && scale < 1; tries++) {
      const next = Math.min(1, scale + stride);
      const found = this.newton(0, next, 60);
      if (found.ok) {
        [scale, stride, last] = [next, stride * 1.5, found.value];
      } else {
        stride /= 4;
        if (stride < 1e-6) return found;
        this.x.set(last);
      }
    }
    return scale < 1 ? this.unsettled() : success(last);
  }
}
