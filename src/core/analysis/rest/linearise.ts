import type { Assembled, Entry } from '../../circuit/structure';
import { CircuitEquations, type Conditions } from './equations';
import type { OperatingPoint } from './operating-point';

/**
 * The small-signal circuit at an operating point: every slope of every device becomes a value slot of its own, so that
 * the structure, and with it the elimination plan, stays the same wherever the circuit rests.
 */
export function linearise(circuit: Assembled, rest: OperatingPoint, conditions: Conditions = {}): Assembled {
  const equations = new CircuitEquations(circuit, conditions);
  if (equations.linear) return circuit;
  equations.evaluate(rest, false);
  const { structure } = circuit;
  const entries: Entry[] = [...structure.entries];
  const slopes: number[] = [];
  const push = (row: number, column: number, order: 0 | 1, factor: number, slot: number) => {
    if (row >= 0 && column >= 0) entries.push({ row, column, order, factor, form: 'direct', slots: [slot] });
  };
  for (const { model, controls, flows, result } of equations.devices)
    flows.forEach(([from, to], f) =>
      controls.forEach(([plus, minus], k) => {
        const slot = structure.slotCount + slopes.length;
        slopes.push(result[flows.length + f * controls.length + k]);
        const order = model.flows[f].kind === 'current' ? 0 : 1;
        push(from, plus, order, 1, slot);
        push(from, minus, order, -1, slot);
        push(to, plus, order, -1, slot);
        push(to, minus, order, 1, slot);
      }),
    );
  return {
    ...circuit,
    structure: {
      ...structure,
      key: `${structure.key}|small signal`,
      entries,
      slotCount: structure.slotCount + slopes.length,
    },
    values: Float64Array.of(...circuit.values, ...slopes),
  };
}
