import { DECK, deckTopology } from '../../format/deck/deck-topology';
import { must } from '../../result';
import type { Topology } from '../../topology/kit/define-topology';
import { topologyById } from '../../topology/index';
import { PASSIVE_LADDER, passiveLadder } from '../../topology/loudspeaker/passive-ladder-circuit';
import { controlled } from '../../topology/voice/control/controlled';
import { findChain } from '../../topology/voice/control/index';
import type { Plan, Stage } from '../document/schema';

/**
 * The circuit of a stage: from the catalogue, from the deck it brings, or the ladder that its plan asks for.
 * Throws for an unknown id, a broken deck or a plan that is not there; documents are checked at the door.
 */
export function stageTopology(
  { topology, target, controlledBy }: Pick<Stage, 'topology' | 'target'> & Partial<Pick<Stage, 'controlledBy'>>,
  { plans }: { readonly plans: readonly Plan[] },
): Topology {
  if (topology === DECK && target.kind === 'deck') return must(deckTopology(target));
  if (topology === PASSIVE_LADDER && target.kind === 'plan') {
    const plan = plans.find((p) => p.id === target.plan);
    if (!plan) throw new Error(`no plan is called ${target.plan}`);
    const { response, alignment, order, cutoffHz, bandwidthHz, rippleDb, cutoffAt } = plan;
    return passiveLadder({
      response: response === 'lowpass' || response === 'highpass' ? response : 'bandpass',
      alignment,
      order,
      cutoffHz,
      bandwidthHz,
      rippleDb,
      cutoffAt,
      ohm: target.ohm,
    });
  }
  const found = topologyById(topology);
  if (!controlledBy || found.role !== 'network') return found;
  const { circuit, form, parameters } = controlledBy;
  const chain = findChain(circuit);
  if (!chain) throw new Error(`no control chain is called ${circuit}`);
  return controlled(found, { chain, form, parameters });
}
