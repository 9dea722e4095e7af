/**
 * Solutions at many frequencies. They stay as they are until the next solve of any kernel: whoever needs them longer
 * copies them.
 */
export interface Points {
  readonly data: Float64Array;
  /**
   * Where in `data` they begin. Two frequencies lie side by side: of unknown u (k-th of n) at point f, re is at start +
   * 4·(n·⌊f/2⌋ + k) + 2·(f mod 2), im after it.
   */
  readonly start: number;
}

/**
 * The one door between a circuit's equations and whatever solves them. A kernel belongs to a structure; values come
 * with each call, so that dragging, spread draws and controls write values only. Kernels are interchangeable: dense
 * reference, plan replay, compiled code.
 */
export interface AcKernel {
  /**
   * Solves (G + jωC) x = b at every frequency for the AC sources of the circuit.
   * @param values value slots of the structure
   * @param frequenciesHz any order
   * @param unknowns which unknowns to keep
   * @returns not-a-number where the system has no solution.
   */
  solve(values: Float64Array, frequenciesHz: Float64Array, unknowns: Int32Array): Points;
}

/** How many doubles the points of a sweep take. */
const pointsLength = (unknowns: number, frequencies: number): number => 4 * unknowns * ((frequencies + 1) >> 1);

/** One unknown's solutions, interleaved re, im, in an array of their own. */
export function rowOf({ data, start }: Points, k: number, unknowns: number, frequencies: number): Float64Array {
  const row = new Float64Array(2 * frequencies);
  for (let f = 0; f < frequencies; f++) {
    const at = start + 4 * (unknowns * (f >> 1) + k) + 2 * (f & 1);
    row[2 * f] = data[at];
    row[2 * f + 1] = data[at + 1];
  }
  return row;
}

/** Room for the points of kernels that have none of their own. */
export class PointBuffer implements Points {
  data = new Float64Array(0);
  readonly start = 0;
  private unknowns = 0;

  prepare(unknowns: number, frequencies: number): this {
    this.unknowns = unknowns;
    const length = pointsLength(unknowns, frequencies);
    if (this.data.length < length) this.data = new Float64Array(length);
    return this;
  }

  put(k: number, f: number, re: number, im: number): void {
    const at = 4 * (this.unknowns * (f >> 1) + k) + 2 * (f & 1);
    this.data[at] = re;
    this.data[at + 1] = im;
  }
}

/** Componentwise backward error above which a static pivot order is not trusted at a point. */
export const BACKWARD_ERROR_LIMIT = 1e-12;
/** Every how many points of a sweep the guard looks, as long as it finds nothing. */
export const GUARD_STRIDE = 16;
