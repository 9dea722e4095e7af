import { junctionCurrent, thermalNoise, type ElementDefinition } from '../element';

export const OPTOCOUPLER_VALUES = ['lampIS', 'lampN', 'ohmAtOneMilliamp', 'slope', 'darkOhm', 'riseS', 'fallS'] as const;

/**
 * A lamp (light-emitting diode) facing a photoresistor: lamp +, lamp −, cell, cell, light. The fifth terminal is a node of its own that nothing else touches;
 * its voltage is the light the cell has grown used to, in milliamperes of lamp current. It follows the lamp with `riseS` upwards and `fallS` downwards.
 * Cell conductance: 1/darkOhm + light^slope / ohmAtOneMilliamp.
 */
export const optocoupler: ElementDefinition = {
  kind: 'optocoupler',
  terminals: 5,
  values: OPTOCOUPLER_VALUES,
  branches: 0,
  // One farad on the light node: its current is then the rate of change of light.
  stamp: (s) => s.add(s.node(4), s.node(4), 1, 1, 'constant'),
  behave(b) {
    const { graph } = b;
    const [is, n, atOne, slope, dark, rise, fall] = OPTOCOUPLER_VALUES.map((_, i) => b.value(i));
    const junction = { saturation: is, thermal: graph.multiply(n, b.thermalVoltage) };
    const lamp = b.voltage(0, 1, junction);
    const amps = junctionCurrent(graph, lamp, junction);
    b.current(0, 1, graph.add(amps, graph.multiply(b.leak, lamp)));
    const light = b.voltage(4, -1);
    const change = graph.subtract(graph.multiply(graph.constant(1000), graph.maximum(amps, graph.zero)), light);
    b.current(4, -1, graph.negate(graph.divide(change, graph.select(change, rise, fall))));
    const seen = graph.maximum(light, graph.constant(1e-9));
    const conductance = graph.add(graph.divide(graph.one, dark), graph.divide(graph.exponential(graph.multiply(slope, graph.logarithm(seen))), atOne));
    b.current(2, 3, graph.multiply(conductance, b.voltage(2, 3)));
    b.noiseCurrent(2, 3, thermalNoise(b, conductance));
  },
};
