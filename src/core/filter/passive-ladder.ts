import { complex, multiply, type Complex } from '../math/complex';
import { polynomialRoots } from '../math/roots';
import { failure, success, type Result } from '../result';
import { fromSections } from './zero-pole';
import type { PrototypeSection } from './section';

/** Element values of a ladder at 1 rad/s and 1 ohm: coils (H) and capacitors (F) by turns, from the source on. */
export interface Ladder {
  readonly firstIs: 'series-coil' | 'shunt-capacitor';
  readonly elements: readonly number[];
  /** Load, ohm; Infinity for none. */
  readonly loadOhm: number;
}

type Polynomial = readonly number[];

const times = (a: Polynomial, b: Polynomial): number[] => {
  const product = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (product[i + j] += x * y)));
  return product;
};
const plus = (a: Polynomial, b: Polynomial, sign = 1): number[] =>
  Array.from({ length: Math.max(a.length, b.length) }, (_, i) => (a[i] ?? 0) + sign * (b[i] ?? 0));

function fromRoots(roots: readonly Complex[]): number[] {
  let product: Complex[] = [complex(1)];
  for (const root of roots) {
    const next = Array.from({ length: product.length + 1 }, () => complex(0));
    product.forEach((c, i) => {
      next[i + 1] = complex(next[i + 1].re + c.re, next[i + 1].im + c.im);
      const shifted = multiply(c, root);
      next[i] = complex(next[i].re - shifted.re, next[i].im - shifted.im);
    });
    product = next;
  }
  return product.map((c) => c.re);
}

/** p(−s). */
const mirrored = (p: Polynomial): number[] => p.map((c, i) => (i % 2 === 0 ? c : -c));

/**
 * Divides out elements one after another (W. Cauer's first form): the leading ratio, then the remainder turned over.
 * `top` is one degree above `bottom`. Fails with `not-a-ladder` when an element would be negative.
 */
function continuedFraction(
  top: Polynomial,
  bottom: Polynomial,
  count: number,
): Result<{ elements: number[]; rest: number }, 'not-a-ladder'> {
  let [a, b] = [[...top], [...bottom]];
  const elements: number[] = [];
  for (let k = 0; k < count; k++) {
    a.length = count - k + 1;
    b.length = count - k;
    const element = a[count - k] / b[count - k - 1];
    if (!(element > 0) || !Number.isFinite(element)) return failure('not-a-ladder', { element: k + 1 });
    elements.push(element);
    const rest = a.map((c, i) => c - (i > 0 ? element * (b[i - 1] ?? 0) : 0));
    [a, b] = [b, rest.slice(0, count - k)];
  }
  return success({ elements, rest: a[0] / b[0] });
}

/**
 * A ladder between a source of 1 ohm and a load that gives an all-pole prototype (S. Darlington, J. Math. and Physics
 * 18, 1939; L. Weinberg, Network Analysis and Synthesis, ch. 13). The reflection coefficient's roots all lie in the
 * left half plane, as tables have them.
 *
 * @param peakGain the prototype's largest gain over its gain at DC (a Chebyshev of even order has more than 1). With a
 * load of 1 ohm that must be 1.
 * @param loadOhm 1 for equal terminations. Fails with `not-a-ladder`, or `load-does-not-fit` (`loadOhm`: what would).
 */
export function doublyTerminated(
  sections: readonly PrototypeSection[],
  loadOhm = 1,
  firstIs: Ladder['firstIs'] = 'series-coil',
  peakGain = 1,
): Result<Ladder, 'not-a-ladder' | 'load-does-not-fit'> {
  const { poles } = fromSections(sections);
  const n = poles.length;
  const d = fromRoots(poles);
  // Power to the load at DC over what is available: 4R/(1 + R)²; the peak may not pass 1.
  const atDc = (4 * loadOhm) / (1 + loadOhm) ** 2;
  if (atDc * peakGain ** 2 > 1 + 1e-9) {
    const share = 1 / peakGain ** 2;
    const root = Math.sqrt(1 - share);
    return failure('load-does-not-fit', { loadOhm: (1 + root) / (1 - root) });
  }
  // |ρ|² = 1 − |t|²: F(s) F(−s) = D(s) D(−s) − t0² d0².
  const square = times(d, mirrored(d));
  square[0] -= atDc * d[0] ** 2;
  const inSquares = square.filter((_, i) => i % 2 === 0);
  const f = fromRoots(leftRoots(inSquares, n));
  // Z = (D + F)/(D − F) or its inverse: the ladder's end then has the load's resistance or its conductance.
  for (const sign of [1, -1]) {
    const [sum, difference] = [
      plus(
        d,
        f.map((c) => c * sign),
      ),
      plus(
        d,
        f.map((c) => c * sign),
        -1,
      ),
    ];
    const [top, bottom] = sign > 0 ? [sum, difference] : [difference, sum];
    const found = continuedFraction(top, bottom, n);
    if (!found.ok) continue;
    const { elements, rest } = found.value;
    // The first element divides an impedance when a coil comes first, an admittance otherwise; each turn swaps them.
    const endIsImpedance = (firstIs === 'series-coil') === (n % 2 === 0);
    const load = endIsImpedance ? rest : 1 / rest;
    if (Math.abs(Math.log(load / loadOhm)) < 1e-4 || Math.abs(load * loadOhm - 1) < 1e-4)
      return success({ firstIs, elements, loadOhm: load });
  }
  return failure('not-a-ladder', { element: 0 });
}

/**
 * Roots in the left half plane of a polynomial in s² of degree n whose roots pair up as ±; double ones on the axis go
 * half to each side.
 */
function leftRoots(inSquares: Polynomial, n: number): Complex[] {
  // Butterworth's reflection zeros are all at the origin, which a root finder would scatter.
  const scaleOf = Math.max(...inSquares.map(Math.abs));
  let atOrigin = 0;
  while (atOrigin < n && Math.abs(inSquares[atOrigin]) < 1e-9 * scaleOf) atOrigin++;
  const rest = polynomialRoots(inSquares.slice(atOrigin));
  const onAxis: number[] = [];
  const roots: Complex[] = [];
  for (const { re, im } of rest) {
    const size = Math.hypot(re, im);
    const real = Math.sqrt(Math.max(0, (size + re) / 2));
    if (real < 2e-4 * Math.sqrt(size)) onAxis.push(Math.sqrt(size));
    else roots.push(complex(-real, -im / (2 * real)));
  }
  onAxis.sort((a, b) => a - b);
  for (let i = 0; i + 1 < onAxis.length; i += 2) {
    const w = (onAxis[i] + onAxis[i + 1]) / 2;
    roots.push(complex(0, w), complex(0, -w));
  }
  return [...Array.from({ length: atOrigin }, () => complex(0)), ...roots];
}

/**
 * A ladder from a source without resistance into 1 ohm (or the other way round): the continued fraction of the
 * denominator's even part over its odd part or the reverse, from the load's end (M. Van Valkenburg, Introduction to
 * Modern Network Synthesis, 14.2).
 */
export function singlyTerminated(
  sections: readonly PrototypeSection[],
  firstIs: Ladder['firstIs'] = 'series-coil',
): Result<Ladder, 'not-a-ladder'> {
  const d = fromRoots(fromSections(sections).poles);
  const n = d.length - 1;
  const [even, odd] = [0, 1].map((parity) => d.map((c, i) => (i % 2 === parity ? c : 0)));
  // Seen from the load: Z or Y of the reactive ladder whose highest power is n over n − 1.
  const found = continuedFraction(n % 2 === 0 ? even : odd, n % 2 === 0 ? odd : even, n);
  if (!found.ok) return found;
  return success({ firstIs, elements: found.value.elements.reverse(), loadOhm: 1 });
}

/** A ladder moved to a cutoff (rad/s) and an impedance level (ohm): henries and farads. */
export function scaledLadder(ladder: Ladder, cutoff: number, ohm: number): { coil: boolean; value: number }[] {
  return ladder.elements.map((element, i) => {
    const coil = (ladder.firstIs === 'series-coil') === (i % 2 === 0);
    return { coil, value: coil ? (element * ohm) / cutoff : element / (cutoff * ohm) };
  });
}
