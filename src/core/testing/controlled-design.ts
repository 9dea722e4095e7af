import { withControlChain } from '../design/making/control-chain';
import { createDesign, createNetwork } from '../design/making/create';
import type { Design } from '../design/document/schema';
import { must } from '../result';
import type { NetworkTopology } from '../topology/kit/define-topology';
import { findChain } from '../topology/voice/control/index';

let made = 0;
const makeId = () => `cd${made++}`;

/** A voice with its control chain, fed stiffly and feeding nothing. */
export function controlledDesign(
  topology: NetworkTopology,
  chain: string,
  given: {
    readonly mode?: string;
    readonly parameters?: Readonly<Record<string, number>>;
    readonly form?: string;
    readonly scale?: Readonly<Record<string, number>>;
    readonly supply?: Design['brief']['supply'];
  } = {},
): Design {
  const base = createDesign('controlled', () => [], makeId);
  const brief = {
    ...base.brief,
    ...(given.supply ? { supply: given.supply } : {}),
    source: { name: 's', ohm: 0 },
    load: { name: 'l', ohm: null },
  };
  const bare = createNetwork(topology, makeId, { form: given.mode, parameters: given.parameters }).stage;
  const found = findChain(chain);
  if (!found) throw new Error(chain);
  const bench = { ...base, brief };
  const { stage, controls } = must(
    withControlChain(bare, found, bench, makeId, { form: given.form, parameters: given.scale }),
  );
  return {
    ...bench,
    family: 'voltage-controlled',
    variants: base.variants.map((v) => ({
      ...v,
      controls,
      ways: v.ways.map((way) => ({ ...way, stages: [stage] })),
    })),
  };
}
