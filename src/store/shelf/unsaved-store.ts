import { create } from 'zustand';
import type { Design } from '@/core/design/document/schema';

/** A design whose last edits could not be stored when it was left, and what it was based on. */
export interface Unsaved {
  readonly design: Design;
  /** As it lay on the shelf, at this revision. */
  readonly base: Design;
  readonly revision: number;
}

/** What is in this tab alone; by the design's id. */
export const unsavedStore = create<{ readonly left: ReadonlyMap<string, Unsaved> }>()(() => ({ left: new Map() }));

export const unsavedOf = (id: string): Unsaved | null => unsavedStore.getState().left.get(id) ?? null;

export const putUnsaved = (unsaved: Unsaved): void =>
  unsavedStore.setState(({ left }) => ({ left: new Map(left).set(unsaved.design.id, unsaved) }));

/** Takes a design out, for whoever opens it or deletes it. Gives what it was. */
export function takeUnsaved(id: string): Unsaved | null {
  const found = unsavedOf(id);
  if (found) unsavedStore.setState(({ left }) => ({ left: new Map([...left].filter(([other]) => other !== id)) }));
  return found;
}
