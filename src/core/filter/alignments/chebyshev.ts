import { sectionOfPair, type PrototypeSection } from '../section';
import { HIGHEST_ORDER, ordersUpTo, scaleSections, type Alignment } from './define-alignment';

/**
 * Poles on an ellipse: −sinh v sin θ ± j cosh v cos θ with v = asinh(1/ε)/n, ε² = 10^(ripple/10) − 1; ripple edge at 1
 * rad/s. The half-power point is at cosh(acosh(1/ε)/n). L. Weinberg, Network Analysis and Synthesis, 11.3.
 */
export const chebyshev: Alignment = {
  id: 'chebyshev',
  name: 'Chebyshev',
  reason: 'Steepest near cutoff for its order; pays with ripple and ringing.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: true,
  hasAttenuation: false,
  ownCutoff: 'ripple edge',
  defaultCutoffAt: 'own',
  prototype(order, { rippleDb, cutoffAt }) {
    const epsilon = Math.sqrt(10 ** (rippleDb / 10) - 1);
    const v = Math.asinh(1 / epsilon) / order;
    const sections: PrototypeSection[] = order % 2 === 1 ? [{ order: 1, omega: Math.sinh(v) }] : [];
    for (let k = Math.floor(order / 2); k >= 1; k--) {
      const angle = ((2 * k - 1) * Math.PI) / (2 * order);
      sections.push(sectionOfPair({ re: -Math.sinh(v) * Math.sin(angle), im: Math.cosh(v) * Math.cos(angle) }));
    }
    return cutoffAt === 'own' ? sections : scaleSections(sections, 1 / Math.cosh(Math.acosh(1 / epsilon) / order));
  },
  dcLevelDb: (order, { rippleDb }) => (order % 2 === 0 ? -rippleDb : 0),
};
