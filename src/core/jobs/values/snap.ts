import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { snapWay, type WaySnaps } from '../../design/values/snap-way';
import { failure, type Result } from '../../result';

/** Chooses the parts of one stage, or of a whole path, together. */
const snapRequest = requestOf('snap', {
  ...ofVariant,
  /** Null for the whole path. */
  stageId: z.string().nullable(),
  /** How many values of a stage may be made of two parts. */
  mostPairs: z.number(),
  /** Capacitors at hand, F; absent: any of the series. */
  capacitors: z.array(z.number()).readonly().optional(),
});
export type SnapRequest = z.infer<typeof snapRequest>;

function runSnap(
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

export const snapJob = defineJob(snapRequest, (request, { solver }) => runSnap(request, solver));
