import { useGesture } from '@use-gesture/react';
import type { RefObject } from 'react';
import { panned, rangeNow, showRange, zoomed } from '@/store/curves/frequency-range';

/** px of a wheel that zoom by a factor of e, and that pan by the whole range. */
const ZOOM_PX = 500;
const PAN_PX = 900;
/** Wheels that count in lines or pages. */
const PX_A_STEP = [1, 16, 400];

/**
 * The frequency axis by wheel and fingers: a wheel zooms about the pointer, with Shift or sideways it pans; two fingers
 * do both.
 */
export function useRangeGestures(surface: RefObject<SVGRectElement | null>, on: boolean): void {
  /** Share of the surface's width at which something is. */
  const shareAt = (clientX: number): number => {
    const box = surface.current?.getBoundingClientRect();
    return box && box.width > 0 ? Math.min(1, Math.max(0, (clientX - box.left) / box.width)) : 0.5;
  };
  useGesture(
    {
      onWheel: ({ event, last }) => {
        // Once more after the last turn, with that turn’s event again.
        if (last) return;
        event.preventDefault();
        const px = PX_A_STEP[event.deltaMode] ?? 1;
        const range = rangeNow();
        const sideways = event.shiftKey && event.deltaX === 0 ? event.deltaY : event.deltaX;
        if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY))
          return showRange(panned(range, (sideways * px) / PAN_PX));
        const aboutHz = range.fromHz * (range.toHz / range.fromHz) ** shareAt(event.clientX);
        showRange(zoomed(range, Math.exp((event.deltaY * px) / ZOOM_PX), aboutHz));
      },
      onPinch: ({ event, origin: [x], movement: [scale], first, memo }) => {
        event.preventDefault();
        const start = first ? { range: rangeNow(), share: shareAt(x) } : (memo as Start);
        const { range, share } = start;
        const aboutHz = range.fromHz * (range.toHz / range.fromHz) ** share;
        const next = zoomed(range, 1 / scale, aboutHz);
        showRange(panned(next, share - shareAt(x)));
        return start;
      },
    },
    { target: surface, enabled: on, eventOptions: { passive: false } },
  );
}

interface Start {
  readonly range: ReturnType<typeof rangeNow>;
  readonly share: number;
}
