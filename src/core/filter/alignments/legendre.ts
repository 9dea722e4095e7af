import { polynomialRoots } from '../../math/roots';
import { sectionsOfPoles } from '../section';
import { HIGHEST_ORDER, ordersUpTo, type Alignment } from './define-alignment';

const multiply = (a: readonly number[], b: readonly number[]): number[] => {
  const product = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (product[i + j] += x * y)));
  return product;
};

/** Legendre polynomials P0 … Pn, lowest power first: (k + 1) P_{k+1} = (2k + 1) x P_k − k P_{k−1}. */
function legendrePolynomials(highest: number): number[][] {
  const list = [[1], [0, 1]];
  for (let k = 1; k < highest; k++) {
    const next = [0, ...list[k].map((c) => (c * (2 * k + 1)) / (k + 1))];
    list[k - 1].forEach((c, i) => (next[i] -= (c * k) / (k + 1)));
    list.push(next);
  }
  return list;
}

/**
 * L_n(ω²) of |H|² = 1 / (1 + L_n(ω²)), lowest power of ω² first: the integral up to 2ω² − 1 of a squared sum of
 * Legendre polynomials (A. Papoulis, Proc. IRE 46, 1958, for odd orders; M. Fukada, IRE Trans. CT-6, 1959, for even
 * ones).
 */
export function optimumL(order: number): number[] {
  const k = Math.floor((order - 1) / 2);
  const polynomials = legendrePolynomials(Math.max(1, k));
  const sum = new Array<number>(k + 1).fill(0);
  const scale = order % 2 === 1 ? 1 / (Math.SQRT2 * (k + 1)) : 1 / Math.sqrt((k + 1) * (k + 2));
  for (let i = 0; i <= k; i++) {
    // Even orders take every second polynomial only, those of k's own parity.
    if (order % 2 === 0 && (i - k) % 2 !== 0) continue;
    polynomials[i].forEach((c, power) => (sum[power] += c * (2 * i + 1) * scale));
  }
  const square = multiply(sum, sum);
  const integrand = order % 2 === 0 ? multiply(square, [1, 1]) : square;
  const integral = [0, ...integrand.map((c, i) => c / (i + 1))];
  const atLower = integral.reduce((total, c, i) => total + c * (-1) ** i, 0);
  // Put x = 2ω² − 1, by Horner.
  let result = [0];
  for (let i = integral.length - 1; i >= 0; i--) {
    result = multiply(result, [-1, 2]);
    result[0] += integral[i];
  }
  result[0] -= atLower;
  return result.slice(0, order + 1);
}

/** Steepest fall at cutoff of all responses that never rise: half power at 1 rad/s. */
export const legendre: Alignment = {
  id: 'legendre',
  name: 'Legendre (optimum-L)',
  reason: 'The steepest edge without any ripple; a little uneven below it.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: '-3db',
  prototype(order) {
    const polynomial = optimumL(order);
    // 1 + L(−s²) = 0, in powers of s² = −ω².
    const inSquares = polynomial.map((c, i) => (i % 2 === 0 ? c : -c));
    inSquares[0] += 1;
    return sectionsOfPoles(leftHalf(inSquares));
  },
  dcLevelDb: () => 0,
};

/** Square roots in the left half plane of the roots of a polynomial in s². */
export function leftHalf(inSquares: readonly number[]): { re: number; im: number }[] {
  return polynomialRoots(inSquares).map(({ re, im }) => {
    const size = Math.hypot(re, im);
    // The root with a negative real part.
    const real = -Math.sqrt(Math.max(0, (size + re) / 2));
    return { re: real, im: real === 0 ? Math.sqrt(size) : im / (2 * real) };
  });
}
