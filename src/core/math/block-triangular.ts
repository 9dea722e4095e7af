/** Rows and columns of one block. */
export interface Block {
  readonly rows: readonly number[];
  readonly columns: readonly number[];
}

/**
 * The finest block-triangular form of a square pattern (A. Dulmage and N. Mendelsohn, Canadian J. Math. 10, 1958; I.
 * Duff and J. Reid, ACM TOMS 4, 1978): a matching of rows with columns, then the strongly connected parts. The
 * determinant is the product of the blocks' determinants.
 *
 * @param rows columns of the entries of each row. @returns null when no matching exists: the determinant is zero
 * whatever the values.
 */
export function blockTriangular(rows: readonly (readonly number[])[]): Block[] | null {
  const n = rows.length;
  const rowOf = new Array<number>(n).fill(-1);
  const assign = (row: number, seen: Uint8Array): boolean => {
    for (const column of rows[row]) {
      if (seen[column]) continue;
      seen[column] = 1;
      if (rowOf[column] < 0 || assign(rowOf[column], seen)) {
        rowOf[column] = row;
        return true;
      }
    }
    return false;
  };
  for (let row = 0; row < n; row++) if (!assign(row, new Uint8Array(n))) return null;
  return stronglyConnected(n, (column) => rows[rowOf[column]]).map((columns) => ({
    columns,
    rows: columns.map((c) => rowOf[c]),
  }));
}

/** Strongly connected parts of a directed graph (R. Tarjan, SIAM J. Computing 1, 1972). */
function stronglyConnected(n: number, next: (node: number) => readonly number[]): number[][] {
  const index = new Array<number>(n).fill(-1);
  const low = new Array<number>(n).fill(0);
  const waiting: number[] = [];
  const onStack = new Uint8Array(n);
  const parts: number[][] = [];
  let count = 0;
  const visit = (node: number): void => {
    index[node] = low[node] = count++;
    waiting.push(node);
    onStack[node] = 1;
    for (const other of next(node)) {
      if (index[other] < 0) {
        visit(other);
        low[node] = Math.min(low[node], low[other]);
      } else if (onStack[other]) low[node] = Math.min(low[node], index[other]);
    }
    if (low[node] !== index[node]) return;
    const part: number[] = [];
    for (let member = -1; member !== node;) {
      member = waiting.pop() as number;
      onStack[member] = 0;
      part.push(member);
    }
    parts.push(part.sort((a, b) => a - b));
  };
  for (let node = 0; node < n; node++) if (index[node] < 0) visit(node);
  return parts;
}
