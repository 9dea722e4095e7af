'use client';

import { tenth } from '@/ui/chart/tenth';
import { useXAxisInverseScale } from 'recharts';
import { useRef, type PointerEvent } from 'react';
import { usePlot } from '@/ui/chart/chart-frame';
import { DESK } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { setView, useView } from '@/store/view';
import { useRangeGestures } from './use-range-gestures';
import styles from './curves.module.css';

const SNAP_PIXELS = 7;

/**
 * The cursor's line in one chart, and the surface that moves it: it snaps to marks. The range of
 * frequencies is zoomed and panned on it too, unless the chart has an axis of its own.
 */
export function CursorLayer({ snaps = false, zooms = true }: { snaps?: boolean; zooms?: boolean }) {
  const surface = useRef<SVGRectElement>(null);
  useRangeGestures(surface, zooms);
  const cursor = useView((s) => s.cursor);
  const marks = useLiveAnswer(DESK, (d) => d.marks);
  const plot = usePlot();
  const inverse = useXAxisInverseScale();
  if (!plot || !inverse) return null;
  const { area } = plot;
  const move = (event: PointerEvent<SVGRectElement>) => {
    const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    const px = Math.min(area.x + area.width, Math.max(area.x, event.clientX - (svg?.left ?? 0)));
    const near = snaps
      ? marks?.find((m) => m.kind !== 'slope' && Math.abs(plot.x(m.freqHz) - px) < SNAP_PIXELS)
      : undefined;
    setView({ cursor: near ? near.freqHz : Number(inverse(px)) });
  };
  const x = cursor === null ? NaN : plot.x(cursor);
  return (
    <>
      {x >= area.x && x <= area.x + area.width && (
        <path d={`M${tenth(x)} ${area.y}v${area.height}`} className={styles.cursorLine} aria-hidden="true" />
      )}
      <rect
        ref={surface}
        className={styles.cursorSurface}
        data-testid="cursor-surface"
        x={area.x}
        y={area.y}
        width={area.width}
        height={area.height}
        fill="transparent"
        onPointerMove={move}
        onPointerDown={move}
      />
    </>
  );
}
