import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useState } from 'react';

/** Rows kept on the page beyond those in sight, so that the Tab key always finds the next one. */
const BEYOND = 16;

interface VirtualRows {
  /** To be given to the table. */
  readonly table: (element: HTMLElement | null) => void;
  /** Places of the rows that are to be on the page. */
  readonly rows: readonly number[];
  /** px: how high what is left out above and below them is. */
  readonly above: number;
  readonly below: number;
}

/** Which rows of a long table are to be on the page as the window scrolls. */
export function useVirtualRows(count: number, rowPx: number): VirtualRows {
  const [element, table] = useState<HTMLElement | null>(null);
  const top = element?.offsetTop ?? 0;
  const virtual = useWindowVirtualizer({ count, estimateSize: () => rowPx, overscan: BEYOND, scrollMargin: top });
  const items = virtual.getVirtualItems();
  const [first, last] = [items[0], items[items.length - 1]];
  return {
    table,
    rows: items.map((item) => item.index),
    above: first ? first.start - top : 0,
    below: last ? virtual.getTotalSize() - (last.end - top) : 0,
  };
}
