'use client';

import { schematicShapes, type SchematicOptions } from '@/core/format/schematic-shapes';
import { TEXT, type Drawing } from '@/core/topology/drawing';

export interface SchematicProps extends SchematicOptions {
  readonly drawing: Drawing;
  readonly title: string;
  readonly highlighted?: string | null;
  readonly onPoint?: (part: string | null) => void;
}

/** A stage's circuit with its live values. Pointing at a part tells the owner which. */
export function Schematic({ drawing, title, highlighted = null, onPoint, ...options }: SchematicProps) {
  const shapes = schematicShapes(drawing, options);
  return (
    <svg className="schematic" viewBox={`-1 0 ${drawing.width + 2} ${drawing.height}`} role="img" aria-label={title} preserveAspectRatio="xMidYMid meet">
      {shapes.map((shape, i) => {
        if (shape.kind === 'dot') return <circle key={i} cx={shape.at[0]} cy={shape.at[1]} r={0.28} className="node" />;
        const part = shape.part;
        const lit = part !== null && part === highlighted ? ' lit' : '';
        const point = part ? { onPointerEnter: () => onPoint?.(part), onPointerLeave: () => onPoint?.(null) } : {};
        if (shape.kind === 'path') return <path key={i} d={shape.d} className={`line${lit}`} {...point} />;
        return (
          <text key={i} x={shape.at[0]} y={shape.at[1]} textAnchor={shape.anchor} fontSize={TEXT} className={`${shape.strong ? 'value' : 'name'}${lit}`} {...point}>
            {shape.text}
          </text>
        );
      })}
    </svg>
  );
}
