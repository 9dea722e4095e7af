import { complex, divide, evaluate, magnitude, type Complex } from '../math/complex';
import { polynomialRoots } from '../math/roots';
import { decibels } from '../units/quantity';
import { beginsBetween } from '../math/search';

/** H(s) as a ratio of real polynomials, coefficients lowest power first. */
export interface Rational {
  readonly numerator: readonly number[];
  readonly denominator: readonly number[];
}

/** H at s = j·2πf. */
export function rationalAt({ numerator, denominator }: Rational, freqHz: number): Complex {
  const s = complex(0, 2 * Math.PI * freqHz);
  return divide(evaluate(numerator, s), evaluate(denominator, s));
}

/** H over a grid, interleaved re, im. */
export function rationalResponse(rational: Rational, frequenciesHz: Float64Array): Float64Array {
  const out = new Float64Array(2 * frequenciesHz.length);
  frequenciesHz.forEach((f, i) => {
    const { re, im } = rationalAt(rational, f);
    out[2 * i] = re;
    out[2 * i + 1] = im;
  });
  return out;
}

export function polynomialProduct(a: readonly number[], b: readonly number[]): number[] {
  const out = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (out[i + j] += x * y)));
  return out;
}

/**
 * Frequencies (Hz) at which the straight-line trace bends: sizes of zeros and poles. Those at the origin are left to
 * the slope it starts with.
 */
function cornersOf({ numerator, denominator }: Rational): { zerosHz: number[]; polesHz: number[] } {
  const sizes = (polynomial: readonly number[]) =>
    rootSizes(polynomial)
      .map((size) => size / (2 * Math.PI))
      .sort((a, b) => a - b);
  return { zerosHz: sizes(numerator), polesHz: sizes(denominator) };
}

/**
 * Sizes of a polynomial's roots away from the origin, found in a frequency of their own scale so that no coefficient
 * overflows another.
 */
function rootSizes(polynomial: readonly number[]): number[] {
  const from = polynomial.findIndex((c) => c !== 0);
  let to = polynomial.length - 1;
  while (to > from && polynomial[to] === 0) to--;
  if (from < 0 || to === from) return [];
  const bare = polynomial.slice(from, to + 1);
  const scale = Math.abs(bare[0] / bare[bare.length - 1]) ** (1 / (bare.length - 1));
  return polynomialRoots(bare.map((c, i) => c * scale ** i)).map((root) => scale * magnitude(root));
}

/**
 * Level (dB) of the straight-line trace: the asymptotes of a Bode plot, bending by 6 dB an octave at the size of every
 * zero and pole (H. W. Bode, Network Analysis and Feedback Amplifier Design, ch. 15).
 */
export function straightLineDb({ numerator, denominator }: Rational, frequenciesHz: Float64Array): Float64Array {
  const low = (polynomial: readonly number[]) => polynomial.findIndex((c) => c !== 0);
  const [zerosAtOrigin, polesAtOrigin] = [low(numerator), low(denominator)];
  const { zerosHz, polesHz } = cornersOf({ numerator, denominator });
  const start = decibels(numerator[zerosAtOrigin] / denominator[polesAtOrigin]);
  return frequenciesHz.map((f) => {
    const above = (corners: readonly number[]) =>
      corners.reduce((sum, corner) => sum + (f > corner ? decibels(f / corner) : 0), 0);
    return start + (zerosAtOrigin - polesAtOrigin) * decibels(2 * Math.PI * f) + above(zerosHz) - above(polesHz);
  });
}

/**
 * Where |H| passes a ratio between two frequencies on either side of it, Hz: halving the interval in the logarithm of
 * frequency. NaN when both lie on one side.
 */
export function passesRatioHz(rational: Rational, ratio: number, fromHz: number, toHz: number): number {
  const over = (f: number) => magnitude(rationalAt(rational, f)) > ratio;
  const start = over(fromHz);
  return over(toHz) === start ? NaN : beginsBetween((f) => over(f) !== start, fromHz, toHz);
}
