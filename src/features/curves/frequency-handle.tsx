'use client';

import { useXAxisInverseScale } from 'recharts';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { usePlot } from '@/ui/chart/chart-frame';
import { beginGesture, endGesture } from '@/store/document';
import { setView } from '@/store/view';

const STEP = 1.01;
const LARGE = 10;

/** px */
const LETTER_PX = 6.7;

/** Under the knob, or as far beside as keeps it in the chart. */
function captionX(text: string, x: number, area: { readonly x: number; readonly width: number }): number {
  const half = (text.length * LETTER_PX) / 2;
  return Math.max(area.x + half, Math.min(area.x + area.width - half, x));
}

/**
 * A knob on a curve that stands for a frequency: taken by the hand, or stepped by the arrow keys, ten times as far with
 * Shift. One drag is one step to undo.
 */
export function FrequencyHandle({
  at: [x, atY],
  testId,
  name,
  freqHz,
  words,
  caption,
  onTake,
  onDrag,
  onStep,
  onLift,
}: {
  at: readonly [number, number];
  testId: string;
  name: string;
  freqHz: number;
  words: string;
  caption?: string;
  onTake?: () => void;
  /** To so many Hz, to four digits, and so many pixels up from where it was taken. */
  onDrag: (freqHz: number, up: number) => void;
  /** By a factor. */
  onStep: (factor: number) => void;
  /** Up or down by so many steps, where that means something else than a frequency. */
  onLift?: (steps: number) => void;
}) {
  const inverse = useXAxisInverseScale();
  const plot = usePlot();
  /** Where the chart begins on the page: asked once a drag, since asking makes the browser lay the page out. */
  const chartLeft = useRef(0);
  const takenAt = useRef(0);
  const move = (event: PointerEvent<SVGGElement>) => {
    if (!inverse || !event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const wanted = Number(inverse(event.clientX - chartLeft.current));
    if (wanted > 0) onDrag(Number(wanted.toPrecision(4)), takenAt.current - event.clientY);
  };
  const drop = (event: PointerEvent<SVGGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    event.currentTarget.releasePointerCapture(event.pointerId);
    endGesture();
    setView({ dragging: false });
  };
  const onKey = (event: KeyboardEvent) => {
    const way =
      event.key === 'ArrowRight' || event.key === 'ArrowUp'
        ? 1
        : event.key === 'ArrowLeft' || event.key === 'ArrowDown'
          ? -1
          : 0;
    if (way === 0) return;
    event.preventDefault();
    event.stopPropagation();
    if (onLift && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) onLift(way * (event.shiftKey ? LARGE : 1));
    else onStep(STEP ** (way * (event.shiftKey ? LARGE : 1)));
  };
  // Out of the range on show there is nothing to take hold of.
  if (!plot || x < plot.area.x || x > plot.area.x + plot.area.width) return null;
  const y = Math.min(plot.area.y + plot.area.height, Math.max(plot.area.y, atY));
  return (
    <g
      className="handle"
      data-testid={testId}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={freqHz}
      aria-valuetext={words}
      onKeyDown={onKey}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={drop}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        chartLeft.current = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
        takenAt.current = event.clientY;
        onTake?.();
        beginGesture();
        setView({ dragging: true });
      }}
    >
      <circle className="reach" cx={x} cy={y} r={14} />
      <circle className="knob" cx={x} cy={y} r={6} />
      {caption && (
        <text x={captionX(caption, x, plot.area)} y={y + 22} textAnchor="middle" className="handle-name">
          {caption}
        </text>
      )}
    </g>
  );
}
