import { memo } from 'react';
import { pathThrough, schematicShapes } from '@/core/format/schematic-shapes';
import type { VariantSheet } from '@/core/format/variant-sheet';
import { BODY, LEAD, TEXT } from '@/core/topology/kit/drawing';
import { Drawn } from '@/ui/schematic';
import type { SheetPart, StageShapes } from './sheet-parts';
import styles from './sheet.module.css';

interface Props {
  readonly sheet: VariantSheet;
  readonly stages: readonly StageShapes[];
  readonly unitPx: number;
  /** The part that is in hand, and the one that keys stand on. */
  readonly inHand: string;
  readonly here: string | undefined;
  readonly onTake: (part: SheetPart) => void;
}

/** The sheet as it is drawn on the screen; every part is a button. */
export const SheetDrawing = memo(function SheetDrawing({ sheet, stages, unitPx, inHand, here, onTake }: Props) {
  return (
    <svg
      className={`schematic ${styles.drawing}`}
      width={sheet.width * unitPx}
      height={sheet.height * unitPx}
      viewBox={`0 0 ${sheet.width} ${sheet.height}`}
      role="group"
      aria-label={`Schematic of ${sheet.title}. Arrow keys walk from part to part, Enter changes a value.`}
    >
      {sheet.wires.map((points, i) => (
        <path key={i} className="line" d={pathThrough(points)} />
      ))}
      {sheet.dots.map(([x, y], i) => (
        <circle key={i} cx={x} cy={y} r={0.28} className="node" />
      ))}
      {stages.map(({ stage, rest, parts }) => (
        <g key={stage.stageId} role="group" aria-label={stage.name}>
          <rect
            className={styles.frame}
            x={stage.frame.x0}
            y={stage.frame.y0}
            width={stage.frame.x1 - stage.frame.x0}
            height={stage.frame.y1 - stage.frame.y0}
            rx={0.6}
          />
          <g transform={`translate(${stage.at.join(' ')})`}>
            {rest.map((shape, i) => (
              <Drawn key={i} shape={shape} />
            ))}
            {parts.map((part) => (
              <Part
                key={part.id}
                part={part}
                offset={stage.at}
                lit={part.id === inHand}
                here={part.id === here}
                onTake={onTake}
              />
            ))}
          </g>
        </g>
      ))}
      {sheet.resistors.map(({ drawing, options }, i) =>
        schematicShapes(drawing, options).map((shape, k) => <Drawn key={`${i} ${k}`} shape={shape} />),
      )}
      {sheet.texts.map(({ at, text, anchor, strong }, i) => (
        <text
          key={i}
          x={at[0]}
          y={at[1]}
          textAnchor={anchor}
          fontSize={TEXT}
          className={strong ? styles.strong : 'name'}
        >
          {text}
        </text>
      ))}
    </svg>
  );
});

function Part({
  part,
  offset: [dx, dy],
  lit,
  here,
  onTake,
}: {
  part: SheetPart;
  offset: readonly [number, number];
  lit: boolean;
  here: boolean;
  onTake: (part: SheetPart) => void;
}) {
  const [halfX, halfY] = part.vertical ? [BODY + 0.3, LEAD] : [LEAD, BODY + 0.3];
  const [x, y] = [part.at[0] - dx, part.at[1] - dy];
  return (
    <g
      role="button"
      className={styles.part}
      tabIndex={here ? 0 : -1}
      data-part={part.id}
      aria-label={`${part.called}, ${part.value}`}
      onClick={() => onTake(part)}
    >
      <rect className={styles.grip} x={x - halfX} y={y - halfY} width={2 * halfX} height={2 * halfY} rx={0.4} />
      {part.shapes.map((shape, i) => (
        <Drawn key={i} shape={shape} lit={lit} />
      ))}
    </g>
  );
}
