import { junctionCurrent, shotNoise, type Behaviour, type ElementDefinition } from '../element';
import type { Graph, Node } from '../../program/graph';

const OTA_VALUES = ['biasAmps', 'biasAmpsPerVolt'] as const;

/** tanh by one exponential of a negative argument, so that it cannot overflow. */
export function hyperbolicTangent(graph: Graph, x: Node): Node {
  const shrink = graph.exponential(graph.multiply(graph.constant(-2), graph.absolute(x)));
  const size = graph.divide(graph.subtract(graph.one, shrink), graph.add(graph.one, shrink));
  return graph.select(x, size, graph.negate(size));
}

/**
 * Operational transconductance amplifier: plus, minus, out, control plus, control minus, reference. I = Ibias tanh((v+
 * − v−)/2Vt) flows out of `out` (the long-tailed pair; P. Gray and R. Meyer, Analysis and Design of Analog Integrated
 * Circuits, 3.5), Ibias = biasAmps + biasAmpsPerVolt · control, not below zero.
 */
export const ota: ElementDefinition = {
  kind: 'ota',
  terminals: 6,
  leads: ['+', '−', 'out'],
  housed: 'ota',
  bought: () => 'OTA',
  values: OTA_VALUES,
  branches: 0,
  stamp: () => {},
  behave(b: Behaviour) {
    const { graph } = b;
    const bias = graph.maximum(graph.add(b.value(0), graph.multiply(b.value(1), b.voltage(3, 4))), graph.zero);
    const drive = graph.divide(b.voltage(0, 1), graph.multiply(graph.constant(2), b.thermalVoltage));
    b.current(5, 2, graph.multiply(bias, hyperbolicTangent(graph, drive)));
    b.noiseCurrent(5, 2, shotNoise(b, bias));
  },
};

/**
 * The same with its control pin: plus, minus, out, control, minus rail, reference. The pin is what its mirror shows,
 * two junctions over the minus rail (`emission` 2); what flows into it is the bias.
 */
export const otaWithPin: ElementDefinition = {
  kind: 'ota-with-pin',
  terminals: 6,
  leads: ['+', '−', 'out', 'control'],
  housed: 'ota',
  bought: () => 'OTA',
  values: ['IS', 'emission'],
  branches: 0,
  stamp: () => {},
  behave(b: Behaviour) {
    const { graph } = b;
    const junction = { saturation: b.value(0), thermal: graph.multiply(b.value(1), b.thermalVoltage) };
    const pin = b.voltage(3, 4, junction);
    const amps = junctionCurrent(graph, pin, junction);
    b.current(3, 4, graph.add(amps, graph.multiply(b.leak, pin)));
    const bias = graph.maximum(amps, graph.zero);
    const drive = graph.divide(b.voltage(0, 1), graph.multiply(graph.constant(2), b.thermalVoltage));
    b.current(5, 2, graph.multiply(bias, hyperbolicTangent(graph, drive)));
    b.noiseCurrent(5, 2, shotNoise(b, bias));
  },
};
