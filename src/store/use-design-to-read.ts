import { useSyncExternalStore } from 'react';
import type { Design } from '@/core/design/document/schema';
import { documentStore } from './document';
import { viewStore } from './view';

/** While something is dragged, what is read rather than watched follows this often. */
export const READ_MS = 120;

let held: Design | null = null;
let heldAt = -Infinity;
let timer: ReturnType<typeof setTimeout> | undefined;
const readers = new Set<() => void>();
let stop: (() => void) | null = null;

function catchUp(): void {
  clearTimeout(timer);
  timer = undefined;
  held = documentStore.getState().design;
  heldAt = performance.now();
  for (const tell of readers) tell();
}

function watch(): () => void {
  const stopDocument = documentStore.subscribe(() => {
    const wait = viewStore.getState().dragging ? heldAt + READ_MS - performance.now() : 0;
    if (wait <= 0) catchUp();
    else timer ??= setTimeout(catchUp, wait);
  });
  const stopView = viewStore.subscribe((now, before) => {
    if (before.dragging && !now.dragging) catchUp();
  });
  return () => {
    clearTimeout(timer);
    timer = undefined;
    stopDocument();
    stopView();
  };
}

function subscribe(tell: () => void): () => void {
  readers.add(tell);
  stop ??= watch();
  return () => {
    readers.delete(tell);
    if (readers.size > 0) return;
    stop?.();
    stop = null;
  };
}

function snapshot(): Design {
  const { design } = documentStore.getState();
  if (!design) throw new Error('no design is open');
  // Another design is another matter, and nothing is held back unless a hand is on it.
  if (!held || held.id !== design.id || !viewStore.getState().dragging) held = design;
  return held;
}

/**
 * Part of the open design for panes that are read: as it is, save that during a drag it follows a few times less often,
 * so that the curves keep the frame.
 */
export function useDesignToRead<T>(selector: (design: Design) => T): T {
  return useSyncExternalStore(subscribe, () => selector(snapshot()));
}
