import type { SectionTopology } from '../../topology/kit/define-topology';
import type { SectionTarget } from '../../filter/section';
import { SECTION_TOPOLOGIES } from '../../topology/index';
import { placeOf } from './create';
import { keptParts } from '../stages/kept-parts';
import type { Variant } from '../document/schema';
import { wayTargets } from '../stages/targets';

export const canServe = (topology: SectionTopology, target: SectionTarget | null): boolean =>
  target !== null && topology.order === target.order && topology.responses.includes(target.response);

/**
 * Every planned stage that a circuit can serve built with it, what still holds of its part choices kept; new stages of
 * its kind will be too.
 */
export function withTopology(variant: Variant, topologyId: string): Variant {
  const topology = SECTION_TOPOLOGIES.find((t) => t.id === topologyId);
  if (!topology) return variant;
  return {
    ...variant,
    ways: variant.ways.map((way) => {
      const { targets } = wayTargets(way);
      return {
        ...way,
        plans: way.plans.map((plan) => ({
          ...plan,
          topologies: {
            first:
              topology.order === 1 && topology.responses.some((r) => r === plan.response)
                ? topologyId
                : plan.topologies.first,
            second:
              topology.order === 2 && topology.responses.some((r) => r === plan.response)
                ? topologyId
                : plan.topologies.second,
            notch: topology.order === 2 && topology.responses.includes('notch') ? topologyId : plan.topologies.notch,
          },
        })),
        stages: way.stages.map((stage, i) =>
          placeOf(stage) !== null && stage.topology !== topologyId && canServe(topology, targets[i])
            ? {
                ...stage,
                topology: topologyId,
                parts: keptParts(stage, targets[i]!.response, topologyId, targets[i]!.response),
              }
            : stage,
        ),
      };
    }),
  };
}
