/**
 * Real LU with partial pivoting on implicitly scaled rows, row-major n by n, factored in place once and solved many
 * times.
 */
export class RealLu {
  private readonly order: Int32Array;
  readonly singular: boolean;
  /** Column in which no pivot was left, or −1. */
  singularColumn = -1;
  /** Smallest pivot against the largest entry its row began with. */
  smallestPivot = Infinity;

  constructor(
    private readonly n: number,
    private readonly a: Float64Array,
  ) {
    this.order = Int32Array.from({ length: n }, (_, i) => i);
    this.singular = !this.factor();
  }

  private factor(): boolean {
    const { n, a, order } = this;
    // Plain loops: this is what an operating point spends its time on.
    const weight = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      let most = 0;
      for (let at = i * n; at < i * n + n; at++) most = Math.max(most, Math.abs(a[at]));
      weight[i] = 1 / (most || 1);
    }
    if (n === 0) this.smallestPivot = 1;
    // Columns in which the pivot's row has anything: a circuit's rows have little.
    const across = new Int32Array(n);
    for (let k = 0; k < n; k++) {
      let [best, size] = [k, -1];
      for (let i = k; i < n; i++) {
        const own = Math.abs(a[order[i] * n + k]) * weight[order[i]];
        if (own > size) [best, size] = [i, own];
      }
      this.smallestPivot = Math.min(this.smallestPivot, size);
      if (!(size > 1e-280)) {
        this.singularColumn = k;
        return false;
      }
      const swapped = order[k];
      order[k] = order[best];
      order[best] = swapped;
      const p = order[k] * n;
      let count = 0;
      for (let j = k + 1; j < n; j++) if (a[p + j] !== 0) across[count++] = j;
      for (let i = k + 1; i < n; i++) {
        const r = order[i] * n;
        if (a[r + k] === 0) continue;
        const factor = (a[r + k] /= a[p + k]);
        for (let t = 0; t < count; t++) a[r + across[t]] -= factor * a[p + across[t]];
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
