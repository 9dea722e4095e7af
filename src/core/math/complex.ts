/** A complex number as a pair, for design equations and single points; sweeps use interleaved typed arrays instead. */
export interface Complex {
  readonly re: number;
  readonly im: number;
}

export const complex = (re: number, im = 0): Complex => ({ re, im });
export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
export const subtract = (a: Complex, b: Complex): Complex => ({ re: a.re - b.re, im: a.im - b.im });
export const multiply = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
});
export const scale = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k });
export const magnitude = (a: Complex): number => Math.hypot(a.re, a.im);

/** Quotient by Smith's method (R. L. Smith, Algorithm 116, Comm. ACM 5, 1962): no overflow in the middle. */
export function divide(a: Complex, b: Complex): Complex {
  if (Math.abs(b.re) >= Math.abs(b.im)) {
    const ratio = b.im / b.re;
    const denominator = b.re + b.im * ratio;
    return { re: (a.re + a.im * ratio) / denominator, im: (a.im - a.re * ratio) / denominator };
  }
  const ratio = b.re / b.im;
  const denominator = b.re * ratio + b.im;
  return { re: (a.re * ratio + a.im) / denominator, im: (a.im * ratio - a.re) / denominator };
}

/** A real polynomial, lowest power first, at a complex point (Horner). */
export function evaluate(coefficients: readonly number[], s: Complex): Complex {
  let value = complex(0);
  for (let i = coefficients.length - 1; i >= 0; i--) value = add(multiply(value, s), complex(coefficients[i]));
  return value;
}

/** Product of two responses, point by point, each re and im by turns. */
export function timesResponse(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length);
  for (let i = 0; i < a.length; i += 2) {
    out[i] = a[i] * b[i] - a[i + 1] * b[i + 1];
    out[i + 1] = a[i] * b[i + 1] + a[i + 1] * b[i];
  }
  return out;
}
