import { junctionCurrent, shotNoise, type ElementDefinition } from '../element';

/** Junctions of so little saturation current glow, A. */
const GLOWS_BELOW = 1e-15;

/**
 * A junction diode, anode first (or a light-emitting one): I = IS (exp(v/(N·Vt)) − 1), with a leak across it and a
 * constant capacitance. Its series resistance is a resistor outside.
 */
export const diode: ElementDefinition = {
  kind: 'diode',
  terminals: 2,
  leads: ['anode', 'cathode'],
  bought: ([saturationAmps]) => (saturationAmps < GLOWS_BELOW ? 'LED' : 'small silicon diode'),
  values: ['saturationAmps', 'emission', 'capacitance'],
  branches: 0,
  stamp: () => {},
  behave(b) {
    const { graph } = b;
    const junction = { saturation: b.value(0), thermal: graph.multiply(b.value(1), b.thermalVoltage) };
    const v = b.voltage(0, 1, junction);
    const amps = junctionCurrent(graph, v, junction);
    b.current(0, 1, amps);
    b.current(0, 1, graph.multiply(b.leak, v));
    b.charge(0, 1, graph.multiply(b.value(2), v));
    b.noiseCurrent(0, 1, shotNoise(b, amps));
  },
};
