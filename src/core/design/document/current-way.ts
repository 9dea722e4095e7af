import type { Design, Variant, Way } from './schema';

/** The variant of a design that is in front: the chosen one, or its first. */
export const currentVariantIn = (design: Design): Variant =>
  design.variants.find((v) => v.id === design.currentVariant) ?? design.variants[0];

/** The way of a variant that is being worked on: the chosen one, or its first. */
export const currentWayIn = (variant: Variant): Way =>
  variant.ways.find((w) => w.id === variant.currentWay) ?? variant.ways[0];

/** Ways that one cannot do without: those it starts from, and those that start from it. */
function kin(variant: Variant, way: Way): Way[] {
  if (variant.ways.every((w) => w.from.kind === 'source')) return [way];
  return [way, ...variant.ways.filter((w) => w !== way)];
}

/**
 * A design with only the way that is being worked on in every variant, fed from the source by itself; where ways hang
 * on one another, all of them with that one first.
 */
export const onlyCurrentWays = (design: Design): Design =>
  design.variants.every((v) => v.ways.length === 1)
    ? design
    : { ...design, variants: design.variants.map((v) => ({ ...v, ways: kin(v, currentWayIn(v)) })) };
