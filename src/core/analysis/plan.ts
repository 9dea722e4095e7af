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

/**
 * Orders by structure (Markowitz count; H. M. Markowitz, Management Science 3, 1957); magnitude of row- and column-equilibrated values only breaks ties
 * and bars pivots that cancelled to nothing. Works at one sample frequency of the given values.
 *
 * @returns the plan, or the unknown's index that no equation is left for.
 */
export function planElimination(structure: Structure, values: Float64Array, sampleHz: number): Plan | { readonly singularUnknown: number } {
  const n = structure.size;
  const work = new WorkMatrix(structure, values, sampleHz);
  const [rows, columns] = [new Set<number>(), new Set<number>()];
  for (let i = 0; i < n; i++) {
    rows.add(i);
    columns.add(i);
  }
  const [pivotRow, pivotColumn, pivotPosition] = [new Int32Array(n), new Int32Array(n), new Int32Array(n)];
  const tape: number[] = [];
  const rowLists: [number, number][][] = [];
  for (let k = 0; k < n; k++) {
    const pivot = work.choosePivot(rows, columns);
    if (!pivot) return { singularUnknown: [...columns][0] };
    const [p, q] = pivot;
    rows.delete(p);
    columns.delete(q);
    pivotRow[k] = p;
    pivotColumn[k] = q;
    pivotPosition[k] = work.position(p, q);
    const across = [...work.rowColumns[p]].filter((j) => columns.has(j)).sort((a, b) => a - b);
    rowLists.push(across.map((j) => [work.position(p, j), j]));
    const below = [...work.columnRows[q]].filter((i) => rows.has(i)).sort((a, b) => a - b);
    tape.push(below.length);
    for (const i of below) {
      tape.push(i, work.position(i, q), across.length);
      work.eliminate(p, q, i, across, tape);
    }
  }
  const backTape: number[] = [];
  for (let k = n - 1; k >= 0; k--) {
    backTape.push(rowLists[k].length);
    for (const [position, column] of rowLists[k]) backTape.push(position, column);
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

/** The matrix while it is being planned: its pattern, and equilibrated values to see cancellations by. */
class WorkMatrix {
  readonly rowColumns: Set<number>[];
  readonly columnRows: Set<number>[];
  readonly entryPosition: Int32Array;
  count = 0;
  private readonly index: Int32Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;

  constructor(structure: Structure, values: Float64Array, sampleHz: number) {
    const n = structure.size;
    this.n = n;
    this.rowColumns = Array.from({ length: n }, () => new Set());
    this.columnRows = Array.from({ length: n }, () => new Set());
    this.index = new Int32Array(n * n).fill(-1);
    const { g, c } = denseMatrices(structure, values);
    this.re = g;
    this.im = c.map((v) => v * 2 * Math.PI * sampleHz);
    this.entryPosition = Int32Array.from(structure.entries, (entry) => this.touch(entry.row, entry.column));
    this.equilibrate();
  }
  private readonly n: number;

  private touch(row: number, column: number): number {
    const at = row * this.n + column;
    if (this.index[at] < 0) {
      this.index[at] = this.count++;
      this.rowColumns[row].add(column);
      this.columnRows[column].add(row);
    }
    return this.index[at];
  }

  position(row: number, column: number): number {
    return this.index[row * this.n + column];
  }

  private size(at: number): number {
    return Math.abs(this.re[at]) + Math.abs(this.im[at]);
  }

  private equilibrate(): void {
    const n = this.n;
    const scaleLine = (start: number, stride: number) => {
      let largest = 0;
      for (let j = 0; j < n; j++) largest = Math.max(largest, this.size(start + j * stride));
      if (largest === 0) return;
      for (let j = 0; j < n; j++) {
        this.re[start + j * stride] /= largest;
        this.im[start + j * stride] /= largest;
      }
    };
    for (let i = 0; i < n; i++) scaleLine(i * n, 1);
    for (let j = 0; j < n; j++) scaleLine(j, n);
  }

  choosePivot(rows: Set<number>, columns: Set<number>): [number, number] | null {
    const rowCount = new Int32Array(this.n);
    const columnCount = new Int32Array(this.n);
    for (const i of rows) for (const j of this.rowColumns[i]) if (columns.has(j)) {
      rowCount[i]++;
      columnCount[j]++;
    }
    let best: [number, number] | null = null;
    let bestCost = Infinity;
    let bestSize = 0;
    for (const i of rows) {
      for (const j of this.rowColumns[i]) {
        if (!columns.has(j)) continue;
        const cost = (rowCount[i] - 1) * (columnCount[j] - 1);
        if (cost > bestCost) continue;
        const size = this.size(i * this.n + j);
        if (size < 1e-13 || (cost === bestCost && size <= bestSize)) continue;
        best = [i, j];
        bestCost = cost;
        bestSize = size;
      }
    }
    return best;
  }

  /** Eliminates column q of row i with pivot row p, writing (pivot-row position, target position) pairs to the tape. */
  eliminate(p: number, q: number, i: number, across: readonly number[], tape: number[]): void {
    const { n, re, im } = this;
    const [pivot, own] = [p * n + q, i * n + q];
    const square = re[pivot] ** 2 + im[pivot] ** 2;
    const lr = (re[own] * re[pivot] + im[own] * im[pivot]) / square;
    const li = (im[own] * re[pivot] - re[own] * im[pivot]) / square;
    for (const j of across) {
      tape.push(this.position(p, j), this.touch(i, j));
      const [u, t] = [p * n + j, i * n + j];
      const [dr, di] = [lr * re[u] - li * im[u], lr * im[u] + li * re[u]];
      const before = this.size(t) + Math.abs(dr) + Math.abs(di);
      re[t] -= dr;
      im[t] -= di;
      // What is left of a cancellation is rounding noise and no pivot.
      if (this.size(t) < 1e-14 * before) re[t] = im[t] = 0;
    }
  }
}
