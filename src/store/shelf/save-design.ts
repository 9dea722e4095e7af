import { mergeDesigns } from '@/core/design/document/merge';
import { readDesign, type ReadFailure } from '@/core/design/document/migrate';
import type { Design } from '@/core/design/document/schema';
import type { Result } from '@/core/result';
import { database, type ShelfRow } from './database';
import { newId } from '../new-id';
import { rowOf } from './shelf-rows';

/** Rows are read once for as long as they lie as they are. */
const readings = new WeakMap<object, Result<Design, ReadFailure>>();

/** A row's design, brought up to date; what does not read is a failure, and its row stays untouched. */
export function readRow({ design }: Pick<ShelfRow, 'design'>): Result<Design, ReadFailure> {
  if (typeof design !== 'object' || design === null) return readDesign(design);
  const known = readings.get(design);
  if (known) return known;
  const read = readDesign(design);
  readings.set(design, read);
  return read;
}

export type SaveOutcome =
  | { readonly kind: 'saved'; readonly revision: number }
  /** Another tab had saved since, something else: the two are one design now. */
  | { readonly kind: 'merged'; readonly revision: number; readonly design: Design }
  /** It had changed the same thing: its design stays, ours lies beside it, whole. */
  | {
      readonly kind: 'kept-beside';
      readonly revision: number;
      readonly design: Design;
      readonly copyId: string;
      readonly copyTitle: string;
    }
  /** It was removed from the shelf meanwhile: nothing was written. */
  | { readonly kind: 'removed' };

/**
 * Writes a design in one transaction that compares revisions. When the shelf has moved on, what both sides changed
 * apart is merged; where they changed the same thing both are kept whole.
 * @param base the design as this side last had it from the shelf.
 */
export async function saveDesign(
  design: Design,
  base: Design,
  knownRevision: number,
  now = new Date(),
): Promise<SaveOutcome> {
  return database.transaction('rw', database.designs, async (): Promise<SaveOutcome> => {
    const row = await database.designs.get(design.id);
    if (!row) return { kind: 'removed' };
    const revision = row.revision + 1;
    if (row.revision === knownRevision) {
      await database.designs.put(rowOf(design, revision, now));
      return { kind: 'saved', revision };
    }
    const theirs = readRow(row);
    const merged = theirs.ok ? mergeDesigns(base, theirs.value, design) : null;
    if (merged) {
      await database.designs.put(rowOf(merged, revision, now));
      return { kind: 'merged', revision, design: merged };
    }
    const copy = { ...design, id: newId(), title: `${design.title} (from another tab)` };
    await database.designs.put(rowOf(copy, 1, now));
    return {
      kind: 'kept-beside',
      revision: row.revision,
      design: theirs.ok ? theirs.value : design,
      copyId: copy.id,
      copyTitle: copy.title,
    };
  });
}

/** Brings what was kept beside up to a later state of the same design. */
export const keepCopy = async (
  design: Design,
  { copyId, copyTitle }: { readonly copyId: string; readonly copyTitle: string },
  now = new Date(),
): Promise<void> => void (await database.designs.put(rowOf({ ...design, id: copyId, title: copyTitle }, 2, now)));
