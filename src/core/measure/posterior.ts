/**
 * What is believed of one number before anything was measured: normal, and no further off than `most`, if that is set.
 */
export interface Belief {
  readonly centre: number;
  readonly sigma: number;
  /** Beyond this distance from the centre it is as good as impossible. */
  readonly most?: number;
}

/** Standard deviation of what lies evenly between two ends, for half of what they are apart. */
export const EVEN = 1 / Math.sqrt(3);

/** Evenly within so much of a middle, as parts of a tolerance are. */
export const within = (most: number, centre = 0): Belief => ({ centre, sigma: EVEN * most, most });

/** Residuals that a state leaves, each in its own standard deviations; null where there is no answer. */
export type Residuals = (state: Float64Array) => Float64Array | null;

/** How residuals move with each number of the state; null where they cannot be had, and differences are taken. */
export type Slopes = (state: Float64Array) => readonly Float64Array[] | null;

export interface Posterior {
  readonly state: Float64Array;
  /** ln of the likelihood of what was measured, all states weighed by belief (Laplace), up to a constant. */
  readonly logEvidence: number;
  /** Sum of the squared residuals at the state. */
  readonly chiSquare: number;
  /** Standard deviation of each number by itself, and how each two go together, row-major. */
  readonly sigma: Float64Array;
  readonly correlation: Float64Array;
}

const STEP = 1e-4;
const MOST_STEPS = 6;
/** ln of the evidence: what changes less has settled. */
const SETTLED = 0.02;
/** One step moves no number further than this. */
const LONGEST = 1;
/** How soon a belief ends beyond its most, as a share of it. */
const EDGE = 0.1;

/**
 * The most probable state given residuals and beliefs, by Gauss and Newton with slopes from differences, and the
 * evidence for all of it after Laplace (D. J. C. MacKay, Neural Computation 4, 1992, Bayesian interpolation, 3). Null
 * where the residuals have no answer at the start.
 */
export function posterior(
  residuals: Residuals,
  beliefs: readonly Belief[],
  start: Float64Array,
  slopesOf: Slopes = () => null,
): Posterior | null {
  const n = beliefs.length;
  let state = start;
  const first = residuals(state);
  if (!first) return null;
  let left = first;
  let cost = costOf(left, beliefs, state);
  let [normal, gradient] = normalEquations(
    slopesOf(state) ?? differences(residuals, left, state),
    left,
    beliefs,
    state,
  );
  for (let step = 0; step < MOST_STEPS; step++) {
    const factor = cholesky(normal, n);
    if (!factor) return null;
    const move = solved(factor, gradient, n);
    const longest = move.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    let share = longest > LONGEST ? LONGEST / longest : 1;
    let better = false;
    for (let halving = 0; halving < 5 && !better; halving++, share /= 2) {
      const next = state.map((v, i) => v + share * move[i]);
      const there = residuals(next);
      const itsCost = there ? costOf(there, beliefs, next) : Infinity;
      if (!there || !(itsCost < cost)) continue;
      better = true;
      const gained = cost - itsCost;
      [state, left, cost] = [next, there, itsCost];
      if (gained < SETTLED) step = MOST_STEPS;
    }
    if (!better) break;
    [normal, gradient] = normalEquations(slopesOf(state) ?? differences(residuals, left, state), left, beliefs, state);
  }
  const factor = cholesky(normal, n);
  if (!factor) return null;
  let logVolume = 0;
  for (let i = 0; i < n; i++) logVolume += Math.log(factor[i * n + i] * beliefs[i].sigma);
  const inverse = inverseOf(factor, n);
  const sigma = Float64Array.from({ length: n }, (_, i) => Math.sqrt(inverse[i * n + i]));
  return {
    state,
    logEvidence: -cost - logVolume,
    chiSquare: left.reduce((sum, r) => sum + r * r, 0),
    sigma,
    correlation: inverse.map((v, k) => v / (sigma[Math.floor(k / n)] * sigma[k % n])),
  };
}

/** Half the sum of squares, of residuals and beliefs. */
function costOf(left: Float64Array, beliefs: readonly Belief[], state: Float64Array): number {
  let sum = 0;
  for (const r of left) sum += r * r;
  beliefs.forEach(({ centre, sigma, most }, i) => {
    sum += ((state[i] - centre) / sigma) ** 2;
    const over = most === undefined ? 0 : Math.abs(state[i] - centre) - most;
    if (over > 0) sum += (over / (EDGE * (most as number))) ** 2;
  });
  return Number.isFinite(sum) ? sum / 2 : Infinity;
}

/** Slopes of the residuals from a small step of each number. */
export function differences(residuals: Residuals, left: Float64Array, state: Float64Array): Float64Array[] {
  return Array.from(state, (_, i) => {
    const moved = state.slice();
    moved[i] += STEP;
    const there = residuals(moved);
    return there ? there.map((r, k) => (r - left[k]) / STEP) : new Float64Array(left.length);
  });
}

function normalEquations(
  slopes: readonly Float64Array[],
  left: Float64Array,
  beliefs: readonly Belief[],
  state: Float64Array,
): [Float64Array, Float64Array] {
  const n = beliefs.length;
  const [normal, gradient] = [new Float64Array(n * n), new Float64Array(n)];
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (let k = 0; k < left.length; k++) sum += slopes[i][k] * slopes[j][k];
      normal[i * n + j] = normal[j * n + i] = sum;
    }
    let pull = 0;
    for (let k = 0; k < left.length; k++) pull -= slopes[i][k] * left[k];
    const { centre, sigma, most } = beliefs[i];
    const off = state[i] - centre;
    normal[i * n + i] += 1 / sigma ** 2;
    gradient[i] = pull - off / sigma ** 2;
    const over = most === undefined ? 0 : Math.abs(off) - most;
    if (over <= 0) continue;
    const stiff = 1 / (EDGE * (most as number)) ** 2;
    normal[i * n + i] += stiff;
    gradient[i] -= stiff * over * Math.sign(off);
  }
  return [normal, gradient];
}

/** L of L Lᵀ, row-major; null where there is none (G. Golub, C. Van Loan, Matrix Computations, 4th ed., 4.2.5). */
export function cholesky(matrix: Float64Array, n: number): Float64Array | null {
  const factor = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * n + j];
      for (let k = 0; k < j; k++) sum -= factor[i * n + k] * factor[j * n + k];
      if (i === j && !(sum > 0)) return null;
      factor[i * n + j] = i === j ? Math.sqrt(sum) : sum / factor[j * n + j];
    }
  return factor;
}

/** x of L Lᵀ x = b. */
export function solved(factor: Float64Array, right: Float64Array, n: number): Float64Array {
  const x = right.slice();
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= factor[i * n + k] * x[k];
    x[i] /= factor[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= factor[k * n + i] * x[k];
    x[i] /= factor[i * n + i];
  }
  return x;
}

function inverseOf(factor: Float64Array, n: number): Float64Array {
  const inverse = new Float64Array(n * n);
  for (let j = 0; j < n; j++) {
    const unit = new Float64Array(n);
    unit[j] = 1;
    const column = solved(factor, unit, n);
    for (let i = 0; i < n; i++) inverse[i * n + j] = column[i];
  }
  return inverse;
}
