import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { across, down } from '../kit/drawing';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'centre', kind: 'frequency', min: 1e-3, max: 1e8, initial: 400 },
  { name: 'dipDb', label: 'dip', kind: 'decibel', min: 0.5, max: 60, initial: 15 },
];

/**
 * H = (1 + s R2 (C1 + C2) + s² R1 R2 C1 C2) / (1 + s (R2 (C1 + C2) + R1 C2) + s² R1 R2 C1 C2): at the centre R2 (C1 +
 * C2)/(R2 (C1 + C2) + R1 C2) is left.
 */
function measures({ R1, R2, C1, C2 }: PartValues): Record<'centreHz' | 'dipDb', number> {
  const across = R2 * (C1 + C2);
  return { centreHz: 1 / (2 * Math.PI * Math.sqrt(R1 * R2 * C1 * C2)), dipDb: decibels((across + R1 * C2) / across) };
}

export const bridgedT = defineNetwork({
  id: 'bridged-t',
  name: 'Bridged-T dip',
  shortName: 'Bridged-T',
  words: ['notch', 'dip', 'passive dip', 'mid cut', 'scoop', 'tone notch'],
  family: 'rc',
  parameters: PARAMETERS,
  reason: 'A dip of a chosen depth from four parts: forgiving where a twin-T’s null is not.',
  cautions: ['It wants a low source and a high load.', 'A deep dip needs R1 far above R2: 20 dB takes a ratio of 18.'],
  sources: ['Node equations at the middle and the output; cf. M. E. Van Valkenburg, Network Analysis, 3rd ed., 11'],
  parts: () => [
    { name: 'C1', kind: 'capacitor', role: 'in line, from the input', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'in line, to the output', leaveOut: 'open' },
    { name: 'R1', kind: 'resistor', role: 'the bridge', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'from the middle to ground', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    // Equal capacitors: R1/R2 = 2 (10^(dip/20) − 1), and R1 R2 C² = 1/ω².
    const ratio = 2 * (fromDecibels(wanted.dipDb) - 1);
    const omega = 2 * Math.PI * wanted.centreHz;
    const C = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(wanted.centreHz))
      : Math.sqrt(ratio) / (omega * context.resistor('R1', 10e3 * Math.sqrt(ratio)));
    const R2 = 1 / (omega * C * Math.sqrt(ratio));
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { C1: C, C2: C, R1: R2 * ratio, R2 },
      context.capacitorsFirst ? ['C1', 'C2'] : ['R1'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer(_form, { R1, R2, C1, C2 }) {
    const [first, second] = [R2 * (C1 + C2), R1 * R2 * C1 * C2];
    return { numerator: [1, first, second], denominator: [1, first + R1 * C2, second] };
  },
  build({ input, output, reference, node, part }) {
    const middle = node('m');
    part('C1', input, middle);
    part('C2', middle, output);
    part('R1', input, output);
    part('R2', middle, reference);
  },
  working(_form, parts) {
    const got = measures(parts);
    return [
      { says: 'centre', tex: 'f_0 = \\frac{1}{2\\pi \\sqrt{R_1 R_2 C_1 C_2}}', value: format.hertz(got.centreHz) },
      {
        says: 'left at the centre',
        tex: '\\frac{R_2 (C_1 + C_2)}{R_2 (C_1 + C_2) + R_1 C_2}',
        value: format.decibel(-got.dipDb),
      },
    ];
  },
  drawing: () => ({
    width: 30,
    height: 20,
    parts: [
      across('C1', 'capacitor', 8, 9),
      across('C2', 'capacitor', 18, 9),
      across('R1', 'resistor', 13, 4),
      down('R2', 'resistor', 13, 13.5),
    ],
    opAmps: [],
    wires: [
      [
        [0, 9],
        [6, 9],
      ],
      [
        [10, 9],
        [16, 9],
      ],
      [
        [20, 9],
        [27, 9],
      ],
      [
        [3, 9],
        [3, 4],
        [11, 4],
      ],
      [
        [15, 4],
        [23, 4],
        [23, 9],
      ],
      [
        [13, 9],
        [13, 11.5],
      ],
    ],
    dots: [
      [3, 9],
      [13, 9],
      [23, 9],
    ],
    grounds: [[13, 15.5]],
    ports: [
      { label: 'in', at: [0, 9], side: 'left' },
      { label: 'out', at: [27, 9], side: 'right' },
    ],
  }),
});
