import type { PrototypeSection } from '../section';
import { HIGHEST_ORDER, ordersUpTo, type Alignment } from './define-alignment';

/**
 * Poles evenly spaced on the unit circle: Q_k = 1 / (2 sin((2k − 1)π / 2n)), k = 1 … n/2.
 * S. Butterworth, Experimental Wireless 7, 1930; L. Weinberg, Network Analysis and Synthesis, 11.2.
 */
export function butterworthSections(order: number): PrototypeSection[] {
  const sections: PrototypeSection[] = order % 2 === 1 ? [{ order: 1, omega: 1 }] : [];
  for (let k = Math.floor(order / 2); k >= 1; k--)
    sections.push({ order: 2, omega: 1, q: 1 / (2 * Math.sin(((2 * k - 1) * Math.PI) / (2 * order))) });
  return sections;
}

export const butterworth: Alignment = {
  id: 'butterworth',
  name: 'Butterworth',
  reason: 'Flattest pass band; moderate ringing.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: '-3db',
  prototype: butterworthSections,
  dcLevelDb: () => 0,
};
