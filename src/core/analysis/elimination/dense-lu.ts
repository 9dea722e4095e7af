/**
 * Complex LU with partial pivoting in place, row-major n by n, real and imaginary parts apart. Rows are equilibrated
 * only for the choice of pivots (implicit scaling; Golub and Van Loan, Matrix Computations, 4th ed., 3.5.2), so a row
 * of microsiemens competes fairly with a row of ones.
 *
 * @returns the row order, or null with no usable pivot (`singularColumn` is then set).
 */
export class ComplexLu {
  readonly order: Int32Array;
  singularColumn = -1;

  constructor(
    readonly n: number,
    readonly re: Float64Array,
    readonly im: Float64Array,
  ) {
    this.order = Int32Array.from({ length: n }, (_, i) => i);
    this.factor();
  }

  private factor(): void {
    const { n, re, im, order } = this;
    const weight = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      let largest = 0;
      for (let j = 0; j < n; j++) largest = Math.max(largest, Math.abs(re[i * n + j]) + Math.abs(im[i * n + j]));
      weight[i] = largest > 0 ? 1 / largest : 0;
    }
    for (let k = 0; k < n; k++) {
      let best = -1;
      let bestSize = 0;
      for (let i = k; i < n; i++) {
        const at = order[i] * n + k;
        const size = (Math.abs(re[at]) + Math.abs(im[at])) * weight[order[i]];
        if (size > bestSize) [best, bestSize] = [i, size];
      }
      if (best < 0 || bestSize < 1e-280) {
        this.singularColumn = k;
        return;
      }
      [order[k], order[best]] = [order[best], order[k]];
      this.eliminateBelow(k);
    }
  }

  private eliminateBelow(k: number): void {
    const { n, re, im, order } = this;
    const p = order[k] * n;
    const [pr, pi] = [re[p + k], im[p + k]];
    const square = pr * pr + pi * pi;
    for (let i = k + 1; i < n; i++) {
      const r = order[i] * n;
      const [ar, ai] = [re[r + k], im[r + k]];
      if (ar === 0 && ai === 0) continue;
      const lr = (ar * pr + ai * pi) / square;
      const li = (ai * pr - ar * pi) / square;
      re[r + k] = lr;
      im[r + k] = li;
      for (let j = k + 1; j < n; j++) {
        const [ur, ui] = [re[p + j], im[p + j]];
        re[r + j] -= lr * ur - li * ui;
        im[r + j] -= lr * ui + li * ur;
      }
    }
  }

  get singular(): boolean {
    return this.singularColumn >= 0;
  }

  /** Solves for one right-hand side (length n each part); writes into x. */
  solve(bRe: Float64Array, bIm: Float64Array, xRe: Float64Array, xIm: Float64Array): void {
    const { n, re, im, order } = this;
    for (let i = 0; i < n; i++) {
      let sr = bRe[order[i]];
      let si = bIm[order[i]];
      for (let j = 0; j < i; j++) {
        const at = order[i] * n + j;
        sr -= re[at] * xRe[j] - im[at] * xIm[j];
        si -= re[at] * xIm[j] + im[at] * xRe[j];
      }
      xRe[i] = sr;
      xIm[i] = si;
    }
    for (let i = n - 1; i >= 0; i--) {
      const row = order[i] * n;
      let sr = xRe[i];
      let si = xIm[i];
      for (let j = i + 1; j < n; j++) {
        sr -= re[row + j] * xRe[j] - im[row + j] * xIm[j];
        si -= re[row + j] * xIm[j] + im[row + j] * xRe[j];
      }
      const [pr, pi] = [re[row + i], im[row + i]];
      const square = pr * pr + pi * pi;
      xRe[i] = (sr * pr + si * pi) / square;
      xIm[i] = (si * pr - sr * pi) / square;
    }
  }
}
