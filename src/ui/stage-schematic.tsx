'use client';

import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { specsOf, turnedParts } from '@/core/design/stages/stage-design';
import { drawnStage } from '@/core/jobs/desk/stage-facts';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { isTall, Schematic } from './schematic';
import type { Design } from '@/core/design/document/schema';
import type { Topology } from '@/core/topology/kit/define-topology';
import { useDesign } from '@/store/document';
import { useDesignJob } from '@/store/use-design-job';
import { useView } from '@/store/view';
import { currentWayOf } from '@/store/edits/edits';

const couplersOf = (topology: Topology, form: string): ReadonlySet<string> =>
  new Set(
    specsOf(topology, form)
      .filter((spec) => spec.couples)
      .map((spec) => spec.name),
  );

/** Whether a circuit is one thing to direct current and another to the signal: it rests on something. */
export const isReadTwice = (topology: Topology, form: string): boolean =>
  topology.family === 'voltage-controlled' &&
  (couplersOf(topology, form).size > 0 || specsOf(topology, form).some((spec) => spec.kind === 'current'));

export interface StageSchematicProps {
  readonly facts: DeskStage;
  readonly highlighted: readonly string[];
  readonly onPoint: (parts: readonly string[]) => void;
  readonly onPick?: (part: string) => void;
}

/** Whether a stage's drawing takes a screen by itself. */
export function isTallStage(design: Design, facts: DeskStage): boolean {
  const way = currentWayOf(design);
  const stage = way.stages.find((s) => s.id === facts.id);
  const topology = stage && stageTopology(stage, way);
  return topology !== undefined && isTall(drawnStage(topology, facts, design.preferences).drawing);
}

/**
 * A stage's circuit with the values as chosen, in the symbols the maker prefers; where devices rest on something, with
 * their volts and amperes.
 */
export function StageSchematic({ facts, highlighted, onPoint, onPick }: StageSchematicProps) {
  const preferences = useDesign((d) => d.preferences);
  const way = useDesign(currentWayOf);
  const reading = useView((s) => s.reading);
  const stage = way.stages.find((s) => s.id === facts.id);
  const topology = stage && stageTopology(stage, way);
  const rest = useDesignJob('rest', topology?.family === 'voltage-controlled' ? {} : null)?.stages.find(
    (s) => s.stageId === facts.id,
  );
  if (!stage || !topology) return null;
  const { drawing, options } = drawnStage(topology, facts, preferences);
  // Results are a moment behind an edit: a circuit whose values have not come yet is not drawn.
  if (!drawing.parts.every(({ part }) => options.values[part] !== undefined)) return null;
  return (
    <Schematic
      drawing={drawing}
      {...options}
      {...(isReadTwice(topology, facts.form) ? { reading, couplers: couplersOf(topology, facts.form) } : {})}
      {...(rest ? { rest } : {})}
      turned={turnedParts(stage)}
      title={`Circuit of ${facts.name}: ${topology.name}`}
      highlighted={highlighted}
      onPoint={onPoint}
      onPick={onPick}
    />
  );
}
