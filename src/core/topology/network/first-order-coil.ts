import { defineSection } from '../kit/define-section';
import { drawLadder, buildLadder, inLine, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { FilterResponse } from '../../filter/section';
import { format } from '../kit/working';

/** Resistance (ohm) it is set around: a coil for the audio band is smaller and better the lower it is. */
const LEVEL = 1e3;
const arms = (response: FilterResponse): Arm[] =>
  response === 'lowpass' ? [inLine('L1'), toGround('R1')] : [inLine('R1'), toGround('L1')];

/** One R and one coil: the RC section's dual, f = R/(2π L). */
export const firstOrderCoil = defineSection({
  id: 'first-order-coil',
  name: 'First-order RL, passive',
  shortName: 'RL alone',
  words: ['RL low-pass', 'RL high-pass', 'choke', 'inductor', 'single pole'],
  family: 'rc',
  responses: ['lowpass', 'highpass'],
  order: 1,
  opAmps: () => 0,
  polarity: 1,
  reason:
    'The RC section’s twin: the coil passes what the capacitor would stop. Worth it where the current is ' +
    'large or the resistance low.',
  cautions: [
    'A real coil has resistance in series and capacitance across it: a low-pass loses level, and stops ' +
      'working above its self-resonance.',
    'Opening a switch in a coil’s current makes a spark: give the current another way.',
  ],
  sources: ['R. C. Dorf, J. A. Svoboda, Introduction to Electric Circuits, 9th ed., 8.3'],
  gainRange: () => ({ min: 1, natural: 1, max: 1 }),
  parts: (response) =>
    response === 'lowpass'
      ? [
          { name: 'L1', kind: 'inductor', role: 'in line', leaveOut: 'short' },
          { name: 'R1', kind: 'resistor', role: 'to ground', leaveOut: 'open' },
        ]
      : [
          { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'short' },
          { name: 'L1', kind: 'inductor', role: 'to ground', leaveOut: 'open' },
        ],
  design(target, context) {
    const R1 = context.resistor('R1', LEVEL);
    return context.meet(target, { R1, L1: R1 / (2 * Math.PI * target.freqHz) }, ['R1'], (parts) =>
      this.closedForm(target.response, parts),
    );
  },
  closedForm: (_response, { R1, L1 }) => ({ freqHz: R1 / (2 * Math.PI * L1), gain: 1 }),
  build: (context) => buildLadder(context, arms(context.form)),
  working: (_target, { R1, L1 }) => [
    { says: 'cutoff', tex: 'f = \\frac{R_1}{2\\pi L_1}', value: format.hertz(R1 / (2 * Math.PI * L1)) },
    { says: 'time constant', tex: '\\tau = \\frac{L_1}{R_1}', value: format.second(L1 / R1) },
  ],
  drawing: (response) => drawLadder(arms(response)),
});
