'use client';

import { useHotkeys } from 'react-hotkeys-hook';
import { setView, viewStore } from '@/store/view';
import { documentStore } from '@/store/document';
import { DESK_ACTIONS } from './actions';
import type { DeskAction } from './desk-action';

/** Keys are letters where words or numbers are typed, and shortcuts everywhere else, on a check box too. */
const typing = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement &&
  event.target.matches('input:not([type=checkbox], [type=radio]), textarea, [contenteditable=true]');
const OPTIONS = { enableOnFormTags: true, ignoreEventWhen: typing } as const;
/** Undo and redo are the design's in a field whose value was taken. */
const typingAnew = (event: KeyboardEvent): boolean =>
  typing(event) && (event.target as HTMLElement).dataset.committed !== 'true';
const HISTORY = { ...OPTIONS, ignoreEventWhen: typingAnew };

function Key({ action }: { action: DeskAction }) {
  useHotkeys(
    action.keys ?? '',
    (event) => {
      event.preventDefault();
      action.run();
    },
    {
      ...(action.id === 'undo' || action.id === 'redo' ? HISTORY : OPTIONS),
      useKey: !action.keys?.startsWith('shift'),
    },
  );
  return null;
}

/** Binds every shortcut, and the key that is held to see the other variant. */
export function Keys({ onPalette, onSheet }: { onPalette: () => void; onSheet: () => void }) {
  useHotkeys(
    'mod+k',
    (event) => {
      event.preventDefault();
      onPalette();
    },
    { enableOnFormTags: true },
  );
  useHotkeys('shift+slash, ?', onSheet, { ...OPTIONS, useKey: true });
  useHotkeys('q', () => flip(true), { ...OPTIONS, keydown: true });
  useHotkeys('q', () => setView({ flipped: false }), { ...OPTIONS, keyup: true, keydown: false });
  return DESK_ACTIONS.filter((a) => a.keys).map((action) => <Key key={action.id} action={action} />);
}

/** Shows the other variant in front; with no ghost chosen yet, the first other one becomes it. */
function flip(flipped: boolean): void {
  const { design } = documentStore.getState();
  const other = design?.variants.find((v) => v.id !== design.currentVariant);
  const ghost = viewStore.getState().ghostVariant;
  const valid = design?.variants.some((v) => v.id === ghost && ghost !== design.currentVariant);
  if (other) setView({ flipped, ghostVariant: valid ? ghost : other.id });
}
