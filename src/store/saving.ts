import { createVariant } from '@/core/design/create';
import type { Design, Variant } from '@/core/design/schema';
import { database, type ShelfRow } from './database';
import { currentVariantOf, newId } from './edits';
import { nextVariantName } from './record-edits';

export type SaveOutcome =
  | { readonly kind: 'saved'; readonly revision: number }
  /** Another tab had saved since: this tab's circuit was kept as a variant of theirs. */
  | {
      readonly kind: 'kept-as-variant';
      readonly revision: number;
      readonly design: Design;
      readonly variantName: string;
    };

/**
 * Writes a design in one transaction that compares revisions. When the shelf has moved on, nothing of either side is
 * lost: the other's document stays and what this one had is added to it as a named variant, with log entries and
 * measurements of both.
 */
export async function saveDesign(design: Design, knownRevision: number, now = new Date()): Promise<SaveOutcome> {
  return database.transaction('rw', database.designs, async () => {
    const row = await database.designs.get(design.id);
    const revision = (row?.revision ?? knownRevision) + 1;
    const put = (kept: Design) =>
      database.designs.put({ id: kept.id, title: kept.title, updatedAt: now.toISOString(), revision, design: kept });
    if (!row || row.revision === knownRevision) {
      await put(design);
      return { kind: 'saved', revision };
    }
    const merged = mergeConflict(row.design, design);
    await put(merged.design);
    return { kind: 'kept-as-variant', revision, ...merged };
  });
}

/** Theirs, with our current circuit as a further variant and our log entries and measurements that theirs lacks. */
export function mergeConflict(theirs: Design, ours: Design): { design: Design; variantName: string } {
  const mine = currentVariantOf(ours);
  const name = nextVariantName(theirs);
  const variant: Variant = {
    ...createVariant(newId(), name, `from another tab${mine.label ? `: ${mine.label}` : ''}`, mine.ways),
    join: mine.join,
    controls: mine.controls,
  };
  const lacking = <T extends { id: string }>(have: readonly T[], want: readonly T[]) =>
    want.filter((item) => !have.some((h) => h.id === item.id));
  return {
    variantName: name,
    design: {
      ...theirs,
      variants: [...theirs.variants, variant],
      measurements: [...theirs.measurements, ...lacking(theirs.measurements, ours.measurements)],
      log: [...lacking(theirs.log, ours.log), ...theirs.log],
    },
  };
}

export const loadRow = (id: string): Promise<ShelfRow | undefined> => database.designs.get(id);
export const deleteDesign = (id: string): Promise<void> => database.designs.delete(id);

/** Puts a design on the shelf under an id of its own if that id is taken. Returns the id it has there. */
export async function shelveDesign(design: Design, now = new Date()): Promise<string> {
  return database.transaction('rw', database.designs, async () => {
    const taken = (await database.designs.get(design.id)) !== undefined;
    const kept = taken ? { ...design, id: newId(), title: `${design.title} (copy)` } : design;
    await database.designs.put({
      id: kept.id,
      title: kept.title,
      updatedAt: now.toISOString(),
      revision: 1,
      design: kept,
    });
    return kept.id;
  });
}
