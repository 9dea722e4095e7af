import { countingIds } from '../design/making/create';
import type { Design, Stage } from '../design/document/schema';
import { singlePath, type SinglePath } from '../design/making/single-path';
import { must } from '../result';

const makeId = countingIds('lone');

/**
 * One path driven stiffly into nothing: what its own formulas describe.
 * @param stage what differs on each of its stages.
 */
export function lonePath(given: SinglePath, stage: Partial<Stage> = {}, brief: Partial<Design['brief']> = {}): Design {
  const design = must(singlePath(given, makeId));
  return {
    ...withStages(design, () => stage),
    brief: { ...design.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null }, ...brief },
  };
}

/** A design with every stage changed. */
export const withStages = (design: Design, change: (stage: Stage) => Partial<Stage>): Design => ({
  ...design,
  variants: design.variants.map((v) => ({
    ...v,
    ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, ...change(s) })) })),
  })),
});

/** A design whose stages have these values typed in for their parts beside what they had, ohm and farad. */
export const typedInto = (design: Design, values: Readonly<Record<string, number>>): Design =>
  withStages(design, ({ parts }) => ({
    parts: {
      ...parts,
      ...Object.fromEntries(
        Object.entries(values).map(([part, value]) => [part, { use: { kind: 'single' as const, values: [value] } }]),
      ),
    },
  }));
