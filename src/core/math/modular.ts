/**
 * Arithmetic modulo a prime below 2^26, so that products stay exact in a double. Floating-point numbers map to residues
 * exactly (m·2^e), which makes "is this coefficient zero?" a question with an answer, where floating-point determinants
 * only have opinions.
 */
export const PRIME = 67108859;

export const residueProduct = (a: number, b: number): number => (a * b) % PRIME;

function residuePower(base: number, exponent: number): number {
  let [result, square] = [1, base];
  for (let e = exponent; e > 0; e = Math.floor(e / 2)) {
    if (e % 2 === 1) result = residueProduct(result, square);
    square = residueProduct(square, square);
  }
  return result;
}

/** Inverse by Fermat's little theorem; 0 for 0. */
export const residueInverse = (a: number): number => residuePower(a, PRIME - 2);

/** Residue of a finite double, exactly. */
export function residueOf(value: number): number {
  if (value === 0) return 0;
  let exponent = Math.max(-1000, Math.floor(Math.log2(Math.abs(value))) - 52);
  let mantissa = Math.abs(value) * 2 ** -exponent;
  while (!Number.isInteger(mantissa)) {
    mantissa *= 2;
    exponent--;
  }
  const size = Number(BigInt(mantissa) % BigInt(PRIME));
  const power = residuePower(2, Math.abs(exponent));
  const residue = residueProduct(size, exponent >= 0 ? power : residueInverse(power));
  return value < 0 ? (PRIME - residue) % PRIME : residue;
}

/** Determinant of a row-major n by n matrix of residues, which is overwritten. */
export function residueDeterminant(a: Float64Array, n: number): number {
  let determinant = 1;
  for (let k = 0; k < n; k++) {
    let pivot = k;
    while (pivot < n && a[pivot * n + k] === 0) pivot++;
    if (pivot === n) return 0;
    if (pivot !== k) {
      for (let j = k; j < n; j++) [a[k * n + j], a[pivot * n + j]] = [a[pivot * n + j], a[k * n + j]];
      determinant = PRIME - determinant;
    }
    determinant = residueProduct(determinant, a[k * n + k]);
    const inverse = residueInverse(a[k * n + k]);
    for (let i = k + 1; i < n; i++) {
      if (a[i * n + k] === 0) continue;
      const factor = PRIME - residueProduct(a[i * n + k], inverse);
      for (let j = k; j < n; j++) a[i * n + j] = (a[i * n + j] + factor * a[k * n + j]) % PRIME;
    }
  }
  return determinant % PRIME;
}

/**
 * Coefficients, lowest power first, of the polynomial of a degree up to `values.length − 1` that takes these values at
 * 1, 2, 3 … (Newton's interpolation).
 */
export function residuePolynomial(values: readonly number[]): number[] {
  const differences = [...values];
  for (let order = 1; order < values.length; order++)
    for (let i = values.length - 1; i >= order; i--)
      differences[i] = residueProduct((differences[i] - differences[i - 1] + PRIME) % PRIME, residueInverse(order));
  let coefficients = [0];
  for (let i = values.length - 1; i >= 0; i--) {
    // Multiply by (s − (i + 1)) and add the difference.
    const next = new Array<number>(coefficients.length + 1).fill(0);
    coefficients.forEach((c, k) => {
      next[k + 1] = (next[k + 1] + c) % PRIME;
      next[k] = (next[k] + residueProduct(c, PRIME - ((i + 1) % PRIME))) % PRIME;
    });
    next[0] = (next[0] + differences[i]) % PRIME;
    coefficients = next;
  }
  return coefficients;
}
