import { drawingOf } from '../../design/stages/stage-drawing';
import type { Preferences } from '../../design/document/schema';
import type { SheetStage } from '../../format/variant-sheet';
import type { Topology, WorkingLine } from '../../topology/kit/define-topology';
import type { DeskStage } from './desk-types';

/** A stage as a drawing's sheet has it: its circuit with the values and the names it has in the variant. */
export function drawnStage(
  topology: Topology,
  facts: Pick<DeskStage, 'name' | 'form' | 'parts' | 'designators'>,
  { resistorSymbol }: Pick<Preferences, 'resistorSymbol'>,
): Pick<SheetStage, 'name' | 'drawing' | 'options'> {
  const values = Object.fromEntries(facts.parts.map((p) => [p.name, p.chosen]));
  return {
    name: topology.name.startsWith(facts.name) ? topology.name : `${facts.name}, ${topology.name}`,
    drawing: drawingOf(topology, facts.form, values),
    options: {
      values,
      names: facts.designators,
      resistorSymbol,
      leftOut: Object.fromEntries(facts.parts.filter((p) => p.leftOut).map((p) => [p.name, p.leaveOut])),
    },
  };
}

/** A stage's formulas with its chosen parts; none where a section has no target. */
export function workingOf(topology: Topology, facts: DeskStage): readonly WorkingLine[] {
  if (topology.role === 'section') return facts.target ? topology.working(facts.target, facts.values) : [];
  const got = Object.fromEntries(facts.network?.parameters.map((p) => [p.name, p.got]) ?? []);
  return topology.working(facts.form, facts.values, got);
}
