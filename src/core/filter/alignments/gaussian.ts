import { sectionsOfPoles } from '../section';
import { halfPowerOmega, HIGHEST_ORDER, ordersUpTo, scaleSections, type Alignment } from './define-alignment';
import { leftHalf } from './legendre';

/**
 * |H|² = 1 / Σ (ln 2 · ω²)^k / k!, k up to the order: the bell curve's series cut short, then moved so that half power
 * is at 1 rad/s (A. Zverev, Handbook of Filter Synthesis, 2.10).
 */
export const gaussian: Alignment = {
  id: 'gaussian',
  name: 'Gaussian',
  reason: 'A bell curve in frequency and in time: no overshoot, the shortest pulse.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: '-3db',
  prototype(order) {
    let term = 1;
    const inSquares = Array.from({ length: order + 1 }, (_, k) => {
      if (k > 0) term *= -Math.LN2 / k;
      return term;
    });
    const sections = sectionsOfPoles(leftHalf(inSquares));
    return scaleSections(sections, 1 / halfPowerOmega(sections));
  },
  dcLevelDb: () => 0,
};
