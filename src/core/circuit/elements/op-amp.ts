import type { Behaviour, ElementDefinition } from '../element';
import { hyperbolicTangent } from './ota';

/** Terminals of an op-amp model: non-inverting input, inverting input, output; it works against signal ground. */
export const OP_AMP_LEADS = ['+', '−', 'out'] as const;

/** The ideal op-amp (nullor): no input current, no input voltage. */
export const idealOpAmp: ElementDefinition = {
  kind: 'ideal-op-amp',
  terminals: 3,
  leads: OP_AMP_LEADS,
  housed: 'op-amp',
  values: [],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    s.add(s.node(2), branch, 0, 1, 'constant');
    s.add(branch, s.node(0), 0, 1, 'constant');
    s.add(branch, s.node(1), 0, -1, 'constant');
  },
};

const OP_AMP_NOISE_VALUES = [
  'voltageNoisePerRtHz',
  'voltageNoiseCornerHz',
  'currentNoisePerRtHz',
  'currentNoiseCornerHz',
] as const;

/** Voltage noise at the input and a noise current at each input terminal; the values begin at `at`. */
function inputNoise(b: Behaviour, at: number): void {
  const square = (index: number) => b.graph.multiply(b.value(index), b.value(index));
  b.noiseVoltage(square(at), b.value(at + 1));
  for (const terminal of [0, 1]) b.noiseCurrent(terminal, -1, square(at + 2), b.value(at + 3));
}

/**
 * One-pole op-amp: v(out) · (1/A0 + s/ωt) = v(plus) − v(minus). Values: open-loop DC gain A0 (ratio), ωt = 2π ·
 * gain-bandwidth (rad/s), then noise. Its output resistance is a resistor outside.
 */
export const onePoleOpAmp: ElementDefinition = {
  kind: 'one-pole-op-amp',
  terminals: 3,
  leads: OP_AMP_LEADS,
  housed: 'op-amp',
  values: ['dcGain', 'omegaUnityRadPerSec', ...OP_AMP_NOISE_VALUES],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    s.add(s.node(2), branch, 0, 1, 'constant');
    s.add(branch, s.node(2), 0, 1, 'reciprocal', 0);
    s.add(branch, s.node(2), 1, 1, 'reciprocal', 1);
    s.add(branch, s.node(0), 0, -1, 'constant');
    s.add(branch, s.node(1), 0, 1, 'constant');
  },
  behave: (b) => inputNoise(b, 2),
};

const LIMITED_OP_AMP_VALUES = [
  'dcGain',
  'omegaUnityRadPerSec',
  'slewVoltsPerSec',
  'highVolts',
  'lowVolts',
  ...OP_AMP_NOISE_VALUES,
] as const;

/**
 * One-pole op-amp with slew and swing limits: plus, minus, out, and a node of its own whose voltage is what the output
 * stage is asked for. d/dt p = slew · tanh(ωt · v / slew) − p · ωt / A0, so that it is the one-pole op-amp for small
 * signals and slews for large ones (J. Solomon, IEEE J. Solid-State Circuits 9, 1974); beyond its swing p is held by a
 * stiff conductance and recovers at once.
 */
export const limitedOpAmp: ElementDefinition = {
  kind: 'limited-op-amp',
  terminals: 4,
  leads: OP_AMP_LEADS,
  housed: 'op-amp',
  values: LIMITED_OP_AMP_VALUES,
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    s.add(s.node(2), branch, 0, 1, 'constant');
    s.add(branch, s.node(2), 0, 1, 'constant');
    s.add(branch, s.node(3), 0, -1, 'constant');
    // The pole's equation is divided by ωt, so that its numbers are volts.
    s.add(s.node(3), s.node(3), 1, 1, 'reciprocal', 1);
    s.add(s.node(3), s.node(3), 0, 1, 'reciprocal', 0);
  },
  behave(b) {
    const { graph } = b;
    const [, omega, slew, high, low] = LIMITED_OP_AMP_VALUES.map((_, i) => b.value(i));
    const most = graph.divide(slew, omega);
    const drive = graph.multiply(most, hyperbolicTangent(graph, graph.divide(b.voltage(0, 1), most)));
    const p = b.voltage(3, -1);
    const stiffness = graph.multiply(graph.constant(1e4), most);
    const excess = graph.subtract(
      graph.maximum(graph.subtract(p, high), graph.zero),
      graph.maximum(graph.subtract(low, p), graph.zero),
    );
    b.current(3, -1, graph.subtract(graph.multiply(stiffness, excess), drive));
    inputNoise(b, 5);
  },
};
