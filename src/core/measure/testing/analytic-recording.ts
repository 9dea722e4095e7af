/**
 * Samples through a second-order low-pass by its bilinear transform: another way than any of the product's (A. V.
 * Oppenheim and R. W. Schafer, Discrete-Time Signal Processing, 7.2).
 */
export function sallenKey(samples: Float64Array, rateHz: number, cutoffHz: number, q: number): Float64Array {
  const k = Math.tan((Math.PI * cutoffHz) / rateHz);
  const norm = 1 / (1 + k / q + k * k);
  const [b0, a1, a2] = [k * k * norm, 2 * (k * k - 1) * norm, (1 - k / q + k * k) * norm];
  const out = new Float64Array(samples.length);
  for (let i = 0; i < samples.length; i++) {
    const [x1, x2, y1, y2] = [samples[i - 1] ?? 0, samples[i - 2] ?? 0, out[i - 1] ?? 0, out[i - 2] ?? 0];
    out[i] = b0 * (samples[i] + 2 * x1 + x2) - a1 * y1 - a2 * y2;
  }
  return out;
}
