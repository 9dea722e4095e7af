import { denseMatrices, type Structure } from '../circuit/structure';

/**
 * An elimination worked out once for a structure: which pivots in which order, and every position that fills in.
 * Positions index one flat list of matrix entries (fill included).
 */
export interface Plan {
  readonly size: number;
  readonly positions: number;
  /** Position of each of the structure's entries, in the structure's order. */
  readonly entryPosition: Int32Array;
  /** Pivot row, unknown (column) and position of each step. */
  readonly pivotRow: Int32Array;
  readonly pivotColumn: Int32Array;
  readonly pivotPosition: Int32Array;
  /**
   * The elimination as a tape. Per step: number of rows below; per such row: its index, the position of its multiplier,
   * a count, then that many pairs (position in the pivot row, position to update).
   */
  readonly tape: Int32Array;
  /** Back substitution, last step first: per step a count, then pairs (position in the pivot row, unknown). */
  readonly backTape: Int32Array;
}

export interface PlanOptions {
  /** Entries of the structure that change more often than the rest: pivots that meet none of them go first, so that their elimination need not be done again. */
  readonly changing?: (entry: number) => boolean;
}

/** A pivot smaller than this against its equilibrated row and column has cancelled to rounding noise. */
const LEAST_PIVOT = 1e-13;

/** A pivot this much smaller than the largest entry left in its row loses as many digits: growth of a few thousand is what the guard lets pass. */
const LEAST_SHARE = 1e-3;

/**
 * Orders by structure (Markowitz count; H. M. Markowitz, Management Science 3, 1957); magnitude of row- and column-equilibrated values only breaks ties
 * and bars pivots that cancelled to nothing. Works at one sample frequency of the given values.
 *
 * @returns the plan, or the unknown's index that no equation is left for.
 */
export function planElimination(structure: Structure, values: Float64Array, sampleHz: number, options: PlanOptions = {}): Plan | { readonly singularUnknown: number } {
  const n = structure.size;
  const work = new WorkMatrix(structure, values, sampleHz, options);
  const [pivotRow, pivotColumn, pivotPosition] = [new Int32Array(n), new Int32Array(n), new Int32Array(n)];
  const tape: number[] = [];
  const rowLists: number[][] = [];
  for (let k = 0; k < n; k++) {
    const pivot = work.choosePivot();
    if (pivot < 0) return { singularUnknown: work.columnDone.indexOf(0) };
    const [p, q] = [Math.floor(pivot / n), pivot % n];
    pivotRow[k] = p;
    pivotColumn[k] = q;
    pivotPosition[k] = work.index[pivot];
    const { across, below } = work.takeOut(p, q);
    const pairs: number[] = [];
    for (const j of across) pairs.push(work.index[p * n + j], j);
    rowLists.push(pairs);
    tape.push(below.length);
    for (const i of below) {
      tape.push(i, work.index[i * n + q], across.length);
      work.eliminate(p, q, i, across, tape);
    }
  }
  const backTape: number[] = [];
  for (let k = n - 1; k >= 0; k--) {
    backTape.push(rowLists[k].length / 2);
    for (const number of rowLists[k]) backTape.push(number);
  }
  return {
    size: n,
    positions: work.count,
    entryPosition: work.entryPosition,
    pivotRow,
    pivotColumn,
    pivotPosition,
    tape: Int32Array.from(tape),
    backTape: Int32Array.from(backTape),
  };
}

/** The matrix while it is being planned: the pattern of what is left, and equilibrated values to see cancellations by. */
class WorkMatrix {
  readonly entryPosition: Int32Array;
  /** Position of each (row, column) among the plan's, or −1. */
  readonly index: Int32Array;
  readonly columnDone: Uint8Array;
  count = 0;
  private readonly n: number;
  private readonly rowColumns: number[][];
  private readonly columnRows: number[][];
  private readonly rowDone: Uint8Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly changing: Uint8Array;
  private readonly anyChanging: boolean;
  /** What a row or column that holds a changing entry costs extra as a pivot's. */
  private readonly rowChanges: Float64Array;
  private readonly columnChanges: Float64Array;

  constructor(structure: Structure, values: Float64Array, sampleHz: number, options: PlanOptions) {
    const n = (this.n = structure.size);
    this.rowColumns = Array.from({ length: n }, () => []);
    this.columnRows = Array.from({ length: n }, () => []);
    this.index = new Int32Array(n * n).fill(-1);
    this.changing = new Uint8Array(n * n);
    this.anyChanging = options.changing !== undefined;
    [this.rowChanges, this.columnChanges] = [new Float64Array(n), new Float64Array(n)];
    [this.rowDone, this.columnDone] = [new Uint8Array(n), new Uint8Array(n)];
    const { g, c } = denseMatrices(structure, values);
    this.re = g;
    for (let i = 0; i < c.length; i++) c[i] *= 2 * Math.PI * sampleHz;
    this.im = c;
    this.entryPosition = Int32Array.from(structure.entries, (entry, e) => {
      if (options.changing?.(e)) this.changing[entry.row * n + entry.column] = 1;
      return this.touch(entry.row, entry.column);
    });
    this.equilibrate();
  }

  private touch(row: number, column: number): number {
    const at = row * this.n + column;
    if (this.index[at] < 0) {
      this.index[at] = this.count++;
      this.rowColumns[row].push(column);
      this.columnRows[column].push(row);
    }
    return this.index[at];
  }

  private size(at: number): number {
    return Math.abs(this.re[at]) + Math.abs(this.im[at]);
  }

  private equilibrate(): void {
    const { n, re, im } = this;
    const scaleLine = (start: number, stride: number, members: readonly number[]) => {
      let largest = 0;
      for (const k of members) largest = Math.max(largest, this.size(start + k * stride));
      if (largest === 0) return;
      for (const k of members) {
        re[start + k * stride] /= largest;
        im[start + k * stride] /= largest;
      }
    };
    for (let i = 0; i < n; i++) scaleLine(i * n, 1, this.rowColumns[i]);
    for (let j = 0; j < n; j++) scaleLine(j, n, this.columnRows[j]);
  }

  /** Row · n + column of the best pivot left, or −1. */
  choosePivot(): number {
    const { n, rowColumns, columnRows, rowDone, changing } = this;
    let best = -1;
    let [bestCost, bestSize] = [Infinity, 0];
    const { rowChanges, columnChanges } = this;
    if (this.anyChanging)
      for (let k = 0; k < n; k++) {
        rowChanges[k] = rowColumns[k].some((j) => changing[k * n + j] === 1) ? n * n : 0;
        columnChanges[k] = columnRows[k].some((i) => changing[i * n + k] === 1) ? n * n : 0;
      }
    for (let i = 0; i < n; i++) {
      if (rowDone[i]) continue;
      const columns = rowColumns[i];
      let largest = 0;
      for (const j of columns) largest = Math.max(largest, this.size(i * n + j));
      const least = Math.max(LEAST_PIVOT, LEAST_SHARE * largest);
      for (const j of columns) {
        const cost = (columns.length - 1) * (columnRows[j].length - 1) + Math.max(rowChanges[i], columnChanges[j]);
        if (cost > bestCost) continue;
        const size = this.size(i * n + j);
        if (size < least || (cost === bestCost && size <= bestSize)) continue;
        best = i * n + j;
        bestCost = cost;
        bestSize = size;
      }
    }
    return best;
  }

  /** Takes a pivot's row and column out of what is left: its other columns, and the rows below it. */
  takeOut(p: number, q: number): { across: number[]; below: number[] } {
    this.rowDone[p] = 1;
    this.columnDone[q] = 1;
    const across = this.rowColumns[p].filter((j) => j !== q).sort((a, b) => a - b);
    const below = this.columnRows[q].filter((i) => i !== p).sort((a, b) => a - b);
    const drop = (list: number[], member: number) => list.splice(list.indexOf(member), 1);
    for (const j of across) drop(this.columnRows[j], p);
    for (const i of below) drop(this.rowColumns[i], q);
    this.rowColumns[p] = [];
    this.columnRows[q] = [];
    return { across, below };
  }

  /** Eliminates column q of row i with pivot row p, writing (pivot-row position, target position) pairs to the tape. */
  eliminate(p: number, q: number, i: number, across: readonly number[], tape: number[]): void {
    const { n, re, im, changing } = this;
    const [pivot, own] = [p * n + q, i * n + q];
    const square = re[pivot] ** 2 + im[pivot] ** 2;
    const lr = (re[own] * re[pivot] + im[own] * im[pivot]) / square;
    const li = (im[own] * re[pivot] - re[own] * im[pivot]) / square;
    for (const j of across) {
      const u = p * n + j;
      const t = i * n + j;
      tape.push(this.index[u], this.touch(i, j));
      changing[t] |= changing[u] | changing[own] | changing[pivot];
      const dr = lr * re[u] - li * im[u];
      const di = lr * im[u] + li * re[u];
      const before = this.size(t) + Math.abs(dr) + Math.abs(di);
      re[t] -= dr;
      im[t] -= di;
      // What is left of a cancellation is rounding noise and no pivot.
      if (this.size(t) < 1e-14 * before) re[t] = im[t] = 0;
    }
  }
}
