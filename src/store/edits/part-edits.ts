import type { Batch, PartChoice } from '@/core/design/document/schema';

import { OP_AMP_IDS, type OpAmp } from '@/core/device/op-amps';

import { newId } from '../new-id';
import { currentVariantOf, currentWayOf, stageOf, type Edit } from './edits';

/** Edits of parts and devices: what was decided about each, and which of them track. */

/**
 * Another op-amp for a stage or all of them; one of the maker's own comes with its figures, so that the design stands
 * by itself.
 */
export const setDevice =
  (stageId: string | null, device: string, own?: OpAmp): Edit =>
  (draft) => {
    if (own)
      draft.preferences.ownOpAmps = [
        ...(draft.preferences.ownOpAmps ?? []).filter((o) => o.id !== own.id),
        { ...own, unitsPerPackage: [...own.unitsPerPackage] },
      ];
    if (!OP_AMP_IDS.includes(device) && !draft.preferences.ownOpAmps?.some((o) => o.id === device)) return;
    for (const stage of currentWayOf(draft).stages) if (stageId === null || stage.id === stageId) stage.device = device;
  };

/** Changes what was decided about a part; a choice that decides nothing is forgotten. */
export const choosePart =
  (stageId: string, part: string, patch: Partial<PartChoice>): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    if (!stage) return;
    const choice = { ...stage.parts[part], ...patch };
    if (!choice.use) delete choice.use;
    if (!choice.use) choice.pinned = false;
    if (!choice.use && !choice.leftOut && choice.tolerancePct === undefined && !choice.control)
      delete stage.parts[part];
    else stage.parts[part] = choice;
  };

/** Holds every value of a stage that is decided, so that what is asked of it next is computed around them. */
export const holdDecided =
  (stageId: string): Edit =>
  (draft) => {
    for (const choice of Object.values(stageOf(draft, stageId)?.parts ?? {})) if (choice.use) choice.pinned = true;
  };

/** Takes values that were chosen together. */
export const takeValues =
  (
    stages: readonly {
      readonly stageId: string;
      readonly snap: { readonly uses: Readonly<Record<string, NonNullable<PartChoice['use']>>> };
    }[],
  ): Edit =>
  (draft) => {
    for (const { stageId, snap } of stages)
      for (const [part, use] of Object.entries(snap.uses))
        choosePart(stageId, part, { use: { kind: use.kind, values: [...use.values] } })(draft);
  };

/** Parts that track: a part joins a batch (a new one when none is named), or leaves the one it is in. */
export const trackPart =
  (stageId: string, part: string, batchId: string | null | 'new'): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    const rest = (variant.batches ?? []).map((batch) => ({
      ...batch,
      parts: batch.parts.filter((p) => p.stage !== stageId || p.part !== part),
    }));
    if (batchId === 'new')
      rest.push({ id: newId(), name: nextBatchName(rest), matchPct: 0.2, parts: [{ stage: stageId, part }] });
    else rest.find((b) => b.id === batchId)?.parts.push({ stage: stageId, part });
    variant.batches = rest.filter((b) => b.parts.length > 0);
  };

export const changeBatch =
  (batchId: string, patch: { name?: string; matchPct?: number }): Edit =>
  (draft) => {
    Object.assign(currentVariantOf(draft).batches?.find((b) => b.id === batchId) ?? {}, patch);
  };

function nextBatchName(batches: readonly Batch[]): string {
  let n = batches.length + 1;
  while (batches.some((b) => b.name === `Batch ${n}`)) n++;
  return `Batch ${n}`;
}
