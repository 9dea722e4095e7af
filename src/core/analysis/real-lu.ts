/**
 * Real LU with partial pivoting on implicitly scaled rows, row-major n by n, factored in place once and solved many
 * times.
 */
export class RealLu {
  private readonly order: number[];
  readonly singular: boolean;
  /** Column in which no pivot was left, or −1. */
  singularColumn = -1;
  /** Smallest pivot against the largest entry its row began with. */
  smallestPivot = Infinity;

  constructor(
    private readonly n: number,
    private readonly a: Float64Array,
  ) {
    this.order = Array.from({ length: n }, (_, i) => i);
    this.singular = !this.factor();
  }

  private factor(): boolean {
    const { n, a, order } = this;
    const weight = order.map(
      (i) => 1 / (a.subarray(i * n, i * n + n).reduce((m, v) => Math.max(m, Math.abs(v)), 0) || 1),
    );
    if (n === 0) this.smallestPivot = 1;
    for (let k = 0; k < n; k++) {
      let best = k;
      const size = (i: number) => Math.abs(a[order[i] * n + k]) * weight[order[i]];
      for (let i = k + 1; i < n; i++) if (size(i) > size(best)) best = i;
      this.smallestPivot = Math.min(this.smallestPivot, size(best));
      if (!(size(best) > 1e-280)) {
        this.singularColumn = k;
        return false;
      }
      [order[k], order[best]] = [order[best], order[k]];
      const p = order[k] * n;
      for (let i = k + 1; i < n; i++) {
        const r = order[i] * n;
        if (a[r + k] === 0) continue;
        const factor = (a[r + k] /= a[p + k]);
        for (let j = k + 1; j < n; j++) a[r + j] -= factor * a[p + j];
      }
    }
    return true;
  }

  solve(b: Float64Array, x: Float64Array): void {
    const { n, a, order } = this;
    for (let i = 0; i < n; i++) {
      let sum = b[order[i]];
      for (let j = 0; j < i; j++) sum -= a[order[i] * n + j] * x[j];
      x[i] = sum;
    }
    for (let i = n - 1; i >= 0; i--) {
      let sum = x[i];
      for (let j = i + 1; j < n; j++) sum -= a[order[i] * n + j] * x[j];
      x[i] = sum / a[order[i] * n + i];
    }
  }
}
