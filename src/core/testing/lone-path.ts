import { countingIds } from '../design/create';
import type { Design, Stage } from '../design/schema';
import { singlePath, type SinglePath } from '../design/single-path';
import { must } from '../result';

const makeId = countingIds('lone');

/**
 * One path driven stiffly into nothing: what its own formulas describe.
 * @param stage what differs on each of its stages.
 */
export function lonePath(given: SinglePath, stage: Partial<Stage> = {}, brief: Partial<Design['brief']> = {}): Design {
  const design = must(singlePath(given, makeId));
  return {
    ...design,
    brief: { ...design.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null }, ...brief },
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, ...stage })) })),
    })),
  };
}

/** A design whose stages have these values typed in for their parts, ohm and farad. */
export const typedInto = (design: Design, values: Readonly<Record<string, number>>): Design => ({
  ...design,
  variants: design.variants.map((v) => ({
    ...v,
    ways: v.ways.map((w) => ({
      ...w,
      stages: w.stages.map((s) => ({
        ...s,
        parts: Object.fromEntries(
          Object.entries(values).map(([part, value]) => [part, { use: { kind: 'single' as const, values: [value] } }]),
        ),
      })),
    })),
  })),
});
