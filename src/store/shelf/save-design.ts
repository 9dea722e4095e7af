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

/** A design that was kept beside another of the same id, and at which revision it lies there. */
export interface Copy {
  readonly id: string;
  readonly title: string;
  readonly revision: number;
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
      readonly copy: Copy;
    }
  /** It was removed from the shelf meanwhile: nothing was written. */
  | { readonly kind: 'removed' };

/**
 * Writes a design in one transaction that compares revisions. When the shelf has moved on, what both sides changed
 * apart is merged; where they changed the same thing both are kept whole.
 * @param base the design as this side last had it from the shelf.
 * @param last the copy that this side kept last: it is brought up to the design where nobody has changed it since.
 */
export async function saveDesign(
  design: Design,
  base: Design,
  knownRevision: number,
  now = new Date(),
  last: Copy | null = null,
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
    const copy = await keepCopy(design, last, now);
    return {
      kind: 'kept-beside',
      revision: row.revision,
      design: theirs.ok ? theirs.value : design,
      copy,
    };
  });
}

/** Keeps a design beside another of its id: in place of the last copy, unless that has been changed or is gone. */
export async function keepCopy(design: Design, last: Copy | null, now = new Date()): Promise<Copy> {
  const lies = last && (await database.designs.get(last.id));
  const own = last && lies?.revision === last.revision ? last : null;
  const id = own?.id ?? newId();
  const copy = { id, title: `${design.title} (from another tab)`, revision: (own?.revision ?? 0) + 1 };
  await database.designs.put(rowOf({ ...design, id, title: copy.title }, copy.revision, now));
  return copy;
}
