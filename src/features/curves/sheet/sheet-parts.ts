import { schematicShapes, type Shape } from '@/core/format/schematic-shapes';
import type { PlacedStage, VariantSheet } from '@/core/format/variant-sheet';
import type { Point } from '@/core/topology/kit/drawing';

/** A part that can be taken in hand on the sheet. */
export interface SheetPart {
  readonly id: string;
  readonly wayId: string;
  readonly stageId: string;
  readonly name: string;
  /** Its designator and its value, as they are drawn. */
  readonly called: string;
  readonly value: string;
  /** Its middle, on the sheet. */
  readonly at: Point;
  readonly vertical: boolean;
  readonly shapes: readonly Shape[];
}

export interface StageShapes {
  readonly stage: PlacedStage;
  /** What belongs to no part: wires, op-amps, ports. */
  readonly rest: readonly Shape[];
  readonly parts: readonly SheetPart[];
}

/** A sheet's stages as what is drawn of each part and what is drawn besides. */
export const shapesOfSheet = ({ stages }: VariantSheet): StageShapes[] =>
  stages.map((stage) => {
    const shapes = schematicShapes(stage.drawing, stage.options);
    const own = (part: string) => shapes.filter((s) => s.kind !== 'dot' && s.part === part);
    return {
      stage,
      rest: shapes.filter((s) => s.kind === 'dot' || s.part === null),
      parts: stage.drawing.parts.map(({ part, at, vertical }): SheetPart => {
        const texts = own(part).flatMap((s) => (s.kind === 'text' ? [s] : []));
        return {
          id: `${stage.stageId} ${part}`,
          wayId: stage.wayId,
          stageId: stage.stageId,
          name: part,
          called: texts.find((t) => !t.strong)?.text ?? part,
          value: texts.find((t) => t.strong)?.text ?? '',
          at: [at[0] + stage.at[0], at[1] + stage.at[1]],
          vertical,
          shapes: own(part),
        };
      }),
    };
  });

/** Finds a part where it is drawn. */
export const partSelector = ({ id }: SheetPart): string => `[data-part=${JSON.stringify(id)}]`;

export type Step = 'ArrowLeft' | 'ArrowRight' | 'ArrowUp' | 'ArrowDown';
/** How much further a part seems for every unit that it lies to the side of where the arrow points. */
const ASIDE = 2;

/** The part that an arrow key walks to: the nearest that way. The one it comes from where there is none. */
export function stepTo(parts: readonly SheetPart[], from: SheetPart, step: Step): SheetPart {
  const [ux, uy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[step];
  let best = from;
  let least = Infinity;
  for (const part of parts) {
    const [dx, dy] = [part.at[0] - from.at[0], part.at[1] - from.at[1]];
    const along = dx * ux + dy * uy;
    const aside = Math.abs(dx * uy) + Math.abs(dy * ux);
    // What lies more to the side than ahead belongs to another arrow.
    if (along <= 0 || aside > 2 * along) continue;
    const far = along + ASIDE * aside;
    if (far < least) [best, least] = [part, far];
  }
  return best;
}
