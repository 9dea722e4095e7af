import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, inLine, paired, drawLadder } from '../kit/ladder';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1'), inLine('C1'), paired('R2', 'C2')];
const PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'centre', kind: 'frequency', min: 1e-3, max: 1e8, initial: 1000 },
];

const measures = ({ R1, C1, R2, C2 }: PartValues): { centreHz: number } => ({
  centreHz: 1 / (2 * Math.PI * Math.sqrt(R1 * R2 * C1 * C2)),
});
/** What passes at the centre: R2 C1/(R1 C1 + R2 C2 + R2 C1); a third with equal parts. */
const atCentre = ({ R1, C1, R2, C2 }: PartValues): number => (R2 * C1) / (R1 * C1 + R2 * C2 + R2 * C1);

export const wienNetwork = defineNetwork({
  id: 'wien-network',
  name: 'Wien network',
  shortName: 'Wien',
  words: ['Wien bridge', 'oscillator network', 'RC band-pass'],
  family: 'rc',
  parameters: PARAMETERS,
  reason: 'A broad band-pass whose phase is nought at one frequency only: with an amplifier of three it holds a sine.',
  cautions: [
    'Its Q is one third and cannot be raised with R and C alone.',
    'In an oscillator the gain must be held at exactly what is lost here, or the sine dies or clips.',
  ],
  sources: ['M. Wien, Messung der Induktionsconstanten mit dem optischen Telephon, Annalen der Physik 280, 1891'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'short' },
    { name: 'C1', kind: 'capacitor', role: 'in line', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'to ground', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'to ground', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const C = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(wanted.centreHz))
      : 1 / (2 * Math.PI * wanted.centreHz * context.resistor('R1', 10e3));
    const R = 1 / (2 * Math.PI * wanted.centreHz * C);
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1: R, C1: C, R2: R, C2: C },
      context.capacitorsFirst ? ['C1', 'C2'] : ['R1', 'R2'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer: (_form, { R1, C1, R2, C2 }) => ({
    numerator: [0, R2 * C1],
    denominator: [1, R1 * C1 + R2 * C2 + R2 * C1, R1 * R2 * C1 * C2],
  }),
  build: (context) => buildLadder(context, ARMS),
  working: (_form, parts) => [
    {
      says: 'centre',
      tex: 'f_0 = \\frac{1}{2\\pi \\sqrt{R_1 R_2 C_1 C_2}}',
      value: format.hertz(measures(parts).centreHz),
    },
    {
      says: 'passes at the centre',
      tex: '\\frac{R_2 C_1}{R_1 C_1 + R_2 C_2 + R_2 C_1}',
      value: format.decibel(20 * Math.log10(atCentre(parts))),
    },
    {
      says: 'gain that makes it sing',
      tex: 'K = 1 + \\frac{R_1}{R_2} + \\frac{C_2}{C_1}',
      value: format.ratio(1 / atCentre(parts)),
    },
  ],
  drawing: () => drawLadder(ARMS),
});
