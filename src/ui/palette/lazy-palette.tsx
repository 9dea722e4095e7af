'use client';

import { useEffect, useState, type ComponentProps } from 'react';
import { whenIdle } from '@/ui/when-idle';
import type { Palette } from './palette';

let fetched: typeof Palette | null = null;
const fetchPalette = async () => (fetched ??= (await import('./palette')).Palette);

/**
 * The palette for pages that have no circuits of their own: it knows every circuit, and comes when the page is quiet or
 * when it is opened. Once it is there it opens in the same turn, so that what is typed right after the key lands in it;
 * the desk, where letters are shortcuts, has it from the start.
 */
export function LazyPalette(props: ComponentProps<typeof Palette>) {
  const [Fetched, setFetched] = useState<typeof Palette | null>(() => fetched);
  const { open } = props;
  useEffect(() => {
    let gone = false;
    const take = async () => {
      const palette = await fetchPalette();
      if (!gone) setFetched(() => palette);
    };
    if (open) void take();
    else whenIdle(take);
    return () => {
      gone = true;
    };
  }, [open]);
  return open && Fetched ? <Fetched {...props} /> : null;
}
