import { useSyncExternalStore } from 'react';
import { temporal } from 'zundo';
import { create } from 'zustand';
import { produce } from 'immer';
import { useStore } from 'zustand';
import { mergeDesigns } from '@/core/design/document/merge';
import { numberStages } from '@/core/design/stages/designators';
import { faultOf, type Design } from '@/core/design/document/schema';
import { tidy, type Edit } from './edits/edits';
import { followReading, newsToRead } from './reading-pace';
import { viewStore } from './view';

interface DocumentState {
  /** The open design; the truth while the desk is open. */
  readonly design: Design | null;
}

const HISTORY_LIMIT = 300;

/** The open document with its history. Results of computation are in neither. */
export const documentStore = create<DocumentState>()(
  temporal((): DocumentState => ({ design: null }), {
    limit: HISTORY_LIMIT,
    equality: (a, b) => a.design === b.design,
  }),
);

/** The design as it is read: during a drag a moment behind, so that the curves keep the frame. */
let held: Design | null = null;

const readers = new Set<() => void>();
let unwatch: (() => void) | null = null;

function watch(): () => void {
  const stops = [
    followReading(() => {
      held = documentStore.getState().design;
      for (const tell of readers) tell();
    }),
    documentStore.subscribe(newsToRead),
  ];
  return () => stops.forEach((stop) => stop());
}

function subscribeReader(tell: () => void): () => void {
  readers.add(tell);
  unwatch ??= watch();
  return () => {
    readers.delete(tell);
    if (readers.size > 0) return;
    unwatch?.();
    unwatch = null;
  };
}

function designRead(): Design {
  const design = openDesignNow();
  // Another design is another matter, and nothing is held back unless a hand is on it.
  if (!held || held.id !== design.id || !viewStore.getState().dragging) held = design;
  return held;
}

/**
 * A part of the open design, as it is; while something is dragged it follows a few times less often, so that the curves
 * keep the frame. What the hand itself moves takes `useLiveDesign`.
 */
export const useDesign = <T>(selector: (design: Design) => T): T => {
  const now = () => selector(designRead());
  return useSyncExternalStore(subscribeReader, now, now);
};

/** A part of the open design with every change of it: for handles and sliders, and nothing that is only read. */
export const useLiveDesign = <T>(selector: (design: Design) => T): T =>
  documentStore((state) => {
    if (!state.design) throw new Error('no design is open');
    return selector(state.design);
  });

/** The open design, for what is done to it by name. Throws where none is open. */
export const openDesignNow = (): Design => {
  const { design } = documentStore.getState();
  if (!design) throw new Error('no design is open');
  return design;
};

/** A design whose stages all have their numbers; the same one where they have. */
export const numbered = (design: Design): Design => produce(design, (draft) => draft.variants.forEach(numberStages));

/** Opens a design, with an empty history. */
export function openDesign(design: Design | null): void {
  documentStore.setState({ design });
  documentStore.temporal.getState().clear();
}

/** Steps that stay when another tab's change comes in: as many as are kept over a reload. */
export const KEPT_STEPS = 40;

/**
 * The open design as another tab has changed it: what can be undone stays, each step with their changes in it, as far
 * back as both can be had. Where another design is open by now, that stays open.
 */
export function adoptDesign(design: Design): void {
  const { design: before } = documentStore.getState();
  const history = documentStore.temporal.getState();
  if (before?.id !== design.id) return;
  const rebased = (states: typeof history.pastStates) => {
    const steps: { design: Design }[] = [];
    for (const { design: step } of states.slice(-KEPT_STEPS).reverse()) {
      const merged = step ? mergeDesigns(before, design, step) : null;
      if (!merged) break;
      steps.unshift({ design: merged });
    }
    return steps;
  };
  const [pastStates, futureStates] = [rebased(history.pastStates), rebased(history.futureStates)];
  documentStore.setState({ design });
  documentStore.temporal.setState({ pastStates, futureStates });
}

interface Refusal {
  /** Where the design would have been no design any more, and how. */
  readonly fault: string;
  readonly at: number;
}
/** The last change that was refused, for the desk to tell. */
export const refusalStore = create<{ readonly refused: Refusal | null }>()(() => ({ refused: null }));

/** Changes the open design. What would make it unreadable is refused, and the design stays as it is. */
export function edit(change: Edit): void {
  const { design } = documentStore.getState();
  if (!design) return;
  const next = produce(design, (draft) => {
    change(draft);
    tidy(draft);
  });
  if (next === design) return;
  const fault = faultOf(next, design);
  if (fault === null) documentStore.setState({ design: next });
  else refusalStore.setState(({ refused }) => ({ refused: { fault, at: (refused?.at ?? 0) + 1 } }));
}

let gestureStart: Design | null = null;

/** A drag or scrub is one undo step: from beginGesture to endGesture nothing is recorded, then the whole as one. */
export function beginGesture(): void {
  if (gestureStart) return;
  gestureStart = documentStore.getState().design;
  documentStore.temporal.getState().pause();
}

export function endGesture(): void {
  const start = gestureStart;
  gestureStart = null;
  const { design } = documentStore.getState();
  const history = documentStore.temporal.getState();
  if (start && design !== start) {
    documentStore.setState({ design: start });
    history.resume();
    documentStore.setState({ design });
  } else history.resume();
}

export const undo = (): void => documentStore.temporal.getState().undo();
export const redo = (): void => documentStore.temporal.getState().redo();

export function useHistory(): { canUndo: boolean; canRedo: boolean } {
  const canUndo = useStore(documentStore.temporal, (s) => s.pastStates.length > 0);
  const canRedo = useStore(documentStore.temporal, (s) => s.futureStates.length > 0);
  return { canUndo, canRedo };
}
