import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, stacked } from '../kit/ladder';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const COIL = 'voice coil';
const RESONANCE = 'resonance';
const PARAMETERS: ParameterSpec[] = [
  { name: 'ohm', label: 'voice coil, Re', kind: 'resistance', min: 0.5, max: 1000, initial: 6 },
  { name: 'henry', label: 'inductance, Le', kind: 'inductance', min: 1e-6, max: 0.1, initial: 0.5e-3, forms: [COIL] },
  { name: 'centreHz', label: 'resonance', kind: 'frequency', min: 5, max: 1e4, initial: 50, forms: [RESONANCE] },
  { name: 'peakOhm', label: 'peak above Re', kind: 'resistance', min: 0.5, max: 1000, initial: 24, forms: [RESONANCE] },
  { name: 'q', label: 'Q of the peak', kind: 'ratio', min: 0.1, max: 50, initial: 4, forms: [RESONANCE] },
];

/**
 * The dual of what rises, about Re²: an inductance Le wants Re and Re C = Le/Re in a row; a resonance Res, L, C in
 * parallel wants Re + Re²/Res, Re² C and L/Re² in a row.
 */
function measures(form: string, v: PartValues, { ohm }: Parameters): Parameters {
  if (form === COIL) return { ohm: v.R1, henry: v.C1 * v.R1 ** 2 };
  const omega = 1 / Math.sqrt(v.L1 * v.C1);
  const peakOhm = ohm ** 2 / (v.R1 - ohm);
  return { ohm, centreHz: omega / (2 * Math.PI), peakOhm, q: (v.L1 * omega * peakOhm) / ohm ** 2 };
}

const armsOf = (form: string) => [form === COIL ? stacked('R1', 'C1') : stacked('L1', 'C1', 'R1')];

export const impedanceCorrection = defineNetwork({
  id: 'impedance-correction',
  name: 'Impedance correction',
  shortName: 'Correction',
  words: ['Zobel', 'RC across the driver', 'conjugate', 'impedance equaliser', 'resonance trap', 'flatten the load'],
  family: 'loudspeaker',
  modes: [COIL, RESONANCE],
  parameters: PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'What the driver’s impedance does, turned about: together the two are a resistor, and a network made ' +
    'for a resistor keeps its slope.',
  cautions: [
    'A voice coil loses in its iron: its inductance falls with frequency, so the correction is right ' +
      'over a decade or so.',
    'A resonance moves with box, heat and age; its correction costs a large capacitor.',
  ],
  sources: [
    'O. J. Zobel, Theory and Design of Uniform and Composite Electric Wave-Filters, Bell System ' +
      'Technical Journal 2, 1923',
    'own derivation: Z1 − Re and Z2 − Re reciprocal about Re²',
  ],
  parts: (form) => [
    ...(form === COIL
      ? []
      : [{ name: 'L1', kind: 'inductor' as const, role: 'across the driver', leaveOut: 'short' as const }]),
    { name: 'R1', kind: 'resistor', role: 'across the driver', leaveOut: 'short' },
    { name: 'C1', kind: 'capacitor', role: 'across the driver', leaveOut: 'open' },
  ],
  design(wanted, form, context) {
    const { ohm } = wanted;
    const omega = 2 * Math.PI * wanted.centreHz;
    const parts: PartValues =
      form === COIL
        ? { R1: ohm, C1: wanted.henry / ohm ** 2 }
        : {
            L1: (wanted.q * ohm ** 2) / (wanted.peakOhm * omega),
            R1: ohm + ohm ** 2 / wanted.peakOhm,
            C1: wanted.peakOhm / (wanted.q * omega * ohm ** 2),
          };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form) && (form === COIL || p.name !== 'ohm'));
    return context.meetParameters(specs, wanted, parts, [], (values) => measures(form, values, wanted));
  },
  measures,
  transfer: () => ({ numerator: [1], denominator: [1] }),
  arms: armsOf,
  build: (context) => buildLadder(context, armsOf(context.form)),
  working: (form, v, wanted) =>
    form === COIL
      ? [
          { says: 'the coil’s own resistance', tex: 'R_1 = R_e', value: format.ohm(v.R1) },
          { says: 'inductance turned about', tex: 'C_1 = \\frac{L_e}{R_e^2}', value: format.farad(v.C1) },
        ]
      : [
          { says: 'peak turned about', tex: 'R_1 = R_e + \\frac{R_e^2}{R_{es}}', value: format.ohm(v.R1) },
          { says: 'spring turned about', tex: 'C_1 = \\frac{R_{es}}{Q\\,\\omega_s R_e^2}', value: format.farad(v.C1) },
          { says: 'mass turned about', tex: 'L_1 = \\frac{Q R_e^2}{\\omega_s R_{es}}', value: format.henry(v.L1) },
          {
            says: 'resonance',
            tex: 'f_s = \\frac{1}{2\\pi\\sqrt{L_1 C_1}}',
            value: format.hertz(measures(form, v, wanted).centreHz),
          },
        ],
  drawing: (form) => drawLadder(armsOf(form)),
});
