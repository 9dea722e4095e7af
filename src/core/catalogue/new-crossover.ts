import { createCrossover, createNetwork, type MakeId } from '../design/making/create';
import type { Design } from '../design/document/schema';
import type { NetworkTopology } from '../topology/kit/define-topology';
import { layOutWays, type WaysWanted } from './lay-out-ways';

const IN_WORDS: Readonly<Record<WaysWanted['count'], string>> = {
  1: 'full-range',
  2: 'two-way',
  3: 'three-way',
  4: 'four-way',
};

/** What ways before amplifiers of their own are fed: V RMS, and what it comes from, ohm. */
export const LINE = { signalVolts: 1, source: { name: 'Line', ohm: 100 } };

/** A crossover from nothing: passive of second order, or active of fourth, after Linkwitz and Riley. */
export function newCrossover(wanted: WaysWanted, makeId: MakeId): Design {
  const title = [
    'New',
    ...(wanted.active ? ['active'] : []),
    `${IN_WORDS[wanted.count]} crossover`,
    ...(wanted.subwoofer ? ['with a subwoofer'] : []),
  ].join(' ');
  const { ways, drivers } = layOutWays({ ways: [] }, [], wanted, makeId);
  const design = createCrossover(title, () => ways, drivers, makeId);
  // Before amplifiers of their own ways are fed a line level, not an amplifier’s.
  return wanted.active ? { ...design, brief: { ...design.brief, ...LINE } } : design;
}

/** A crossover with a circuit more, in the way where it mostly stands. */
export function withCircuit(design: Design, topology: NetworkTopology, makeId: MakeId): Design {
  const { stage, controls } = createNetwork(topology, makeId, {});
  return {
    ...design,
    title: `New crossover with ${topology.shortName.toLowerCase()}`,
    variants: design.variants.map((variant) => {
      const at = topology.usualWay === 'highest' ? variant.ways.length - 1 : 0;
      return {
        ...variant,
        controls: [...variant.controls, ...controls],
        ways: variant.ways.map((way, w) => (w === at ? { ...way, stages: [...way.stages, stage] } : way)),
      };
    }),
  };
}
