import { defineSection } from '../kit/define-section';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down, type Point } from '../kit/drawing';
import { amplifierGain, buildAmplifier } from './sallen-key-network';
import { format } from '../kit/working';

/** Resistance (ohm) that gives the input its DC path: far above any source on the bench. */
const BIAS_OHM = 1e6;

/** A follower, or an amplifier of gain 1 + Rb/Ra: no filter, but a cure for a joint that loses level. */
export const buffer = defineSection({
  id: 'buffer',
  name: 'Buffer',
  shortName: 'Follower',
  words: ['follower', 'voltage follower', 'unity gain', 'impedance', 'isolate'],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 0,
  opAmps: () => 1,
  polarity: 1,
  source: { ohm: null },
  reason: 'Takes nothing from what comes before and drives what comes after.',
  cautions: ['The op-amp must be stable at unity gain when it has no gain resistors.'],
  sources: ['P. Horowitz, W. Hill, The Art of Electronics, 3rd ed., 4.2'],
  gainRange: () => ({ min: 1, natural: 1, max: 30 }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'DC path of the input', leaveOut: 'open' },
    { name: 'Ra', kind: 'resistor', role: 'gain, to ground', leaveOut: 'open' },
    { name: 'Rb', kind: 'resistor', role: 'gain, fed back', leaveOut: 'short' },
  ],
  design(target, context) {
    const parts: Record<string, number> = { R1: context.resistor('R1', BIAS_OHM) };
    if (target.gain > 1 + 1e-9) {
      parts.Ra = context.resistor('Ra', LEVEL_OHM);
      parts.Rb = (target.gain - 1) * parts.Ra;
    }
    return context.meet(target, parts, ['R1', 'Ra'], (values) => this.closedForm(target.response, values));
  },
  closedForm: (_response, parts) => ({ gain: amplifierGain(parts) }),
  build(context) {
    context.part('R1', context.input, context.reference);
    buildAmplifier(context, context.input);
  },
  working: (_target, parts) => [
    {
      says: 'gain',
      tex: parts.Ra === undefined ? 'K = 1' : 'K = 1 + \\frac{R_b}{R_a}',
      value: format.ratio(amplifierGain(parts)),
    },
  ],
  drawing(_response, parts) {
    const gain = parts.Ra !== undefined;
    const wires: Point[][] = [
      [
        [0, 8],
        [13, 8],
      ],
      [
        [6, 8],
        [6, 10.5],
      ],
      [
        [19, 9.5],
        [26, 9.5],
      ],
    ];
    return {
      width: 28,
      height: gain ? 24 : 17,
      parts: [
        down('R1', 'resistor', 6, 12.5),
        ...(gain ? [across('Rb', 'resistor', 18, 15), down('Ra', 'resistor', 13, 19, 'right')] : []),
      ],
      opAmps: [{ name: 'U1', at: [16, 9.5], plusOnTop: true }],
      wires: gain
        ? [
            ...wires,
            [
              [13, 11],
              [12.5, 11],
              [12.5, 15],
              [16, 15],
            ],
            [
              [20, 15],
              [23, 15],
              [23, 9.5],
            ],
            [
              [13, 15],
              [13, 17],
            ],
          ]
        : [
            ...wires,
            [
              [13, 11],
              [12, 11],
              [12, 14],
              [23, 14],
              [23, 9.5],
            ],
          ],
      dots: [[6, 8], [23, 9.5], ...(gain ? [[13, 15] as Point] : [])],
      grounds: [[6, 14.5], ...(gain ? [[13, 21] as Point] : [])],
      ports: [
        { label: 'in', at: [0, 8], side: 'left' },
        { label: 'out', at: [26, 9.5], side: 'right' },
      ],
    };
  },
});
