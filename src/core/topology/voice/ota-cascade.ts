import { CONTROL, MIDDLE_AMPS, transconductance } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { otaCells } from './ota-cell';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { polynomialProduct } from '../../filter/rational';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'cutoff, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
  { name: 'feedback', label: 'feedback, oscillates at 4', kind: 'ratio', min: 0.05, max: 6, initial: 2.5 },
];
const STAGES = [1, 2, 3, 4] as const;
const IN_OHM = 22e3;
const LEG_OHM = 220;

/** Conductances at the two inputs of stage 1: the input divided, and what comes back of stages 1 and 4. */
function shares({ R1, R2, R3, R4, R9 }: PartValues): { forward: number; back: number; round: number } {
  const at = 1 / R3 + 1 / R4 + 1 / R9;
  return { forward: R2 / (R1 + R2), back: 1 / R3 / at, round: 1 / R9 / at };
}

/**
 * With a divider g at every stage each is a pole at ω = gm g/C. Round all four, k of the output is taken off the input:
 * D = (1 + s/ω)⁴ + k, which has poles on the axis at k = 4, ω (own derivation).
 */
function measures(v: PartValues): Parameters {
  const { back, round } = shares(v);
  return { cutoffHz: (transconductance(v.I1) * back) / v.C1 / (2 * Math.PI), feedback: round / back };
}

function build({ input, output, reference, node, part, opAmp, ota }: BuildContext): void {
  const out = (k: number) => (k === 4 ? output : node(`o${k}`));
  for (const k of STAGES) {
    const [p, m, n] = [node(`p${k}`), node(`m${k}`), node(`n${k}`)];
    const names = k === 1 ? ['R1', 'R2', 'R3', 'R4'] : [`R${k}1`, `R${k}2`, `R${k}3`, `R${k}4`];
    part(names[0], k === 1 ? input : out(k - 1), p);
    part(names[1], p, reference);
    part(names[2], out(k), m);
    part(names[3], m, reference);
    if (k === 1) part('R9', output, m);
    part(`C${k}`, n, reference);
    ota(`U${k}`, p, m, n);
    opAmp(`B${k}`, n, out(k), out(k));
  }
}

const PARTS: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'divides the input', leaveOut: 'open' },
  { name: 'R2', kind: 'resistor', role: 'divides the input', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
  { name: 'R4', kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
  { name: 'C1', kind: 'capacitor', role: 'first pole', leaveOut: 'open' },
  ...[2, 3, 4].flatMap((k): PartSpec[] => [
    { name: `R${k}1`, kind: 'resistor', role: 'divides the input', leaveOut: 'open' },
    { name: `R${k}2`, kind: 'resistor', role: 'divides the input', leaveOut: 'open' },
    { name: `R${k}3`, kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
    { name: `R${k}4`, kind: 'resistor', role: 'divides what comes back', leaveOut: 'open' },
    { name: `C${k}`, kind: 'capacitor', role: `pole ${k}`, leaveOut: 'open' },
  ]),
  { name: 'R9', kind: 'resistor', role: 'round all four: resonance', leaveOut: 'open' },
  CONTROL,
];

export const otaCascade = defineNetwork({
  id: 'ota-cascade',
  name: 'OTA cascade, four poles',
  shortName: 'OTA cascade',
  words: [
    'VCF',
    'transconductance',
    'four poles',
    '24 dB/oct',
    'voltage-controlled filter',
    'resonance',
    'self-oscillation',
    'synth filter',
  ],
  family: 'voltage-controlled',
  modes: ['low-pass'],
  parameters: PARAMETERS,
  opAmps: () => 4,
  outlet: () => ({ kind: 'pins', count: 4 }),
  reason:
    'Four equal poles on one current, and one resistor round them all: 24 dB an octave, and resonance up ' +
    'to singing by itself.',
  cautions: [
    'At feedback 4 it oscillates at its cutoff; more makes it louder until the OTAs bend.',
    'Its level falls by 1 + feedback as resonance rises: make it up after it, or feed some of the input round.',
    'The four OTAs want to be alike: take them from one package.',
  ],
  sources: [
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5',
    'own derivation: (1 + s/ω)⁴ + k has its poles on the axis at k = 4',
  ],
  loop: () => ({ part: 'R9', drivenBy: 'out', path: ['m1', 'o1', 'o2', 'o3', 'out'] }),
  resonance: () => 'R9',
  levelPart: () => 'R1',
  parts: () => PARTS,
  design(wanted, _form, context) {
    const [Rin, leg] = [context.resistor('R1', IN_OHM), context.resistor('R2', LEG_OHM)];
    const share = leg / (Rin + leg);
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C = context.capacitor('C1', (transconductance(MIDDLE_AMPS) * share) / omega);
    const I1 = (omega * C) / share / transconductance(1);
    // At the first stage's other input stand R3, R4 and R9 together: R4 gives way for R9, so that the share of R3
    // stays.
    const R9 = Rin / wanted.feedback;
    const R4 = 1 / (1 / leg - 1 / R9);
    const rest = Object.fromEntries(
      [2, 3, 4].flatMap((k) => [
        [`R${k}1`, Rin],
        [`R${k}2`, leg],
        [`R${k}3`, Rin],
        [`R${k}4`, leg],
        [`C${k}`, C],
      ]),
    );
    const parts: PartValues = { R1: Rin, R2: leg, R3: Rin, R4, C1: C, ...rest, R9, I1 };
    return context.meetParameters(PARAMETERS, wanted, parts, ['R1', 'R2', 'R3', 'C1', ...Object.keys(rest)], measures);
  },
  measures: (_form, v) => measures(v),
  transfer(_form, v) {
    const gm = transconductance(v.I1);
    const { forward, back, round } = shares(v);
    const later = [2, 3, 4].map((k) => ({
      forward: (gm * v[`R${k}2`]) / (v[`R${k}1`] + v[`R${k}2`]),
      denominator: [(gm * v[`R${k}4`]) / (v[`R${k}3`] + v[`R${k}4`]), v[`C${k}`]],
    }));
    const product = later.reduce((p, stage) => p * stage.forward, 1);
    const denominator = later.reduce<number[]>(
      (p, stage) => polynomialProduct(p, stage.denominator),
      [gm * back, v.C1],
    );
    denominator[0] += gm * round * product;
    return { numerator: [gm * forward * product], denominator };
  },
  figures: [
    { label: 'level lost to resonance', kind: 'decibel', of: (_form, v) => 20 * Math.log10(1 + measures(v).feedback) },
  ],
  build,
  working: (_form, v) => [
    {
      says: 'each pole',
      tex: 'f = \\frac{I_1}{4\\pi V_T C_1}\\,\\frac{1/R_3}{1/R_3 + 1/R_4 + 1/R_9}',
      value: format.hertz(measures(v).cutoffHz),
    },
    { says: 'feedback', tex: 'k = \\frac{R_3}{R_9}', value: format.ratio(measures(v).feedback) },
    {
      says: 'oscillates at',
      tex: '(1 + s/\\omega)^4 + k = 0,\\ s = j\\omega \\Rightarrow k = 4',
      value: `R9 = ${format.ohm(v.R3 / 4)}`,
    },
  ],
  drawing: () =>
    otaCells(
      STAGES.map((k) => ({
        ota: `U${k}`,
        follower: `B${k}`,
        input: k === 1 ? 'in' : `o${k - 1}`,
        output: k === 4 ? 'out' : `o${k}`,
        forward: k === 1 ? ['R1', 'R2'] : [`R${k}1`, `R${k}2`],
        back: k === 1 ? ['R3', 'R4'] : [`R${k}3`, `R${k}4`],
        backFrom: null,
        capacitor: `C${k}`,
        ...(k === 1 ? { besides: { part: 'R9', from: 'out' } } : {}),
      })),
      'I1',
    ),
});
