import { defineSection } from '../kit/define-section';
import { success } from '../../result';
import type { PartKind } from '../kit/part';
import { across, down } from '../kit/drawing';
import { format } from '../kit/working';

/** The load it is designed into, ohm: part of the filter, not a burden on it. */
const LOAD_OHM = 8;

/**
 * A coil and a capacitor into a resistance R, second order. Low-pass: L in line, C across the load; high-pass: the
 * other way round. Either way ω0² = 1/(L C), Q = R √(C/L): L = R/(ω0 Q), C = Q/(ω0 R). L. Weinberg, Network Analysis
 * and Synthesis, 13.1 (singly terminated ladder).
 */
export const coilCapacitor = defineSection({
  id: 'coil-capacitor',
  name: 'Coil and capacitor into 8 Ω',
  shortName: 'L and C',
  words: ['LC filter', 'second order', '8 ohm', 'passive low-pass', 'passive high-pass'],
  family: 'loudspeaker',
  responses: ['lowpass', 'highpass'],
  order: 2,
  opAmps: () => 0,
  polarity: 1,
  load: { ohm: LOAD_OHM },
  reason: 'Second order with no amplifier, for the load it was made for.',
  cautions: [
    'The load belongs to the filter: another load has another cutoff and Q.',
    'With no load the amplifier sees a series resonance.',
  ],
  sources: ['L. Weinberg, Network Analysis and Synthesis, McGraw-Hill 1962, ch. 13'],
  gainRange: () => ({ min: 1, natural: 1, max: 1 }),
  parts: (response) => {
    const [a, b]: [PartKind, PartKind] = response === 'lowpass' ? ['inductor', 'capacitor'] : ['capacitor', 'inductor'];
    return [
      { name: a === 'inductor' ? 'L1' : 'C1', kind: a, role: 'in line', leaveOut: 'short' },
      { name: b === 'inductor' ? 'L1' : 'C1', kind: b, role: 'across the load', leaveOut: 'open' },
    ];
  },
  design(target, context) {
    const omega = 2 * Math.PI * target.freqHz;
    const exact = success({ L1: LOAD_OHM / (omega * target.q), C1: target.q / (omega * LOAD_OHM) });
    return context.meet(target, exact.value, [], (values) => this.closedForm(target.response, values));
  },
  closedForm: (_response, { L1, C1 }) => ({
    freqHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C1)),
    q: LOAD_OHM * Math.sqrt(C1 / L1),
    gain: 1,
  }),
  build({ form: response, input, output, ground, part }) {
    const [inLine, shunt] = response === 'lowpass' ? ['L1', 'C1'] : ['C1', 'L1'];
    part(inLine, input, output);
    part(shunt, output, ground);
  },
  working: (_target, { L1, C1 }) => [
    { says: 'coil', tex: 'L_1 = \\frac{R}{\\omega_0 Q}', value: format.henry(L1) },
    { says: 'capacitor', tex: 'C_1 = \\frac{Q}{\\omega_0 R}', value: format.farad(C1) },
  ],
  drawing(response) {
    const [a, b]: [PartKind, PartKind] = response === 'lowpass' ? ['inductor', 'capacitor'] : ['capacitor', 'inductor'];
    const name = (kind: PartKind) => (kind === 'inductor' ? 'L1' : 'C1');
    return {
      width: 18,
      height: 13,
      parts: [across(name(a), a, 4, 4), down(name(b), b, 9, 8.5)],
      opAmps: [],
      wires: [
        [
          [0, 4],
          [2, 4],
        ],
        [
          [6, 4],
          [16, 4],
        ],
        [
          [9, 4],
          [9, 6.5],
        ],
      ],
      dots: [[9, 4]],
      grounds: [[9, 10.5]],
      ports: [
        { label: 'in', at: [0, 4], side: 'left' },
        { label: 'out', at: [16, 4], side: 'right' },
      ],
    };
  },
});
