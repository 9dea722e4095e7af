import { buffer } from './buffer';
import { coilCapacitor } from './coil-capacitor';
import type { Topology } from './define-topology';
import { firstOrderBuffered } from './first-order-buffered';
import { firstOrderPassive } from './first-order-passive';
import { multipleFeedback } from './multiple-feedback';
import { sallenKeyEqualParts } from './sallen-key-equal-parts';
import { sallenKeyUnityGain } from './sallen-key-unity-gain';

/** Every circuit on offer. A new topology is one file, one line here and one textbook test; everything else follows from this list. */
export const TOPOLOGIES: readonly Topology[] = [
  firstOrderBuffered,
  firstOrderPassive,
  sallenKeyUnityGain,
  sallenKeyEqualParts,
  multipleFeedback,
  buffer,
  coilCapacitor,
] as const;

const byId = new Map(TOPOLOGIES.map((topology) => [topology.id, topology]));
if (byId.size !== TOPOLOGIES.length) throw new Error('two topologies share an id');

export function findTopology(id: string): Topology | undefined {
  return byId.get(id);
}

/** Throws for an unknown id; documents are checked at the door. */
export function topologyById(id: string): Topology {
  const found = byId.get(id);
  if (!found) throw new Error(`no topology is called ${id}`);
  return found;
}
