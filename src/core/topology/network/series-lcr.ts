import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, stacked, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

export const LCR_PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'resonance', kind: 'frequency', min: 1e-3, max: 1e8, initial: 1000 },
  { name: 'q', label: 'Q', kind: 'ratio', min: 0.05, max: 500, initial: 2 },
  { name: 'ohm', label: 'resistance', kind: 'resistance', min: 1e-3, max: 1e9, initial: 1000 },
];
const ARMS: Readonly<Record<string, readonly Arm[]>> = {
  'band-pass': [inLine('L1'), inLine('C1'), toGround('R1')],
  'band-stop': [inLine('R1'), stacked('L1', 'C1')],
  'low-pass': [inLine('R1'), inLine('L1'), toGround('C1')],
  'high-pass': [inLine('R1'), inLine('C1'), toGround('L1')],
};
const NUMERATORS: Readonly<Record<string, (parts: PartValues) => number[]>> = {
  'band-pass': ({ R1, C1 }) => [0, R1 * C1],
  'band-stop': ({ L1, C1 }) => [1, 0, L1 * C1],
  'low-pass': () => [1],
  'high-pass': ({ L1, C1 }) => [0, 0, L1 * C1],
};
const measures = ({ R1, L1, C1 }: PartValues) => ({
  centreHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C1)),
  q: Math.sqrt(L1 / C1) / R1,
  ohm: R1,
});

/** Coil, capacitor and resistor in one row; where the output is taken makes it one filter or another. Q = √(L/C)/R. */
export const seriesLcr = defineNetwork({
  id: 'series-lcr',
  readAtPeak: (form) => form === 'band-pass',
  name: 'Series LCR',
  shortName: 'Series LCR',
  words: ['resonance', 'RLC', 'resonant circuit', 'series resonance', 'trap'],
  family: 'rc',
  modes: ['band-pass', 'band-stop', 'low-pass', 'high-pass'],
  parameters: LCR_PARAMETERS,
  reason: 'One resonance, four filters: the output across R, across L and C, across C, or across L.',
  cautions: [
    'At resonance coil and capacitor each carry Q times the source’s voltage.',
    'The source sees little more than R at resonance.',
    'The coil’s own resistance adds to R and lowers Q.',
  ],
  sources: ['R. C. Dorf, J. A. Svoboda, Introduction to Electric Circuits, 9th ed., 13.5'],
  parts: (form) => [
    {
      name: 'R1',
      kind: 'resistor',
      role: form === 'band-pass' ? 'to ground, across the output' : 'in line',
      leaveOut: form === 'band-pass' ? 'open' : 'short',
    },
    {
      name: 'L1',
      kind: 'inductor',
      role: form === 'band-stop' || form === 'high-pass' ? 'across the output' : 'in line',
      leaveOut: form === 'high-pass' ? 'open' : 'short',
    },
    {
      name: 'C1',
      kind: 'capacitor',
      role: form === 'band-stop' || form === 'low-pass' ? 'across the output' : 'in line',
      leaveOut: form === 'low-pass' || form === 'band-stop' ? 'open' : 'short',
    },
  ],
  design(wanted, _form, context) {
    const omega = 2 * Math.PI * wanted.centreHz;
    const parts = { R1: wanted.ohm, L1: (wanted.q * wanted.ohm) / omega, C1: 1 / (omega * wanted.q * wanted.ohm) };
    return context.meetParameters(LCR_PARAMETERS, wanted, parts, [], measures);
  },
  measures: (_form, parts) => measures(parts),
  transfer: (form, parts) => ({
    numerator: NUMERATORS[form](parts),
    denominator: [1, parts.R1 * parts.C1, parts.L1 * parts.C1],
  }),
  build: (context) => buildLadder(context, ARMS[context.form]),
  working(_form, parts) {
    const got = measures(parts);
    return [
      { says: 'resonance', tex: 'f_0 = \\frac{1}{2\\pi \\sqrt{L_1 C_1}}', value: format.hertz(got.centreHz) },
      {
        says: 'size of L and C there',
        tex: 'Z_0 = \\sqrt{L_1 / C_1}',
        value: format.ohm(Math.sqrt(parts.L1 / parts.C1)),
      },
      { says: 'quality', tex: 'Q = \\frac{1}{R_1}\\sqrt{\\frac{L_1}{C_1}}', value: format.ratio(got.q) },
      { says: 'width at half power', tex: '\\Delta f = f_0 / Q', value: format.hertz(got.centreHz / got.q) },
    ];
  },
  drawing: (form) => drawLadder(ARMS[form]),
});
