import type { AcSolver } from '../../analysis/solver';
import type { Design } from '../../design/schema';
import { snapWay, type WaySnaps } from '../../design/snap-way';
import { failure, type Result } from '../../result';

/** Chooses the parts of one stage, or of a whole path, together. */
export interface SnapRequest {
  readonly kind: 'snap';
  readonly design: Design;
  readonly variantId: string;
  /** Null for the whole path. */
  readonly stageId: string | null;
  /** How many values of a stage may be made of two parts. */
  readonly mostPairs: number;
  /** Capacitors at hand, F; absent: any of the series. */
  readonly capacitors?: readonly number[];
}

export function runSnap(
  { design, variantId, stageId, mostPairs, capacitors }: SnapRequest,
  solver: AcSolver,
): Result<WaySnaps> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  return snapWay(
    variant.ways[0],
    design,
    variant.controls,
    { stageId, mostPairs, ...(capacitors ? { capacitors } : {}) },
    solver,
  );
}
