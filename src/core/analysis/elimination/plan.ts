import { entryValue, type Structure } from '../../circuit/structure';

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
  /**
   * Entries of the structure that change more often than the rest: pivots that meet none of them go first, so that
   * their elimination need not be done again.
   */
  readonly changing?: (entry: number) => boolean;
}

/** A pivot smaller than this against its equilibrated row and column has cancelled to rounding noise. */
const LEAST_PIVOT = 1e-13;

/**
 * A pivot this much smaller than the largest entry left in its row loses as many digits: growth of a few thousand is
 * what the guard lets pass.
 */
const LEAST_SHARE = 1e-3;

/**
 * Orders by structure (Markowitz count; H. M. Markowitz, Management Science 3, 1957); magnitude of row- and
 * column-equilibrated values only breaks ties and bars pivots that cancelled to nothing. Works at one sample frequency
 * of the given values.
 *
 * @returns the plan, or the unknown's index that no equation is left for.
 */
export function planElimination(
  structure: Structure,
  values: Float64Array,
  sampleHz: number,
  options: PlanOptions = {},
): Plan | { readonly singularUnknown: number } {
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
    pivotPosition[k] = work.position(p, q);
    const { across, below } = work.takeOut(p, q);
    const pairs: number[] = [];
    for (const j of across) pairs.push(work.position(p, j), j);
    rowLists.push(pairs);
    tape.push(below.length);
    for (const i of below) {
      tape.push(i, work.position(i, q), across.length);
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

/**
 * The matrix while it is being planned: the pattern of what is left, and equilibrated values to see cancellations by.
 * Sparse, since a deck may have thousands of nodes.
 */
class WorkMatrix {
  readonly entryPosition: Int32Array;
  readonly columnDone: Uint8Array;
  private readonly n: number;
  /** Position of each (row · n + column). */
  private readonly positions = new Map<number, number>();
  private readonly rowColumns: number[][];
  private readonly columnRows: number[][];
  private readonly rowDone: Uint8Array;
  /** By position. */
  private readonly re: number[] = [];
  private readonly im: number[] = [];
  private readonly changing: number[] = [];
  private readonly anyChanging: boolean;
  /** What a row or column that holds a changing entry costs extra as a pivot's. */
  private readonly rowChanges: Float64Array;
  private readonly columnChanges: Float64Array;

  constructor(structure: Structure, values: Float64Array, sampleHz: number, options: PlanOptions) {
    const n = (this.n = structure.size);
    this.rowColumns = Array.from({ length: n }, () => []);
    this.columnRows = Array.from({ length: n }, () => []);
    [this.rowDone, this.columnDone] = [new Uint8Array(n), new Uint8Array(n)];
    [this.rowChanges, this.columnChanges] = [new Float64Array(n), new Float64Array(n)];
    this.anyChanging = options.changing !== undefined;
    const omega = 2 * Math.PI * sampleHz;
    this.entryPosition = Int32Array.from(structure.entries, (entry, e) => {
      const at = this.touch(entry.row, entry.column);
      if (entry.order === 0) this.re[at] += entryValue(entry, values);
      else this.im[at] += omega * entryValue(entry, values);
      if (options.changing?.(e)) this.changing[at] = 1;
      return at;
    });
    this.equilibrate();
  }

  get count(): number {
    return this.re.length;
  }

  position(row: number, column: number): number {
    return this.positions.get(row * this.n + column) as number;
  }

  private touch(row: number, column: number): number {
    const key = row * this.n + column;
    let at = this.positions.get(key);
    if (at === undefined) {
      this.positions.set(key, (at = this.re.length));
      this.re.push(0);
      this.im.push(0);
      this.changing.push(0);
      this.rowColumns[row].push(column);
      this.columnRows[column].push(row);
    }
    return at;
  }

  private size(at: number): number {
    return Math.abs(this.re[at]) + Math.abs(this.im[at]);
  }

  private equilibrate(): void {
    const scaleLine = (members: readonly number[]) => {
      let largest = 0;
      for (const at of members) largest = Math.max(largest, this.size(at));
      if (largest === 0) return;
      for (const at of members) {
        this.re[at] /= largest;
        this.im[at] /= largest;
      }
    };
    this.rowColumns.forEach((columns, i) => scaleLine(columns.map((j) => this.position(i, j))));
    this.columnRows.forEach((rows, j) => scaleLine(rows.map((i) => this.position(i, j))));
  }

  /** Row · n + column of the best pivot left, or −1. */
  choosePivot(): number {
    const { n, rowColumns, columnRows, rowDone, rowChanges, columnChanges } = this;
    let best = -1;
    let bestCost = Infinity;
    let bestSize = 0;
    if (this.anyChanging)
      for (let k = 0; k < n; k++) {
        rowChanges[k] = rowColumns[k].some((j) => this.changing[this.position(k, j)] === 1) ? n * n : 0;
        columnChanges[k] = columnRows[k].some((i) => this.changing[this.position(i, k)] === 1) ? n * n : 0;
      }
    for (let i = 0; i < n; i++) {
      if (rowDone[i]) continue;
      const columns = rowColumns[i];
      let largest = 0;
      for (const j of columns) largest = Math.max(largest, this.size(this.position(i, j)));
      const least = Math.max(LEAST_PIVOT, LEAST_SHARE * largest);
      for (const j of columns) {
        const cost = (columns.length - 1) * (columnRows[j].length - 1) + Math.max(rowChanges[i], columnChanges[j]);
        if (cost > bestCost) continue;
        const size = this.size(this.position(i, j));
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
    const { re, im, changing } = this;
    const pivot = this.position(p, q);
    const own = this.position(i, q);
    const square = re[pivot] ** 2 + im[pivot] ** 2;
    const lr = (re[own] * re[pivot] + im[own] * im[pivot]) / square;
    const li = (im[own] * re[pivot] - re[own] * im[pivot]) / square;
    for (const j of across) {
      const u = this.position(p, j);
      const t = this.touch(i, j);
      tape.push(u, t);
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
