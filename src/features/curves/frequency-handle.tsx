'use client';

import { useXAxisInverseScale } from 'recharts';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { usePlot } from '@/ui/chart/chart-frame';
import { beginGesture, endGesture } from '@/store/document';
import { setView } from '@/store/view';
import styles from './curves.module.css';

const STEP = 1.01;
const LARGE = 10;

/** px */
const LETTER_PX = 6.7;

/** Under the knob, or as far beside as keeps it in the chart. */
function captionX(text: string, x: number, area: { readonly x: number; readonly width: number }): number {
  const half = (text.length * LETTER_PX) / 2;
  return Math.max(area.x + half, Math.min(area.x + area.width - half, x));
}

interface HandleMoves {
  readonly onTake?: () => void;
  /** To so many Hz, to four digits, and so many pixels up from where it was taken. */
  readonly onDrag: (freqHz: number, up: number) => void;
  /** By a factor. */
  readonly onStep: (factor: number) => void;
  /** Up or down by so many steps, where that means something else than a frequency. */
  readonly onLift?: (steps: number) => void;
}

interface FrequencyHandleProps extends HandleMoves {
  readonly at: readonly [number, number];
  readonly testId: string;
  readonly name: string;
  readonly freqHz: number;
  readonly words: string;
  readonly caption?: string;
}

/** What a pointer does to it: one drag is one step to undo. */
function useDrag({ onTake, onDrag }: HandleMoves) {
  const inverse = useXAxisInverseScale();
  /** Where the chart begins on the page: asked once a drag, since asking makes the browser lay the page out. */
  const chartLeft = useRef(0);
  const takenAt = useRef(0);
  const onPointerDown = (event: PointerEvent<SVGGElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    chartLeft.current = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
    takenAt.current = event.clientY;
    onTake?.();
    beginGesture();
    setView({ dragging: true });
  };
  const onPointerMove = (event: PointerEvent<SVGGElement>) => {
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
  return { onPointerDown, onPointerMove, onPointerUp: drop, onPointerCancel: drop };
}

const WAYS: Readonly<Record<string, 1 | -1>> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 };

/** What a key does to it: a step, or with Shift ten. */
const onKey =
  ({ onStep, onLift }: HandleMoves) =>
  (event: KeyboardEvent): void => {
    const way = WAYS[event.key];
    if (way === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const steps = way * (event.shiftKey ? LARGE : 1);
    if (onLift && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) onLift(steps);
    else onStep(STEP ** steps);
  };

/**
 * A knob on a curve that stands for a frequency: taken by the hand, or stepped by the arrow keys, ten times as far with
 * Shift.
 */
export function FrequencyHandle(props: FrequencyHandleProps) {
  const {
    at: [x, atY],
    testId,
    name,
    freqHz,
    words,
    caption,
  } = props;
  const plot = usePlot();
  const drag = useDrag(props);
  // Out of the range on show there is nothing to take hold of.
  if (!plot || x < plot.area.x || x > plot.area.x + plot.area.width) return null;
  const y = Math.min(plot.area.y + plot.area.height, Math.max(plot.area.y, atY));
  return (
    <g
      className={styles.handle}
      data-testid={testId}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={freqHz}
      aria-valuetext={words}
      onKeyDown={onKey(props)}
      {...drag}
    >
      <circle className="reach" cx={x} cy={y} r={14} />
      <circle className="knob" cx={x} cy={y} r={6} />
      {caption && (
        <text x={captionX(caption, x, plot.area)} y={y + 22} textAnchor="middle" className={styles.handleName}>
          {caption}
        </text>
      )}
    </g>
  );
}
