import type { Design, Variant, Way } from './schema';

/** The way of a variant that is being worked on: the chosen one, or its first. */
export const currentWayIn = (variant: Variant): Way => variant.ways.find((w) => w.id === variant.currentWay) ?? variant.ways[0];

/** A design with only the way that is being worked on in every variant; each is fed from the source by itself. */
export const onlyCurrentWays = (design: Design): Design => (design.variants.every((v) => v.ways.length === 1) ? design : { ...design, variants: design.variants.map((v) => ({ ...v, ways: [currentWayIn(v)] })) });
