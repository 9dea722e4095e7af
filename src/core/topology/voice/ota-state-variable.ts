import { CONTROL, MIDDLE_AMPS, transconductance } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down } from '../kit/drawing';
import { otaCells, type Pieces } from './ota-cell';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'frequency, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
  { name: 'q', label: 'Q', kind: 'ratio', min: 0.5, max: 100, initial: 4 },
];
const LEVEL_OHM = 22e3;
const LEG_OHM = 220;

const inputGain = ({ R1, R2, R3 }: PartValues): number => 1 + R3 / R1 + R3 / R2;
const backShare = ({ R4, R5 }: PartValues): number => R5 / (R4 + R5);
const rate = (v: PartValues, r: string, leg: string, c: string): number =>
  (transconductance(v.I1) * v[leg]) / (v[r] + v[leg]) / v[c];

/**
 * The state variable with OTAs for its integrators: high-pass, −ω1/s, −ω2/s; D = s² + β(1 + R3/R1 + R3/R2) ω1 s +
 * (R3/R2) ω1 ω2 by the node equations of its adder.
 */
function measures(v: PartValues): Parameters {
  const [w1, w2] = [rate(v, 'R6', 'R7', 'C1'), rate(v, 'R8', 'R9', 'C2')];
  const omega = Math.sqrt((v.R3 / v.R2) * w1 * w2);
  return { cutoffHz: omega / (2 * Math.PI), q: omega / (backShare(v) * inputGain(v) * w1) };
}

/** High-pass, band-pass and low-pass: the one that is taken is the output. */
const netsOf = (form: string): [string, string, string] =>
  ['high-pass', 'band-pass', 'low-pass'].map((name) => (form === name ? 'out' : name.split('-')[0])) as [
    string,
    string,
    string,
  ];

/** What adds the input, the low-pass and the band-pass. */
const adder = (high: string, band: string, low: string): Pieces => ({
  parts: [
    across('R2', 'resistor', 6, 4),
    across('R1', 'resistor', 6, 9),
    across('R3', 'resistor', 22, 4),
    across('R4', 'resistor', 6, 15),
    down('R5', 'resistor', 15, 18.5, 'right'),
  ],
  opAmps: [{ name: 'A1', at: [22, 10.5], plusOnTop: false }],
  wires: [
    [
      [0, 4],
      [4, 4],
    ],
    [
      [8, 4],
      [12, 4],
      [12, 9],
    ],
    [
      [0, 9],
      [4, 9],
    ],
    [
      [8, 9],
      [19, 9],
    ],
    [
      [16, 9],
      [16, 4],
      [20, 4],
    ],
    [
      [24, 4],
      [29, 4],
      [29, 10.5],
    ],
    [
      [25, 10.5],
      [36, 10.5],
    ],
    [
      [0, 15],
      [4, 15],
    ],
    [
      [8, 15],
      [15, 15],
      [15, 12],
      [19, 12],
    ],
    [
      [15, 15],
      [15, 16.5],
    ],
  ],
  dots: [
    [12, 9],
    [16, 9],
    [29, 10.5],
    [15, 15],
  ],
  grounds: [[15, 20.5]],
  ports: [
    { label: low, at: [0, 4], side: 'left', net: low },
    { label: 'in', at: [0, 9], side: 'left', net: 'in' },
    { label: band, at: [0, 15], side: 'left', net: band },
    { label: high, at: [36, 10.5], side: 'right', net: high },
  ],
});

function build({ form, input, output, reference, node, part, opAmp, ota }: BuildContext): void {
  const [high, band, low] = ['high-pass', 'band-pass', 'low-pass'].map((name) =>
    form === name ? output : node(name.split('-')[0]),
  );
  part('R1', input, node('s'));
  part('R2', low, node('s'));
  part('R3', node('s'), high);
  part('R4', band, node('q'));
  part('R5', node('q'), reference);
  opAmp('A1', node('q'), node('s'), high);
  part('R6', high, node('m1'));
  part('R7', node('m1'), reference);
  part('C1', node('n1'), reference);
  ota('U1', reference, node('m1'), node('n1'));
  opAmp('A2', node('n1'), band, band);
  part('R8', band, node('m2'));
  part('R9', node('m2'), reference);
  part('C2', node('n2'), reference);
  ota('U2', reference, node('m2'), node('n2'));
  opAmp('A3', node('n2'), low, low);
}

const PARTS: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'in line, from the input', leaveOut: 'open' },
  { name: 'R2', kind: 'resistor', role: 'brings the low-pass back', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'around the adder', leaveOut: 'short' },
  { name: 'R4', kind: 'resistor', role: 'brings the band-pass back: one over Q', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'divides it', leaveOut: 'open' },
  { name: 'R6', kind: 'resistor', role: 'divides for the first OTA', leaveOut: 'open' },
  { name: 'R7', kind: 'resistor', role: 'divides for the first OTA', leaveOut: 'open' },
  { name: 'C1', kind: 'capacitor', role: 'first integrator', leaveOut: 'open' },
  { name: 'R8', kind: 'resistor', role: 'divides for the second OTA', leaveOut: 'open' },
  { name: 'R9', kind: 'resistor', role: 'divides for the second OTA', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'second integrator', leaveOut: 'open' },
  CONTROL,
];

export const otaStateVariable = defineNetwork({
  id: 'ota-state-variable',
  readAtPeak: (form) => form === 'band-pass',
  name: 'OTA state variable',
  shortName: 'OTA state var.',
  words: [
    'VCF',
    'SVF',
    'transconductance',
    'two poles',
    '12 dB/oct',
    'multimode',
    'voltage-controlled filter',
    'resonance',
  ],
  family: 'voltage-controlled',
  modes: ['low-pass', 'band-pass', 'high-pass'],
  parameters: PARAMETERS,
  polarity: (form) => (form === 'band-pass' ? 1 : -1),
  opAmps: () => 3,
  outlet: () => ({ kind: 'pins', count: 2 }),
  reason: 'Low-pass, band-pass and high-pass of second order at once, frequency by one current, Q apart from it.',
  cautions: [
    'At a high Q the inner outputs swing higher than the one you take, and the OTAs bend first.',
    'Its integrators’ own losses keep it from singing cleanly: a little positive feedback, held by a ' +
      'limiter, makes it.',
  ],
  sources: [
    'W. J. Kerwin, L. P. Huelsman, R. W. Newcomb, IEEE J. Solid-State Circuits SC-2, 1967: the loop',
    'own derivation with transconductances for resistors',
  ],
  loop(form) {
    const [high, band, low] = ['high-pass', 'band-pass', 'low-pass'].map((name) =>
      form === name ? 'out' : name.split('-')[0],
    );
    return { part: 'R2', drivenBy: low, path: [high, band, low] };
  },
  resonance: () => 'R5',
  parts: () => PARTS,
  design(wanted, _form, context) {
    const [R, leg] = [context.resistor('R6', LEVEL_OHM), context.resistor('R7', LEG_OHM)];
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const share = leg / (R + leg);
    const C = context.capacitor('C1', (transconductance(MIDDLE_AMPS) * share) / omega);
    const I1 = (omega * C) / share / transconductance(1);
    const R2 = context.resistor('R2', LEVEL_OHM);
    const R4 = context.resistor('R4', 100e3);
    const back = 1 / (wanted.q * 3);
    const parts: PartValues = {
      R1: R2,
      R2,
      R3: R2,
      R4,
      R5: (R4 * back) / (1 - back),
      R6: R,
      R7: leg,
      C1: C,
      R8: R,
      R9: leg,
      C2: C,
      I1,
    };
    return context.meetParameters(
      PARAMETERS,
      wanted,
      parts,
      ['R1', 'R2', 'R3', 'R4', 'R6', 'R7', 'R8', 'R9', 'C1', 'C2'],
      measures,
    );
  },
  measures: (_form, v) => measures(v),
  transfer(form, v) {
    const [w1, w2] = [rate(v, 'R6', 'R7', 'C1'), rate(v, 'R8', 'R9', 'C2')];
    const denominator = [(v.R3 / v.R2) * w1 * w2, backShare(v) * inputGain(v) * w1, 1];
    const gain = v.R3 / v.R1;
    return {
      numerator: form === 'high-pass' ? [0, 0, -gain] : form === 'band-pass' ? [0, gain * w1] : [-gain * w1 * w2],
      denominator,
    };
  },
  build,
  working: (_form, v) => [
    {
      says: 'each integrator',
      tex: '\\omega = \\frac{I_1}{2 V_T C_1}\\,\\frac{R_7}{R_6 + R_7}',
      value: format.hertz(rate(v, 'R6', 'R7', 'C1') / (2 * Math.PI)),
    },
    {
      says: 'one over Q',
      tex: '\\frac1Q = \\frac{R_5}{R_4 + R_5}\\left(1 + \\frac{R_3}{R_1} + \\frac{R_3}{R_2}\\right)',
      value: `Q = ${format.ratio(measures(v).q)}`,
    },
  ],
  drawing(form) {
    const [high, band, low] = netsOf(form);
    const cell = (n: 1 | 2, [from, to]: readonly [string, string], back: readonly [string, string]) => ({
      ota: `U${n}`,
      follower: `A${n + 1}`,
      input: from,
      output: to,
      forward: null,
      back,
      backFrom: from,
      capacitor: `C${n}`,
    });
    return otaCells([cell(1, [high, band], ['R6', 'R7']), cell(2, [band, low], ['R8', 'R9'])], 'I1', {
      pieces: adder(high, band, low),
      height: 24,
    });
  },
});
