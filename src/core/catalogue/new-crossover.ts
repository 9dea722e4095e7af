import { createCrossover, createDriverWay, createNetwork, createPlan, type MakeId } from '../design/create';
import type { Design, Plan } from '../design/schema';
import { demoDrivers } from '../loudspeaker/demo-drivers';
import type { Driver } from '../loudspeaker/driver';
import type { NetworkTopology } from '../topology/kit/define-topology';

/** By the number of ways: their names, drivers from the bass up, and where they cross, Hz. */
const LAYOUTS: Readonly<Record<number, { names: string[]; drivers: string[]; crossHz: number[] }>> = {
  2: { names: ['Woofer', 'Tweeter'], drivers: ['alder-165', 'finch-25'], crossHz: [2500] },
  3: { names: ['Bass', 'Midrange', 'Tweeter'], drivers: ['elm-260', 'rowan-110', 'finch-25'], crossHz: [500, 3000] },
  4: {
    names: ['Subwoofer', 'Bass', 'Midrange', 'Tweeter'],
    drivers: ['elm-260', 'alder-165', 'rowan-110', 'finch-25'],
    crossHz: [90, 600, 3000],
  },
};

const IN_WORDS: Readonly<Record<number, string>> = { 2: 'two', 3: 'three', 4: 'four' };

/**
 * A passive crossover of so many ways, 2 to 4, second order after Linkwitz and Riley: the lowest way a low-pass, the
 * highest a high-pass, those in the middle both; each way turned against its neighbours, as the second order asks.
 */
export function newCrossover(ways: number, makeId: MakeId): Design {
  const layout = LAYOUTS[ways];
  if (!layout) throw new Error(`no crossover of ${ways} ways is laid out`);
  const { names, crossHz } = layout;
  const drivers = layout.drivers.map((id) => demoDrivers().find((d) => d.id === id) as Driver);
  const plan = (id: MakeId, response: 'lowpass' | 'highpass', hz: number): Plan =>
    createPlan(id(), response, 'linkwitz-riley', 2, hz);
  return createCrossover(
    `New ${IN_WORDS[ways]}-way crossover`,
    (id) =>
      names.map((name, w) =>
        createDriverWay(
          id,
          name,
          drivers[w],
          [
            ...(w > 0 ? [plan(id, 'highpass', crossHz[w - 1])] : []),
            ...(w < crossHz.length ? [plan(id, 'lowpass', crossHz[w])] : []),
          ],
          { polarity: w % 2 === 0 ? 1 : -1 },
        ),
      ),
    drivers,
    makeId,
  );
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
