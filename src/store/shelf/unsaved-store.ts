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
