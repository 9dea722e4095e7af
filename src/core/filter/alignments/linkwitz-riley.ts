import { powerAt, scaleSections, type Alignment } from './define-alignment';
import { butterworthSections } from './butterworth';
import type { PrototypeSection } from '../section';

/**
 * A Butterworth of half the order, twice over: 6.02 dB down at its cutoff, so that low-pass and high-pass add to a
 * level sum. Two equal real poles are one section of Q 0.5. S. H. Linkwitz, J. Audio Eng. Soc. 24, 1976.
 */
export const linkwitzRiley: Alignment = {
  id: 'linkwitz-riley',
  name: 'Linkwitz-Riley',
  reason: 'Two Butterworths in a row: −6 dB at cutoff, ways that add up level.',
  orders: [2, 4, 6, 8],
  hasRipple: false,
  hasAttenuation: false,
  ownCutoff: '−6.02 dB',
  ownCutoffDb: 20 * Math.log10(0.5),
  defaultCutoffAt: 'own',
  prototype(order, { cutoffAt }) {
    const half = butterworthSections(order / 2);
    const sections = half.flatMap((section): PrototypeSection[] =>
      section.order === 1 ? [{ order: 2, omega: 1, q: 0.5 }] : [section, section],
    );
    if (cutoffAt === 'own') return sections;
    // (1 + ω^n)^2 = 2 at half power, n the order of each Butterworth.
    const omega = (Math.SQRT2 - 1) ** (1 / order);
    if (Math.abs(powerAt(sections, omega) - 0.5) > 1e-9) throw new Error('half-power point of Linkwitz-Riley');
    return scaleSections(sections, 1 / omega);
  },
  dcLevelDb: () => 0,
};
