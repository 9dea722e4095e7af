import { controlledCharge } from '../../circuit/elements/controlled-charge';
import { vccs } from '../../circuit/elements/controlled-sources';
import { GROUND, type ElementInstance, type Netlist } from '../../circuit/netlist';
import { assemble } from '../../circuit/structure';
import { success, type Result } from '../../result';
import { CircuitEquations, type Conditions } from './equations';
import { operatingPoint, type OperatingPointFailure } from './operating-point';

/**
 * A circuit's elements with every device put down as what it is to a small signal where the circuit rests: a controlled
 * current for every slope of a current, a controlled charge for every slope of a charge. Sources of waves keep their AC
 * drive and lose the rest. Fails as the operating point does.
 */
export function smallSignalElements(
  netlist: Netlist,
  conditions: Conditions = {},
): Result<readonly ElementInstance[], OperatingPointFailure> {
  const circuit = assemble(netlist);
  const equations = new CircuitEquations(circuit, conditions);
  if (equations.linear) return success(netlist.elements);
  const rest = operatingPoint(circuit, conditions);
  if (!rest.ok) return rest;
  equations.evaluate(rest.value, false);
  const { unknowns } = circuit.structure;
  const node = (unknown: number) => (unknown < 0 ? GROUND : unknowns[unknown]);
  const replaced = new Map<string, ElementInstance[]>();
  for (const { stamp, model, controls, flows, result } of equations.devices)
    replaced.set(
      stamp.element,
      flows.flatMap(([from, to], f) =>
        controls.flatMap(([plus, minus], k): ElementInstance[] => {
          const slope = result[flows.length + f * controls.length + k];
          if (slope === 0) return [];
          const definition = model.flows[f].kind === 'current' ? vccs : controlledCharge;
          return [
            {
              name: `${stamp.element}.${f}.${k}`,
              definition,
              nodes: [from, to, plus, minus].map(node),
              values: [slope],
            },
          ];
        }),
      ),
    );
  return success(netlist.elements.flatMap((element) => replaced.get(element.name) ?? [element]));
}
