import type { Stage, Variant } from './schema';

/** The variant with the parts of one stage decided otherwise; what is not that stage is the very same. */
export const withParts = (
  variant: Variant,
  stageId: string,
  decide: (parts: Stage['parts']) => Stage['parts'],
): Variant => ({
  ...variant,
  ways: variant.ways.map((way) => ({
    ...way,
    stages: way.stages.map((stage) => (stage.id === stageId ? { ...stage, parts: decide(stage.parts) } : stage)),
  })),
});
