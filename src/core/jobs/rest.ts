import { CircuitEquations } from '../analysis/equations';
import type { Compilation, Live } from '../design/compile';
import type { Design } from '../design/schema';

export interface Rest {
  /** By the circuit’s own name and by the drawing’s; of a single supply counted from its lower rail, else from ground. */
  readonly nodes: readonly { readonly id: string; readonly node: string; readonly volts: number }[];
  /** Into a transistor’s collector, a diode’s anode, a lamp: A, by the circuit’s names of the devices. */
  readonly devices: readonly { readonly id: string; readonly amps: number }[];
  /** Where a stage’s inputs and outputs are among the nodes. */
  readonly joints: readonly string[];
  /** From the positive rail, A. */
  readonly supplyAmps: number;
}

/** Less than this is none, on the bench. */
const NO_VOLTS = 5e-5;

/** With one supply, volts are counted from its lower rail, as a meter on a battery’s minus has them. */
export function restOf({ live, ways }: Compilation, { brief: { supply } }: Design): Rest | null {
  if (!live) return null;
  const { structure } = live.circuit;
  const { joints, output, stages } = ways[0];
  // By the names of the drawing; which stage where there are several.
  const numberOf = new Map(stages.filter(({ stage }) => !stage.bypassed).map(({ stage }, i) => [stage.id, i + 1]));
  const named = (name: string): string => {
    if (name === output) return 'out';
    const joint = joints.indexOf(name);
    if (joint >= 0) return joint === 0 ? 'in' : joint === joints.length - 1 ? 'load' : `joint ${joint}`;
    const [stage, local] = name.split('.');
    return local === undefined ? name : numberOf.size > 1 && numberOf.has(stage) ? `${numberOf.get(stage)} ${local}` : local;
  };
  const from = supply.kind === 'single' ? supply.volts / 2 : 0;
  const nodes = structure.unknowns.flatMap((name, i) => {
    const volts = live.rest[i] + from;
    return /^i\d*\(/.test(name) || /light|\.source$/.test(name) ? [] : [{ id: name, node: named(name), volts: Math.abs(volts) < NO_VOLTS ? 0 : volts }];
  });
  const rail = structure.branchOf('Vplus');
  return { nodes, devices: deviceAmps(live), joints, supplyAmps: rail === undefined ? 0 : Math.abs(live.rest[rail]) };
}

/** What flows into each device’s first terminal at rest. */
function deviceAmps({ circuit, rest }: Live): Rest['devices'] {
  const equations = new CircuitEquations(circuit);
  equations.evaluate(rest, false);
  return equations.devices.map(({ stamp, model, result }) => ({
    id: stamp.element,
    amps: model.flows.reduce((sum, { kind, pair: [from, to] }, f) => (kind !== 'current' ? sum : sum + (from === 0 ? result[f] : 0) - (to === 0 ? result[f] : 0)), 0),
  }));
}
