import { junctionCurrent, thermalNoise, type ElementDefinition } from '../element';

const LAW = ['lampIS', 'lampN', 'ohmAtOneMilliamp', 'slope', 'darkOhm', 'riseS', 'fallS'] as const;
export const OPTOCOUPLER_VALUES: readonly string[] = LAW;

const known = new Map<number, ElementDefinition>();

/**
 * A lamp (light-emitting diode) facing a photoresistor: lamp +, lamp −, cell, cell, light. The fifth terminal is a node
 * of its own that nothing else touches; its voltage is the light the cell has grown used to, in milliamperes of lamp
 * current. It follows the lamp with `riseS` upwards and `fallS` downwards. Cell conductance: 1/darkOhm + G(light), ln G
 * = slope ln(light) − ln(ohmAtOneMilliamp), bent as often as asked: from ln(light) = `at` on the slope is `by` more.
 */
export function optocouplerBent(bends: number): ElementDefinition {
  const before = known.get(bends);
  if (before) return before;
  const values = [...LAW, ...Array.from({ length: bends }, (_, k) => [`bend${k + 1}At`, `bend${k + 1}By`]).flat()];
  const made: ElementDefinition = {
    kind: 'optocoupler',
    terminals: 5,
    leads: ['lamp +', 'lamp −', 'cell a', 'cell b'],
    bought: () => 'lamp and cell (optocoupler)',
    values,
    branches: 0,
    // One farad on the light node: its current is then the rate of change of light.
    stamp: (s) => s.add(s.node(4), s.node(4), 1, 1, 'constant'),
    behave(b) {
      const { graph } = b;
      const [is, n, atOne, slope, dark, rise, fall] = LAW.map((_, i) => b.value(i));
      const junction = { saturation: is, thermal: graph.multiply(n, b.thermalVoltage) };
      const lamp = b.voltage(0, 1, junction);
      const amps = junctionCurrent(graph, lamp, junction);
      b.current(0, 1, graph.add(amps, graph.multiply(b.leak, lamp)));
      const light = b.voltage(4, -1);
      const change = graph.subtract(graph.multiply(graph.constant(1000), graph.maximum(amps, graph.zero)), light);
      b.current(4, -1, graph.negate(graph.divide(change, graph.select(change, rise, fall))));
      const seen = graph.logarithm(graph.maximum(light, graph.constant(1e-9)));
      let power = graph.multiply(slope, seen);
      for (let k = 0; k < bends; k++) {
        const [at, by] = [b.value(LAW.length + 2 * k), b.value(LAW.length + 2 * k + 1)];
        power = graph.add(power, graph.multiply(by, graph.maximum(graph.subtract(seen, at), graph.zero)));
      }
      const conductance = graph.add(graph.divide(graph.one, dark), graph.divide(graph.exponential(power), atOne));
      b.current(2, 3, graph.multiply(conductance, b.voltage(2, 3)));
      b.noiseCurrent(2, 3, thermalNoise(b, conductance));
    },
  };
  known.set(bends, made);
  return made;
}

/** With a straight law. */
export const optocoupler = optocouplerBent(0);

/** The cell's resistance (ohm) once it is used to a light (mA of lamp current), from an optocoupler's values. */
export function cellOhmOf(values: readonly number[], light: number): number {
  const [, , atOne, slope, dark] = values;
  const seen = Math.log(Math.max(light, 1e-9));
  let power = slope * seen;
  for (let k = LAW.length; k < values.length; k += 2) power += values[k + 1] * Math.max(0, seen - values[k]);
  return 1 / (1 / dark + Math.exp(power) / atOne);
}
