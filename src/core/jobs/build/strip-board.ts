import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { stripParts } from '../../design/building/strip-parts';
import { checkStrips, longLegged, stripPlan, type StripCheck, type StripPlan } from '../../parts/strip-board';
import { failure, success, type Failure, type Result } from '../../result';

/** A variant on board with copper strips. */
const stripBoardRequest = requestOf('strip-board', { ...ofVariant });
export type StripBoardRequest = z.infer<typeof stripBoardRequest>;

export interface StripBoard {
  /** Null where it cannot be planned, with the reason. */
  readonly plan: StripPlan | null;
  readonly refused: Failure | null;
  /** The plan read back as copper and laid beside the circuit. */
  readonly check: StripCheck | null;
  readonly longLegged: readonly string[];
}

/** Fails as the design does, or with `no-such-variant`. */
export function runStripBoard({ design, variantId }: StripBoardRequest): Result<StripBoard> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const listed = stripParts(design, variant);
  if (!listed.ok) return listed;
  const { parts, leaving } = listed.value;
  const planned = stripPlan(parts, leaving);
  if (!planned.ok) return success({ plan: null, refused: planned, check: null, longLegged: [] });
  return success({
    plan: planned.value,
    refused: null,
    check: checkStrips(planned.value, parts),
    longLegged: longLegged(planned.value),
  });
}

export const stripBoardJob = defineJob(stripBoardRequest, (request) => runStripBoard(request));
