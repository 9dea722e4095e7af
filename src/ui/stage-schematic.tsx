'use client';

import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { drawingOf, specsOf } from '@/core/design/stage-design';
import { stageTopology } from '@/core/design/stage-topology';
import { Schematic } from './schematic';
import type { Stage } from '@/core/design/schema';
import type { Topology } from '@/core/topology/kit/define-topology';
import { useDesign } from '@/store/document';
import { useDesignJob } from '@/store/use-design-job';
import { useView } from '@/store/view';
import { currentWayOf } from '@/store/edits';

const NONE: ReadonlySet<string> = new Set();
const known = new WeakMap<Stage['parts'], ReadonlySet<string>>();

/**
 * Resistors of a stage that a pot or switch stands in for; the same set for the same choices, so that nothing is drawn
 * again for it.
 */
function turnedParts(stage: Stage | undefined): ReadonlySet<string> {
  if (!stage) return NONE;
  const before = known.get(stage.parts);
  if (before) return before;
  const turned = new Set(
    Object.entries(stage.parts).flatMap(([name, { control }]) => (control && control.kind !== 'wiper' ? [name] : [])),
  );
  known.set(stage.parts, turned);
  return turned;
}

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

/**
 * A stage's circuit with the values as chosen, in the symbols the maker prefers; where devices rest on something, with
 * their volts and amperes.
 */
export function StageSchematic({
  facts,
  highlighted,
  onPoint,
  onPick,
}: {
  facts: DeskStage;
  highlighted: readonly string[];
  onPoint: (part: string | null) => void;
  onPick?: (part: string) => void;
}) {
  const resistorSymbol = useDesign((d) => d.preferences.resistorSymbol);
  const way = useDesign(currentWayOf);
  const reading = useView((s) => s.reading);
  const stage = way.stages.find((s) => s.id === facts.id);
  const values = Object.fromEntries(facts.parts.map((p) => [p.name, p.chosen]));
  const leftOut = Object.fromEntries(facts.parts.filter((p) => p.leftOut).map((p) => [p.name, p.leaveOut]));
  const topology = stage && stageTopology(stage, way);
  const twice = topology !== undefined && isReadTwice(topology, facts.form);
  const rest = useDesignJob('rest', topology?.family === 'voltage-controlled' ? {} : null)?.stages.find(
    (s) => s.stageId === facts.id,
  );
  const drawing = topology && drawingOf(topology, facts.form, values);
  // Results are a moment behind an edit: a circuit whose values have not come yet is not drawn.
  if (!drawing || !drawing.parts.every(({ part }) => values[part] !== undefined)) return null;
  return (
    <Schematic
      drawing={drawing}
      {...(twice ? { reading, couplers: couplersOf(topology, facts.form) } : {})}
      {...(rest ? { rest } : {})}
      values={values}
      leftOut={leftOut}
      turned={turnedParts(stage)}
      resistorSymbol={resistorSymbol}
      title={`Circuit of ${facts.name}: ${topology.name}`}
      highlighted={highlighted}
      onPoint={onPoint}
      onPick={onPick}
    />
  );
}
