import { DECK, deckTopology } from '../format/deck/deck-topology';
import { must } from '../result';
import type { Topology } from '../topology/define-topology';
import { topologyById } from '../topology/index';
import type { Stage } from './schema';

/** The circuit of a stage: from the catalogue, or from the deck it brings. Throws for an unknown id or a broken deck; documents are checked at the door. */
export const stageTopology = ({ topology, target }: Pick<Stage, 'topology' | 'target'>): Topology => (topology === DECK && target.kind === 'deck' ? must(deckTopology(target)) : topologyById(topology));
