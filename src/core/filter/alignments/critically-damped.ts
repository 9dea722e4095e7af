import type { PrototypeSection } from '../section';
import { HIGHEST_ORDER, ordersUpTo, type Alignment } from './define-alignment';

/**
 * All poles in one place, half power at the cutoff: ω = 1 / sqrt(2^(1/n) − 1). No overshoot at all. U. Tietze and C.
 * Schenk, Electronic Circuits, 13.1.
 */
export const criticallyDamped: Alignment = {
  id: 'critically-damped',
  name: 'Critically damped',
  reason: 'No overshoot whatever; the softest knee of all.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: '-3db',
  prototype(order) {
    const omega = 1 / Math.sqrt(2 ** (1 / order) - 1);
    const pairs: PrototypeSection[] = Array.from({ length: Math.floor(order / 2) }, () => ({
      order: 2,
      omega,
      q: 0.5,
    }));
    return order % 2 === 1 ? [{ order: 1, omega }, ...pairs] : pairs;
  },
  dcLevelDb: () => 0,
};
