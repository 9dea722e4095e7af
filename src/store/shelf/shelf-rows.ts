import type { Design } from '@/core/design/document/schema';
import { database, type ShelfRow } from './database';
import { newId } from '../new-id';
import { takeUnsaved, unsavedOf } from './unsaved-store';

/** A design as it lies on the shelf. */
export const rowOf = (design: Design, revision: number, now: Date): ShelfRow => ({
  id: design.id,
  title: design.title,
  updatedAt: now.toISOString(),
  revision,
  design,
});

/** Puts a design that was removed back where it was. Gives its revision. */
export async function putBack(design: Design, now = new Date()): Promise<number> {
  return database.transaction('rw', [database.designs, database.removed], async () => {
    const revision = ((await database.designs.get(design.id))?.revision ?? 0) + 1;
    await database.designs.put(rowOf(design, revision, now));
    await database.removed.delete(design.id);
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

/** Days for which a removed design can be brought back. */
export const REMOVED_DAYS = 30;

/**
 * Takes a design off the shelf, with what could be undone of it, and tells the tabs that have it open. For a while it
 * can be brought back, with the edits that could not be stored when it was left.
 */
export async function deleteDesign(id: string, now = new Date()): Promise<void> {
  const { designs, histories, removed, cards, answers } = database;
  await database.transaction('rw', [designs, histories, removed, cards, answers], async () => {
    const row = await designs.get(id);
    const left = unsavedOf(id);
    const last = left ? { title: left.design.title, design: left.design } : {};
    if (row) await removed.put({ ...row, ...last, removedAt: now.toISOString() });
    await designs.delete(id);
    await histories.delete(id);
    await cards.delete(id);
    await answers.delete(id);
  });
  takeUnsaved(id);
  tellShelf({ id, revision: null });
}

/** Takes a design off the shelf, and from what was removed, without a copy: where there is no room for one. */
export async function deleteForGood(id: string): Promise<void> {
  const { designs, histories, removed, cards, answers } = database;
  await database.transaction('rw', [designs, histories, removed, cards, answers], async () => {
    for (const table of [designs, histories, removed, cards, answers]) await table.delete(id);
  });
  takeUnsaved(id);
  tellShelf({ id, revision: null });
}

/** Forgets one removed design, or all of them. */
export const forgetRemovedNow = (id?: string): PromiseLike<void> =>
  id === undefined ? database.removed.clear() : database.removed.delete(id);

/** What a row takes on the shelf, bytes: as it would be written. */
export function sizeOf(row: Pick<ShelfRow, 'design'>): number | null {
  try {
    return new Blob([JSON.stringify(row.design)]).size;
  } catch {
    return null;
  }
}

/** Puts a removed design back on the shelf, beside whatever has its id by now. Gives the id it has there. */
export async function bringBack(id: string): Promise<string | null> {
  const { designs, removed } = database;
  return database.transaction('rw', [designs, removed], async () => {
    const row = await removed.get(id);
    if (!row) return null;
    const { removedAt: _, ...kept } = row;
    const free = (await designs.get(id)) === undefined;
    const own = free ? id : newId();
    const design = free ? kept.design : { ...(kept.design as object), id: own };
    await designs.put({ ...kept, id: own, revision: kept.revision + 1, design });
    await removed.delete(id);
    return own;
  });
}

/** Forgets what was removed longer ago than it can be brought back. Gives how many. */
export const forgetRemoved = (now = new Date()): PromiseLike<number> =>
  database.removed
    .where('removedAt')
    .below(new Date(now.getTime() - REMOVED_DAYS * 86_400_000).toISOString())
    .delete();

/** Tells the other tabs. */
export function tellShelf(news: ShelfNews): void {
  const channel = shelfChannel();
  channel.postMessage(news);
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
