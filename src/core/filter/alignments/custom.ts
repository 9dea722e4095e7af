import { ordersUpTo, type Alignment } from './define-alignment';
import { butterworthSections } from './butterworth';

export const orderOfSections = (sections: readonly { readonly order: number }[]): number =>
  sections.reduce((sum, { order }) => sum + order, 0);

/**
 * Poles and zeros of the maker's own, as sections relative to the cutoff; a Butterworth of the order wanted until they
 * are given.
 */
export const custom: Alignment = {
  id: 'custom',
  name: 'Own poles and zeros',
  reason: 'Sections as you give them: frequency and Q of every pair of poles, and a null where there is one.',
  orders: ordersUpTo(10),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: 'own',
  prototype(order, { custom: sections }) {
    if (!sections || orderOfSections(sections) !== order) return butterworthSections(order);
    return [...sections].sort((a, b) => (a.order === 1 ? 0 : a.q) - (b.order === 1 ? 0 : b.q));
  },
  dcLevelDb: () => 0,
};
