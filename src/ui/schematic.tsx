'use client';

import { schematicShapes, type SchematicOptions, type Shape } from '@/core/format/schematic-shapes';
import { useMemo } from 'react';
import { drawingBounds, TEXT, type Drawing } from '@/core/topology/kit/drawing';

export interface SchematicProps extends SchematicOptions {
  readonly drawing: Drawing;
  readonly title: string;
  /** Parts pointed at, here or elsewhere. */
  readonly highlighted?: readonly string[];
  readonly onPoint?: (parts: readonly string[]) => void;
  /** A part was taken in hand. */
  readonly onPick?: (part: string) => void;
}

/** The largest a unit is drawn: small circuits do not fill the pane for its own sake. */
const PIXELS_A_UNIT = 13;
const MARGIN = 0.6;
/** Units: what is higher is read by scrolling, not by shrinking, and is no larger than its lettering needs. */
const TALL = 44;
/** The least that lettering is read at. */
const LEAST_LETTER_PX = 11;
const NONE: readonly string[] = [];

/** Whether a drawing is one of those that take a screen by themselves. */
export function isTall(drawing: Drawing): boolean {
  const { y0, y1 } = drawingBounds(drawing);
  return y1 - y0 + 2 * MARGIN > TALL;
}

/** A stage's circuit with its live values. Pointing at a part tells the owner which, and again when it is left. */
export function Schematic({ drawing, title, highlighted = NONE, onPoint, onPick, ...options }: SchematicProps) {
  const shapes = schematicShapes(drawing, options);
  const { x0, y0, width, height } = useMemo(() => {
    const box = drawingBounds(drawing);
    return {
      x0: box.x0 - MARGIN,
      y0: box.y0 - MARGIN,
      width: box.x1 - box.x0 + 2 * MARGIN,
      height: box.y1 - box.y0 + 2 * MARGIN,
    };
  }, [drawing]);
  return (
    <svg
      className="schematic"
      viewBox={`${x0} ${y0} ${width} ${height}`}
      style={
        height > TALL
          ? { maxWidth: (width * LEAST_LETTER_PX) / TEXT, maxHeight: 'none' }
          : { maxWidth: width * PIXELS_A_UNIT }
      }
      role="img"
      aria-label={title}
      preserveAspectRatio="xMidYMid meet"
    >
      {shapes.map((shape, i) => {
        const part = shape.kind === 'dot' ? null : shape.part;
        const lit = part !== null && highlighted.includes(part);
        if (part === null) return <Drawn key={i} shape={shape} lit={lit} />;
        return (
          <g
            key={i}
            onPointerEnter={() => onPoint?.([part])}
            onPointerLeave={() => onPoint?.(NONE)}
            onClick={() => onPick?.(part)}
          >
            <Drawn shape={shape} lit={lit} />
          </g>
        );
      })}
    </svg>
  );
}

/** One line, dot or text of a schematic. */
export function Drawn({ shape, lit = false }: { shape: Shape; lit?: boolean }) {
  if (shape.kind === 'dot') return <circle cx={shape.at[0]} cy={shape.at[1]} r={0.28} className="node" />;
  if (shape.kind === 'path') return <path d={shape.d} className={lit ? 'line lit' : 'line'} />;
  return (
    <text
      x={shape.at[0]}
      y={shape.at[1]}
      textAnchor={shape.anchor}
      fontSize={TEXT}
      className={`${shape.rest ? 'rest' : shape.strong ? 'value' : 'name'}${lit ? ' lit' : ''}`}
    >
      {shape.text}
    </text>
  );
}
