import type { ElementDefinition } from '../element';

/** Terminals of an op-amp model: non-inverting input, inverting input, output; it works against signal ground. */

/** The ideal op-amp (nullor): no input current, no input voltage. */
export const idealOpAmp: ElementDefinition = {
  kind: 'ideal-op-amp',
  terminals: 3,
  values: [],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    s.add(s.node(2), branch, 0, 1, 'constant');
    s.add(branch, s.node(0), 0, 1, 'constant');
    s.add(branch, s.node(1), 0, -1, 'constant');
  },
};

/**
 * One-pole op-amp: v(out) · (1/A0 + s/ωt) = v(plus) − v(minus). Values: open-loop DC gain A0 (ratio), ωt = 2π · gain-bandwidth (rad/s).
 * Its output resistance is a resistor outside.
 */
export const onePoleOpAmp: ElementDefinition = {
  kind: 'one-pole-op-amp',
  terminals: 3,
  values: ['dcGain', 'omegaUnityRadPerSec'],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    s.add(s.node(2), branch, 0, 1, 'constant');
    s.add(branch, s.node(2), 0, 1, 'reciprocal', 0);
    s.add(branch, s.node(2), 1, 1, 'reciprocal', 1);
    s.add(branch, s.node(0), 0, -1, 'constant');
    s.add(branch, s.node(1), 0, 1, 'constant');
  },
};
