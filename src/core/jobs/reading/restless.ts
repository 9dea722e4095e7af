import { mergeNodes } from '../../circuit/netlist';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { failure, type Failure } from '../../result';

/** Supplies that a circuit without a rest is tried on, as shares of its own. */
const MORE_SUPPLY = [1.5, 2, 3, 4];

/**
 * Why a circuit as built does not rest: beside what was found of it, the `device` at the node that does not settle, and
 * the `volts` of supply on which it would, if there are such. What failed otherwise is given back as it is.
 */
export function restless(design: Design, variant: Variant, found: Failure): Failure {
  if (found.code !== 'no-convergence') return found;
  const built = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!built.ok) return found;
  const { netlist, ways } = built.value;
  const canonical = mergeNodes(netlist);
  const at = netlist.elements.find((e) => e.definition.behave && e.nodes.some((n) => canonical(n) === found.data.node));
  const share = MORE_SUPPLY.find((supplyShare) => compile(design, variant, { ...AS_BUILT, supplyShare }).ok);
  return failure('no-convergence', {
    ...found.data,
    ...(at ? { device: designatorsOf(ways).get(at.name) ?? at.name } : {}),
    ...(share === undefined ? {} : { volts: share * design.brief.supply.volts }),
  });
}
