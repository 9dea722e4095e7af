import { useEffect, useRef, type RefObject } from 'react';
import { foldStore, takeSought } from '@/store/folds';

/** So long what stands above a panel may still come in and push it away, ms; how often that is looked at. */
const SETTLING_MS = 3000;
const LOOK_MS = 100;
/** What a hand does that wants to be elsewhere. */
const HAND = ['wheel', 'pointerdown', 'keydown'] as const;

/** Brings a panel into sight, and the focus to it, when it is asked for by its name. */
export function useSought<T extends HTMLElement>(name: string): RefObject<T | null> {
  const ref = useRef<T>(null);
  const sought = foldStore((s) => s.sought?.name === name);
  useEffect(() => {
    if (!sought || !ref.current || !takeSought(name)) return;
    ref.current.focus({ preventScroll: true });
    keepInSight(ref.current);
  }, [sought, name]);
  return ref;
}

/** Keeps a panel where it was brought while others come in above it, until a hand moves. */
function keepInSight(panel: HTMLElement): void {
  const show = () => panel.isConnected && panel.scrollIntoView({ block: 'start' });
  show();
  const looking = setInterval(show, LOOK_MS);
  const end = () => {
    clearInterval(looking);
    clearTimeout(over);
    for (const act of HAND) window.removeEventListener(act, end, true);
  };
  const over = setTimeout(end, SETTLING_MS);
  for (const act of HAND) window.addEventListener(act, end, true);
}
