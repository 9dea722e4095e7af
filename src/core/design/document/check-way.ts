import type * as z from 'zod';
import { alignmentById } from '../../filter/alignments/index';
import { ordersIn } from '../../filter/plan-sections';
import { DECK, deckTopology } from '../../format/deck/deck-topology';
import { findTopology } from '../../topology/index';
import { PASSIVE_LADDER } from '../../topology/loudspeaker/passive-ladder-circuit';
import type { stageSchema, waySchema } from './way-schema';

type Way = z.infer<typeof waySchema>;
type Stage = z.infer<typeof stageSchema>;

/** What of a variant its ways refer to. */
interface Around {
  readonly controls: readonly { readonly id: string }[];
  readonly ways: readonly Way[];
}
type Report = (path: (string | number)[], message: string) => void;

/**
 * References inside a way hold: sections to their plan, a way's start to a stage of a way before it (so that ways form
 * a tree).
 */
export function checkWay(variant: Around, way: Way, report: Report): void {
  way.plans.forEach((plan, p) => {
    const orders = ordersIn(plan.response, alignmentById(plan.alignment));
    if (!orders.includes(plan.order))
      report(['plans', p, 'order'], `is one of ${orders.join(', ')} for this alignment and response`);
  });
  way.stages.forEach((stage, s) => {
    checkStage(variant, stage, (path, message) => report(['stages', s, ...path], message));
    if (stage.target.kind === 'plan') {
      const { plan } = stage.target;
      if (!way.plans.some((p) => p.id === plan)) report(['stages', s, 'target', 'plan'], 'names no plan of this way');
    }
    if (stage.target.kind !== 'section') return;
    const { plan, section } = stage.target;
    const found = way.plans.find((p) => p.id === plan);
    if (!found) report(['stages', s, 'target', 'plan'], 'names no plan of this way');
    else if (section >= Math.ceil(found.order / 2))
      report(['stages', s, 'target', 'section'], 'is past the last section of its plan');
  });
  const { from } = way;
  if (from.kind !== 'stage') return;
  const parent = variant.ways.slice(0, variant.ways.indexOf(way)).find((w) => w.id === from.way);
  if (!parent) report(['from', 'way'], 'names no way before this one');
  else if (!parent.stages.some((s) => s.id === from.stage)) report(['from', 'stage'], 'names no stage of that way');
}

/**
 * A stage's target is of its circuit's kind, with the numbers the circuit asks for; its parts hang on controls there
 * are.
 */
function checkStage(variant: Around, { topology: id, target, mode, parts }: Stage, report: Report): void {
  for (const [name, { control }] of Object.entries(parts))
    if (control && !variant.controls.some((c) => c.id === control.control))
      report(['parts', name, 'control'], 'names no control of this variant');
  if ((id === DECK) !== (target.kind === 'deck') || (id === PASSIVE_LADDER) !== (target.kind === 'plan'))
    return report(['target', 'kind'], 'does not go with this circuit');
  if (target.kind === 'deck') {
    const read = deckTopology(target);
    if (!read.ok) report(['target', 'text'], `line ${String(read.data.line)}: ${String(read.data.message)}`);
    return;
  }
  const topology = findTopology(id);
  if (!topology) return;
  if ((topology.role === 'network') !== (target.kind === 'network'))
    report(['target', 'kind'], `does not go with ${topology.name}`);
  else if (topology.role === 'network' && target.kind === 'network') {
    if (!topology.modes.includes(mode)) report(['mode'], `is not one of ${topology.modes.join(', ')}`);
    for (const spec of topology.parameters) {
      const value = target.parameters[spec.name];
      if (value === undefined || !(value >= spec.min && value <= spec.max))
        report(['target', 'parameters', spec.name], `is wanted between ${spec.min} and ${spec.max}`);
    }
  }
}
