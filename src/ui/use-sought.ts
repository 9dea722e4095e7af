import { useEffect, useRef, type RefObject } from 'react';
import { foldStore, takeSought } from '@/store/folds';

/** Brings a panel into sight, and the focus to it, when it is asked for by its name. */
export function useSought<T extends HTMLElement>(name: string): RefObject<T | null> {
  const ref = useRef<T>(null);
  const sought = foldStore((s) => s.sought?.name === name);
  useEffect(() => {
    if (!sought || !ref.current || !takeSought(name)) return;
    ref.current.scrollIntoView({ block: 'start' });
    ref.current.focus({ preventScroll: true });
  }, [sought, name]);
  return ref;
}
