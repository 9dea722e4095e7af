import { denseMatrices, driveVector, type Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { RealLu } from '../elimination/real-lu';

const ROOT6 = Math.sqrt(6);
/**
 * Radau IIA with three stages, order 5, stiffly accurate: E. Hairer and G. Wanner, Solving Ordinary Differential
 * Equations II, table IV.5.6. Where in a step its stages lie.
 */
export const STAGES = [(4 - ROOT6) / 10, (4 + ROOT6) / 10, 1];
const WEIGHTS = [
  [(88 - 7 * ROOT6) / 360, (296 - 169 * ROOT6) / 1800, (-2 + 3 * ROOT6) / 225],
  [(296 + 169 * ROOT6) / 1800, (88 + 7 * ROOT6) / 360, (-2 - 3 * ROOT6) / 225],
  [(16 - ROOT6) / 36, (16 + ROOT6) / 36, 1 / 9],
];

/** A step of one length: x₁ = P x₀ + Q u, u the drive at the three stages. P is size², Q size by 3, row-major. */
export interface Propagator {
  readonly p: Float64Array;
  readonly q: Float64Array;
}

/** One stretch of time between two output points: lengths of its steps (s), the first of them after an edge tiny. */
export interface Stretch {
  readonly startS: number;
  readonly steps: readonly number[];
  /** The source jumps at its start: the state just after is found before the stretch is walked. */
  readonly edge: boolean;
}

export type SeenStep = (stepS: number, before: Float64Array, after: Float64Array) => void;

const EDGE_SHARE = 1e-9;
/** This far, as a share of a stretch, a drive is looked at from its ends. */
const INSIDE = 1e-7;
/**
 * Steps after an edge double from this share of the stretch on, two of each length, so that each is half the time since
 * the edge.
 */
const DOUBLINGS = 12;
const GRADED: readonly number[] = [1, 1, ...Array.from({ length: DOUBLINGS }, (_, k) => [2 ** k, 2 ** k]).flat()].map(
  (units) => units / 2 ** (DOUBLINGS + 1),
);

/**
 * Stretches between evenly spaced points. After an edge the steps are graded, so that whatever is quick is followed
 * while it lasts; elsewhere there are as many as `fastestHz` calls for.
 */
export function stretches(
  fromS: number,
  toS: number,
  count: number,
  edgesS: readonly number[],
  fastestHz: number,
): Stretch[] {
  const length = (toS - fromS) / count;
  const even = Math.min(16, Math.max(1, Math.ceil(length * fastestHz * 8)));
  return Array.from({ length: count }, (_, i) => {
    const startS = fromS + i * length;
    const edge = edgesS.some((at) => Math.abs(at - startS) < 1e-6 * length);
    const first = GRADED.map((share) => (share * length) / even);
    const rest = new Array<number>(even).fill(length / even);
    return { startS, edge, steps: edge ? [...first, ...rest.slice(1)] : rest };
  });
}

/**
 * A linear circuit in time: C x' = −G x + b u(t), stepped by Radau IIA. Everything that a step of some length does is
 * one matrix, kept, so that a thousand steps of a few lengths cost little, and the steady state of a periodic drive is
 * one linear system.
 */
export class LinearMotion {
  readonly size: number;
  private readonly g: Float64Array;
  private readonly c: Float64Array;
  private readonly b: Float64Array;
  private readonly kept = new Map<string, Propagator>();

  constructor(readonly circuit: Assembled) {
    this.size = circuit.structure.size;
    ({ g: this.g, c: this.c } = denseMatrices(circuit.structure, circuit.values));
    this.b = driveVector(circuit.structure, circuit.values).re;
  }

  /** What a step of so many seconds does. Fails with `no-unique-solution` (`unknown`). */
  propagator(h: number): Result<Propagator, 'no-unique-solution'> {
    const key = h.toPrecision(10);
    const before = this.kept.get(key);
    if (before) return success(before);
    const { size: n, g, c, b } = this;
    const order = 3 * n;
    const matrix = new Float64Array(order * order);
    for (let s = 0; s < 3; s++)
      for (let t = 0; t < 3; t++)
        for (let i = 0; i < n; i++)
          for (let j = 0; j < n; j++)
            matrix[(s * n + i) * order + t * n + j] = (s === t ? c[i * n + j] : 0) + h * WEIGHTS[s][t] * g[i * n + j];
    const lu = new RealLu(order, matrix);
    if (lu.singular)
      return failure('no-unique-solution', { unknown: this.circuit.structure.unknowns[lu.singularColumn % n] ?? '' });
    const [right, x] = [new Float64Array(order), new Float64Array(order)];
    const [p, q] = [new Float64Array(n * n), new Float64Array(3 * n)];
    for (let j = 0; j < n; j++) {
      for (let i = 0; i < n; i++) right[i] = right[n + i] = right[2 * n + i] = c[i * n + j];
      lu.solve(right, x);
      for (let i = 0; i < n; i++) p[i * n + j] = x[2 * n + i];
    }
    for (let t = 0; t < 3; t++) {
      for (let s = 0; s < 3; s++) for (let i = 0; i < n; i++) right[s * n + i] = h * WEIGHTS[s][t] * b[i];
      lu.solve(right, x);
      for (let i = 0; i < n; i++) q[3 * i + t] = x[2 * n + i];
    }
    const made = { p, q };
    this.kept.set(key, made);
    return success(made);
  }

  /** Moves a state on by one step. `drive`: the source at a time inside the stretch. */
  private advance(
    x: Float64Array,
    { p, q }: Propagator,
    startS: number,
    h: number,
    drive: (timeS: number) => number,
  ): Float64Array {
    const { size: n } = this;
    const u = STAGES.map((share) => drive(startS + share * h));
    const next = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      let sum = q[3 * i] * u[0] + q[3 * i + 1] * u[1] + q[3 * i + 2] * u[2];
      for (let j = 0; j < n; j++) sum += p[i * n + j] * x[j];
      next[i] = sum;
    }
    return next;
  }

  /**
   * Holds the source at one level over steps of given lengths (s), showing the time from the start and all unknowns
   * after each; gives those at the end.
   */
  hold(
    start: Float64Array,
    level: number,
    lengths: readonly number[],
    seen: (timeS: number, state: Float64Array) => void,
  ): Result<Float64Array, 'no-unique-solution'> {
    let [x, t] = [start, 0];
    for (const h of lengths) {
      const step = this.propagator(h);
      if (!step.ok) return step;
      x = this.advance(x, step.value, 0, h, () => level);
      seen((t += h), x);
    }
    return success(x);
  }

  private stepsOf({ startS, steps, edge }: Stretch): { startS: number; h: number }[] {
    let at = startS;
    const walked = steps.map((h) => ({ startS: (at += h) - h, h }));
    return edge ? [{ startS, h: EDGE_SHARE * steps.reduce((a, b) => a + b, 0) }, ...walked] : walked;
  }

  /**
   * Walks stretches from a state; a state of zeros is a circuit at rest. Gives all unknowns at the start of every
   * stretch (just after its edge, if it has one) and at the end of the last: count + 1 rows of `size`. `seen` is shown
   * every step between, jumps left out: its length (s), the unknowns before and after.
   */
  run(
    start: Float64Array,
    walk: readonly Stretch[],
    drive: (timeS: number) => number,
    seen?: SeenStep,
  ): Result<Float64Array[], 'no-unique-solution'> {
    const rows: Float64Array[] = [];
    let x = start;
    for (const stretch of walk) {
      const steps = this.stepsOf(stretch);
      const inside = insideOf(stretch, drive);
      if (!stretch.edge) rows.push(x);
      for (let k = 0; k < steps.length; k++) {
        const step = this.propagator(steps[k].h);
        if (!step.ok) return step;
        const before = x;
        x = this.advance(x, step.value, steps[k].startS, steps[k].h, inside);
        if (stretch.edge && k === 0) rows.push(x);
        else seen?.(steps[k].h, before, x);
      }
    }
    rows.push(x);
    return success(rows);
  }

  /**
   * The state at which a walk ends as it began, for a periodic drive: x = M x + v. Fails with `no-unique-solution`
   * where nothing ever fades.
   */
  steadyState(walk: readonly Stretch[], drive: (timeS: number) => number): Result<Float64Array, 'no-unique-solution'> {
    const { size: n } = this;
    const fromRest = this.run(new Float64Array(n), walk, drive);
    if (!fromRest.ok) return fromRest;
    let product = new Float64Array(n * n);
    for (let i = 0; i < n; i++) product[i * n + i] = 1;
    for (const { h } of walk.flatMap((stretch) => this.stepsOf(stretch))) {
      const step = this.propagator(h);
      if (!step.ok) return step;
      product = times(step.value.p, product, n);
    }
    const matrix = product.map((v, i) => (i % (n + 1) === 0 ? 1 : 0) - v);
    const lu = new RealLu(n, matrix);
    if (lu.singular)
      return failure('no-unique-solution', { unknown: this.circuit.structure.unknowns[lu.singularColumn] ?? '' });
    const x = new Float64Array(n);
    lu.solve(fromRest.value[fromRest.value.length - 1], x);
    return success(x);
  }
}

/** The drive as it is between a stretch's ends: a jump at either belongs to its neighbour. */
function insideOf({ startS, steps }: Stretch, drive: (timeS: number) => number): (timeS: number) => number {
  const length = steps.reduce((a, b) => a + b, 0);
  const [low, high] = [startS + INSIDE * length, startS + (1 - INSIDE) * length];
  return (t) => drive(Math.min(high, Math.max(low, t)));
}

function times(a: Float64Array, b: Float64Array, n: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) {
      const factor = a[i * n + k];
      if (factor === 0) continue;
      for (let j = 0; j < n; j++) out[i * n + j] += factor * b[k * n + j];
    }
  return out;
}
