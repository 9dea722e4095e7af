import { priceOf } from '../parts/grades';
import type { Preferences, Variant } from './schema';
import { designWay } from './stage-design';

/** What all graded parts of a variant cost; null when it cannot be designed. */
export function variantPrice(variant: Variant, preferences: Preferences): number | null {
  let sum = 0;
  for (const way of variant.ways) {
    const designed = designWay(way, preferences, variant.controls);
    if (!designed.ok) return null;
    for (const { stage, parts } of designed.value.stages) if (!stage.bypassed) for (const p of parts) if (p.grade && !p.choice.leftOut) sum += priceOf(p.chosen, p.grade);
  }
  return Math.round(100 * sum) / 100;
}
