import { priceOf } from '../../parts/grades';
import type { Variant } from '../document/schema';
import { designWay, type Bench } from './stage-design';

/** What all graded parts of a variant cost; null when it cannot be designed. */
export function variantPrice(variant: Variant, bench: Bench): number | null {
  let sum = 0;
  for (const way of variant.ways) {
    const designed = designWay(way, bench, variant.controls);
    if (!designed.ok) return null;
    for (const { stage, parts } of designed.value.stages)
      if (!stage.bypassed) for (const p of parts) if (p.grade && !p.choice.leftOut) sum += priceOf(p.chosen, p.grade);
  }
  return Math.round(100 * sum) / 100;
}
