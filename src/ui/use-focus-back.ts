import { useEffect, useState } from 'react';

/** Whether the focus is nowhere, or on something that has gone out of sight. */
const isLost = (): boolean => {
  const { activeElement } = document;
  return (
    activeElement === null ||
    activeElement === document.body ||
    activeElement.closest('.ant-dropdown, .ant-modal') !== null
  );
};

/** Gives the focus to an element unless something else has taken it meanwhile. */
export function focusUnlessTaken(wanted: Element | null): void {
  // What goes is still there for a moment.
  setTimeout(() => {
    if (wanted instanceof HTMLElement && wanted.isConnected && isLost()) wanted.focus();
  });
}

/** Gives the focus back to where it was when this was mounted, once it is gone. */
export function useFocusBack(): void {
  const [before] = useState(() => document.activeElement);
  useEffect(() => () => focusUnlessTaken(before), [before]);
}

/** The same for what mounts its content only while it is open. */
export function FocusBack(): null {
  useFocusBack();
  return null;
}

let pages = 0;

/**
 * Puts the focus on a page's heading where a link led there and nothing else took it; a first visit begins at the top.
 */
export function useFocusOnArrival(id: string): void {
  useEffect(() => {
    if (pages++ > 0) focusUnlessTaken(document.getElementById(id));
  }, [id]);
}
