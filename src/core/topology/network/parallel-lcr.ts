import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, paired, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { PartValues } from '../kit/part';
import { LCR_PARAMETERS } from './series-lcr';
import { format } from '../kit/working';

const ARMS: Readonly<Record<string, readonly Arm[]>> = {
  'band-pass': [inLine('R1'), paired('L1', 'C1')],
  'band-stop': [inLine('L1', 'C1'), toGround('R1')],
};
const measures = ({ R1, L1, C1 }: PartValues) => ({
  centreHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C1)),
  q: R1 * Math.sqrt(C1 / L1),
  ohm: R1,
});

/** Coil and capacitor side by side, fed through R or feeding R. Q = R √(C/L). */
export const parallelLcr = defineNetwork({
  id: 'parallel-lcr',
  readAtPeak: (form) => form === 'band-pass',
  name: 'Parallel LCR',
  shortName: 'Parallel LCR',
  words: ['resonance', 'RLC', 'tank', 'resonant circuit', 'pickup resonance', 'parallel resonance'],
  family: 'rc',
  modes: ['band-pass', 'band-stop'],
  parameters: LCR_PARAMETERS,
  reason:
    'The series circuit’s dual: at resonance coil and capacitor together are an open circuit, to ground ' +
    '(band-pass) or in the way (band-stop).',
  cautions: [
    'At resonance a current Q times the source’s runs round coil and capacitor.',
    'The coil’s own resistance sets how deep a band-stop goes.',
  ],
  sources: ['R. C. Dorf, J. A. Svoboda, Introduction to Electric Circuits, 9th ed., 13.5'],
  parts: (form) => [
    {
      name: 'R1',
      kind: 'resistor',
      role: form === 'band-pass' ? 'in line' : 'to ground, across the output',
      leaveOut: form === 'band-pass' ? 'short' : 'open',
    },
    { name: 'L1', kind: 'inductor', role: form === 'band-pass' ? 'across the output' : 'in line', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: form === 'band-pass' ? 'across the output' : 'in line', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const omega = 2 * Math.PI * wanted.centreHz;
    return context.meetParameters(
      LCR_PARAMETERS,
      wanted,
      { R1: wanted.ohm, L1: wanted.ohm / (omega * wanted.q), C1: wanted.q / (omega * wanted.ohm) },
      [],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer: (form, { R1, L1, C1 }) => ({
    numerator: form === 'band-pass' ? [0, L1 / R1] : [1, 0, L1 * C1],
    denominator: [1, L1 / R1, L1 * C1],
  }),
  build: (context) => buildLadder(context, ARMS[context.form]),
  working(_form, parts) {
    const got = measures(parts);
    return [
      { says: 'resonance', tex: 'f_0 = \\frac{1}{2\\pi \\sqrt{L_1 C_1}}', value: format.hertz(got.centreHz) },
      { says: 'quality', tex: 'Q = R_1 \\sqrt{\\frac{C_1}{L_1}}', value: format.ratio(got.q) },
      { says: 'width at half power', tex: '\\Delta f = f_0 / Q', value: format.hertz(got.centreHz / got.q) },
    ];
  },
  drawing: (form) => drawLadder(ARMS[form]),
});
