import { CONTROL, MIDDLE_AMPS, transconductance } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext } from '../kit/define-topology';
import { otaCells } from './ota-cell';
import type { ParameterSpec } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'cutoff, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
];
const share = ({ R1, R2 }: PartValues): number => R2 / (R1 + R2);
const omegaOf = (v: PartValues): number => (transconductance(v.I1) * share(v)) / v.C1;
/** What of the signal an OTA's input bears before it bends: the divider takes it there. */
const DIVIDER_OHM = 22e3;
const LEG_OHM = 220;

function build({ form, input, output, reference, node, part, opAmp, ota }: BuildContext): void {
  const [p, m, n] = [node('p'), node('m'), node('n')];
  const low = form === 'low-pass';
  if (low) {
    part('R1', input, p);
    part('R2', p, reference);
  }
  part('R3', output, m);
  part('R4', m, reference);
  part('C1', low ? n : input, low ? reference : n);
  ota('U1', low ? p : reference, m, n);
  opAmp('U2', n, output, output);
}

export const otaOnePole = defineNetwork({
  id: 'ota-one-pole',
  name: 'OTA, one pole',
  shortName: 'OTA pole',
  words: ['VCF', 'transconductance', 'one pole', '6 dB/oct', 'voltage-controlled filter'],
  family: 'voltage-controlled',
  modes: ['low-pass', 'high-pass'],
  parameters: PARAMETERS,
  opAmps: () => 1,
  outlet: () => ({ kind: 'pins', count: 1 }),
  reason:
    'A transconductance amplifier charges one capacitor: its control current is the cutoff, over as many ' +
    'decades as it has.',
  cautions: [
    'Its input bends from some tens of millivolts on: the divider keeps it there, and what it takes is noise’s gain.',
    'Cutoff is in proportion to the current; an exponential converter makes it octaves a volt, and ' +
      'drifts 0.33 % a degree unless it is compensated.',
  ],
  sources: [
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5',
    'own derivation from the node equations',
  ],
  parts: (form) => [
    ...(form === 'low-pass'
      ? [
          { name: 'R1', kind: 'resistor' as const, role: 'divides the input', leaveOut: 'open' as const },
          { name: 'R2', kind: 'resistor' as const, role: 'divides the input', leaveOut: 'open' as const },
        ]
      : []),
    { name: 'R3', kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
    { name: 'R4', kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'is charged', leaveOut: 'open' },
    CONTROL,
  ],
  design(wanted, form, context) {
    const [R1, R2] = [
      context.resistor(form === 'low-pass' ? 'R1' : 'R3', DIVIDER_OHM),
      context.resistor(form === 'low-pass' ? 'R2' : 'R4', LEG_OHM),
    ];
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C1 = context.capacitor('C1', (transconductance(MIDDLE_AMPS) * R2) / (R1 + R2) / omega);
    const I1 = (omega * C1 * (R1 + R2)) / R2 / transconductance(1);
    const parts: PartValues = form === 'low-pass' ? { R1, R2, R3: R1, R4: R2, C1, I1 } : { R3: R1, R4: R2, C1, I1 };
    return context.meetParameters(
      PARAMETERS,
      wanted,
      parts,
      form === 'low-pass' ? ['R1', 'R2', 'C1'] : ['R3', 'R4', 'C1'],
      (v) => measures(v),
    );
  },
  measures: (_form, v) => measures(v),
  transfer(form, v) {
    const back = (transconductance(v.I1) * v.R4) / (v.R3 + v.R4);
    return form === 'low-pass'
      ? { numerator: [(transconductance(v.I1) * v.R2) / (v.R1 + v.R2)], denominator: [back, v.C1] }
      : { numerator: [0, v.C1], denominator: [back, v.C1] };
  },
  build,
  working: (form, v) => [
    {
      says: 'transconductance',
      tex: 'g_m = \\frac{I_1}{2 V_T}',
      value: `${format.ratio(1e6 * transconductance(v.I1))} µA/V`,
    },
    {
      says: 'cutoff',
      tex:
        form === 'low-pass'
          ? 'f = \\frac{g_m}{2\\pi C_1}\\,\\frac{R_2}{R_1 + R_2}'
          : 'f = \\frac{g_m}{2\\pi C_1}\\,\\frac{R_4}{R_3 + R_4}',
      value: format.hertz(measures(v).cutoffHz),
    },
  ],
  drawing: (form) =>
    otaCells(
      [
        {
          ota: 'U1',
          follower: 'U2',
          input: 'in',
          output: 'out',
          forward: form === 'low-pass' ? ['R1', 'R2'] : null,
          back: ['R3', 'R4'],
          backFrom: null,
          capacitor: 'C1',
          capacitorTo: form === 'low-pass' ? null : 'in',
        },
      ],
      'I1',
    ),
});

/** The pole is made by what comes back: R3 and R4. */
const measures = (v: PartValues) => ({ cutoffHz: omegaOf({ ...v, R1: v.R3, R2: v.R4 }) / (2 * Math.PI) });
