import { mergeDesigns } from '@/core/design/merge';
import { readDesign, type ReadFailure } from '@/core/design/migrate';
import type { Design } from '@/core/design/schema';
import type { Result } from '@/core/result';
import { database, type ShelfRow } from './database';
import { newId } from './edits';

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

const rowOf = (design: Design, revision: number, now: Date): ShelfRow => ({
  id: design.id,
  title: design.title,
  updatedAt: now.toISOString(),
  revision,
  design,
});

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

/** Puts a design that was removed back where it was. Gives its revision. */
export async function putBack(design: Design, now = new Date()): Promise<number> {
  return database.transaction('rw', database.designs, async () => {
    const revision = ((await database.designs.get(design.id))?.revision ?? 0) + 1;
    await database.designs.put(rowOf(design, revision, now));
    return revision;
  });
}

export const loadRow = (id: string): Promise<ShelfRow | undefined> => database.designs.get(id);

const SHELF_CHANNEL = 'jaunty-reed-designs';
/** What tabs tell one another of a design: that it was saved, or removed (no revision). */
export interface ShelfNews {
  readonly id: string;
  readonly revision: number | null;
}
export const shelfChannel = (): BroadcastChannel => new BroadcastChannel(SHELF_CHANNEL);

/** Takes a design off the shelf, with what could be undone of it, and tells the tabs that have it open. */
export async function deleteDesign(id: string): Promise<void> {
  await database.transaction('rw', database.designs, database.histories, async () => {
    await database.designs.delete(id);
    await database.histories.delete(id);
  });
  const channel = shelfChannel();
  channel.postMessage({ id, revision: null } satisfies ShelfNews);
  channel.close();
}

/** Puts a design on the shelf under an id of its own if that id is taken. Returns the id it has there. */
export async function shelveDesign(design: Design, now = new Date()): Promise<string> {
  return database.transaction('rw', database.designs, async () => {
    const taken = (await database.designs.get(design.id)) !== undefined;
    const kept = taken ? { ...design, id: newId(), title: `${design.title} (copy)` } : design;
    await database.designs.put(rowOf(kept, 1, now));
    return kept.id;
  });
}
