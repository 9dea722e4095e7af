import { polynomialRoots } from '../../math/roots';
import { sectionOfPair, type PrototypeSection } from '../section';
import { halfPowerOmega, HIGHEST_ORDER, ordersUpTo, scaleSections, type Alignment } from './define-alignment';

/** Coefficients of the reverse Bessel polynomial, lowest power first: a_k = (2n − k)! / (2^(n−k) k! (n−k)!). */
function reverseBessel(order: number): number[] {
  const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));
  return Array.from(
    { length: order + 1 },
    (_, k) => factorial(2 * order - k) / (2 ** (order - k) * factorial(k) * factorial(order - k)),
  );
}

/**
 * Flattest group delay: roots of the reverse Bessel polynomial, which gives one second of delay at DC. Cutoff either at
 * half power or, normalised to delay, where 1/(2π f) is the delay at DC. W. E. Thomson, Proc. IEE 96, part III, 1949.
 */
export const bessel: Alignment = {
  id: 'bessel',
  name: 'Bessel',
  reason: 'Even delay, next to no overshoot; the gentlest knee.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: false,
  ownCutoff: 'delay at DC is 1/(2πf)',
  defaultCutoffAt: '-3db',
  prototype(order, { cutoffAt }) {
    const roots = polynomialRoots(reverseBessel(order));
    const sections: PrototypeSection[] = roots.filter((r) => r.im > 1e-9).map(sectionOfPair);
    const real = roots.find((r) => Math.abs(r.im) <= 1e-9);
    if (real) sections.push({ order: 1, omega: -real.re });
    sections.sort((a, b) => (a.order === 1 ? 0 : a.q) - (b.order === 1 ? 0 : b.q));
    return cutoffAt === 'own' ? sections : scaleSections(sections, 1 / halfPowerOmega(sections));
  },
  dcLevelDb: () => 0,
};
