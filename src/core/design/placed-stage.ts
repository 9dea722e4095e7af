import type { Stage, Variant } from './schema';

/** A stage and where it stands: indices of its way and of itself in it. */
export interface Placed {
  readonly stage: Stage;
  readonly way: number;
  readonly at: number;
}

/** The first stage of a variant that is such a one. */
export function findStage({ ways }: Pick<Variant, 'ways'>, is: (stage: Stage) => boolean): Placed | undefined {
  for (const [way, { stages }] of ways.entries()) {
    const at = stages.findIndex(is);
    if (at >= 0) return { stage: stages[at], way, at };
  }
  return undefined;
}
