import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { wiperOf } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'trackOhm', label: 'track', kind: 'resistance', min: 1, max: 1e8, initial: 10e3 },
];

/** A pot as a divider: the one part's other use is as a resistor that sets a cutoff. */
export const volumePot = defineNetwork({
  id: 'volume-pot',
  name: 'Pot as divider (volume)',
  shortName: 'Volume',
  words: ['potentiometer', 'pot', 'volume', 'taper', 'audio taper', 'log pot', 'treble loss'],
  family: 'rc',
  parameters: PARAMETERS,
  reason:
    'The whole track across the source, the wiper to what follows: level from nothing to all, and no ' +
    'cutoff. As a resistor in a filter the same part sets a cutoff and no level.',
  cautions: [
    'A load bends the law: at half travel a load as large as the track takes 1.9 dB more. Keep it ten ' +
      'times the track, or buffer the wiper.',
    'Fed from an earlier stage with DC on it, it crackles: put a capacitor before it.',
  ],
  sources: ['P. Horowitz, W. Hill, The Art of Electronics, 3rd ed., 1.2.4'],
  parts: () => [{ name: 'P1', kind: 'potentiometer', role: 'level', leaveOut: 'short' }],
  design: (wanted, _form, context) =>
    context.meetParameters(PARAMETERS, wanted, { P1: wanted.trackOhm }, [], ({ P1 }) => ({ trackOhm: P1 })),
  measures: (_form, { P1 }) => ({ trackOhm: P1 }),
  figures: [{ label: 'drives from at most', kind: 'resistance', of: (_form, { P1 }) => P1 / 4 }],
  transfer: (_form, parts) => ({ numerator: [wiperOf(parts, 'P1')], denominator: [1] }),
  build: ({ input, output, reference, pot }) => pot('P1', reference, output, input),
  working: (_form, parts) => [
    { says: 'passes', tex: 'H = \\frac{R_{low}}{P_1}', value: format.decibel(20 * Math.log10(wiperOf(parts, 'P1'))) },
    {
      says: 'drives from',
      tex: 'R_{low} \\parallel (P_1 - R_{low})',
      value: format.ohm(parts.P1 * wiperOf(parts, 'P1') * (1 - wiperOf(parts, 'P1'))),
    },
    { says: 'at most, in the middle', tex: '\\frac{P_1}{4}', value: format.ohm(parts.P1 / 4) },
  ],
  drawing: () => ({
    width: 20,
    height: 14,
    parts: [{ part: 'P1', kind: 'potentiometer', at: [8, 6], vertical: true, label: 'left', wiper: 'right' }],
    opAmps: [],
    wires: [
      [
        [0, 3],
        [8, 3],
        [8, 4],
      ],
      [
        [8, 8],
        [8, 10],
      ],
      [
        [10, 6],
        [17, 6],
      ],
    ],
    dots: [],
    grounds: [[8, 10]],
    ports: [
      { label: 'in', at: [0, 3], side: 'left' },
      { label: 'out', at: [17, 6], side: 'right' },
    ],
  }),
});
