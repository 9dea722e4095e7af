import { diode } from '../../circuit/elements/diode';
import { failure } from '../../result';
import { CONTROL, THERMAL_VOLTS } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down, type Drawing } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const [DIODES, LEDS] = ['diode pair', 'LED pair'];
const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'centre, half way', kind: 'frequency', min: 5, max: 3e4, initial: 800 },
  { name: 'q', label: 'Q there', kind: 'ratio', min: 0.8, max: 60, initial: 3 },
  { name: 'gain', label: 'gain there', kind: 'ratio', min: 0.02, max: 1.2, initial: 0.7 },
];
/** Typical, our own figures: saturation (A), emission, capacitance (F). */
const JUNCTIONS: Readonly<Record<string, { saturation: number; emission: number; farad: number }>> = {
  [DIODES]: { saturation: 2e-9, emission: 1.75, farad: 3e-12 },
  [LEDS]: { saturation: 1e-18, emission: 2, farad: 25e-12 },
};
const BACK_OHM = 220e3;
const ROUND_OHM = 100e3;
/** Of the Q asked for, what the network makes by itself. */
const OWN_SHARE = 0.7;
const MOST_OWN_Q = 2;
/** Bypass and coupling, so large that the filter does not see them. */
const LARGE_FARAD = 47e-6;

/**
 * Two junctions in a row on one current, their middle driven and their ends at ground for the signal: n Vt/I each, both
 * at once. Ohm.
 */
const pairOhm = (form: string, amps: number): number => (JUNCTIONS[form].emission * THERMAL_VOLTS) / (2 * amps);

/** What comes round the other way, to the plus: k = R6/R5. */
const round = ({ R5, R6 }: PartValues): number => R6 / R5;
const legOf = (form: string, v: PartValues): number => 1 / (1 / v.R1 + 1 / pairOhm(form, v.I1));

/**
 * Multiple feedback with the leg to ground variable, and k of the output brought round to the plus: with g = 1/R1 +
 * 1/pair, y/x = −(1 + k) s C2 R3/R1/(g + s(C1 + C2 − k g C2 R3) + s² C1 C2 R3) (own node equations): the frequency
 * stays, the damping goes; none is left at k = (C1 + C2)/(g C2 R3).
 */
function measures(form: string, v: PartValues): Parameters {
  const leg = legOf(form, v);
  const friction = v.C1 + v.C2 - (round(v) * v.C2 * v.R3) / leg;
  return {
    cutoffHz: 1 / (2 * Math.PI * Math.sqrt(v.C1 * v.C2 * leg * v.R3)),
    q: Math.sqrt((v.C1 * v.C2 * v.R3) / leg) / friction,
    gain: ((1 + round(v)) * (v.R3 / v.R1) * v.C2) / friction,
  };
}

function build({ form, input, output, reference, ideal, node, part, opAmp, element, current }: BuildContext): void {
  const [n, minus, top, middle] = [node('n'), node('m'), node('top'), node('middle')];
  const { saturation, emission, farad } = JUNCTIONS[form];
  const model = [saturation, emission, ideal ? 0 : farad];
  part('R1', input, n);
  part('C1', n, output);
  part('C2', n, minus);
  part('R3', minus, output);
  part('C4', n, middle);
  part('C3', top, reference);
  current('I1', reference, top);
  element('D1', diode, [top, middle], model);
  element('D2', diode, [middle, reference], model);
  part('R5', output, node('plus'));
  part('R6', node('plus'), reference);
  opAmp('U1', node('plus'), minus, output);
}

const PARTS: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'in line: gain', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'around the op-amp', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'brings the output round to the plus', leaveOut: 'open' },
  { name: 'R6', kind: 'resistor', role: 'resonance: how much of it', leaveOut: 'short' },
  { name: 'C1', kind: 'capacitor', role: 'brings the output back', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'into the op-amp', leaveOut: 'open' },
  {
    name: 'C3',
    kind: 'capacitor',
    role: 'holds the pair’s top still, so that both halves work and even harmonics cancel',
    leaveOut: 'open',
    couples: true,
  },
  {
    name: 'C4',
    kind: 'capacitor',
    role: 'couples the pair, keeps its bias to itself',
    leaveOut: 'open',
    couples: true,
  },
  { ...CONTROL, role: 'pair’s current' },
];

const DRAWING: Drawing = {
  width: 40,
  height: 36,
  parts: [
    across('R1', 'resistor', 4, 11),
    across('C2', 'capacitor', 16, 11),
    across('R3', 'resistor', 23.4, 7.2),
    across('C1', 'capacitor', 24, 2.5),
    across('R5', 'resistor', 29, 18.2),
    down('R6', 'resistor', 23, 19, 'left'),
    down('C4', 'capacitor', 11, 15),
    down('C3', 'capacitor', 24, 27.5, 'right'),
    across('I1', 'current', 32, 24.5),
  ],
  opAmps: [{ name: 'U1', at: [29, 12.5], plusOnTop: false }],
  devices: [
    { name: 'D1', symbol: 'diode', at: [16, 27], down: true },
    { name: 'D2', symbol: 'diode', at: [16, 32], down: true },
  ],
  wires: [
    [
      [0, 11],
      [2, 11],
    ],
    [
      [6, 11],
      [14, 11],
    ],
    [
      [18, 11],
      [26, 11],
    ],
    [
      [20.5, 11],
      [20.5, 7.2],
      [21.4, 7.2],
    ],
    [
      [25.4, 7.2],
      [34, 7.2],
      [34, 18.2],
      [31, 18.2],
    ],
    [
      [9, 11],
      [9, 2.5],
      [22, 2.5],
    ],
    [
      [26, 2.5],
      [34, 2.5],
      [34, 7.2],
    ],
    [
      [32, 12.5],
      [37, 12.5],
    ],
    [
      [26, 14],
      [23, 14],
      [23, 17],
    ],
    [
      [23, 16],
      [24.5, 16],
      [24.5, 18.2],
      [27, 18.2],
    ],
    [
      [11, 11],
      [11, 13],
    ],
    [
      [11, 17],
      [11, 29.5],
      [16, 29.5],
    ],
    [
      [16, 29],
      [16, 30],
    ],
    [
      [16, 25],
      [16, 24.5],
      [30, 24.5],
    ],
    [
      [24, 24.5],
      [24, 25.5],
    ],
    [
      [34, 24.5],
      [35.5, 24.5],
    ],
  ],
  dots: [
    [9, 11],
    [11, 11],
    [20.5, 11],
    [34, 7.2],
    [34, 12.5],
    [23, 16],
    [16, 29.5],
    [24, 24.5],
  ],
  grounds: [
    [23, 21],
    [16, 34],
    [24, 29.5],
    [35.5, 24.5],
  ],
  ports: [
    { label: 'in', at: [0, 11], side: 'left' },
    { label: 'out', at: [37, 12.5], side: 'right' },
  ],
  nodes: [
    { node: 'top', at: [16.6, 24], side: 'right' },
    { node: 'middle', at: [10.4, 26], side: 'left' },
  ],
};

export const diodeBandPass = defineNetwork({
  id: 'diode-band-pass',
  readAtPeak: () => true,
  name: 'One op-amp with a pair of diodes',
  shortName: 'Diode filter',
  words: ['VCF', 'diode filter', 'diode resistance', 'simple VCF', 'percussion filter', 'voltage-controlled filter'],
  family: 'voltage-controlled',
  modes: [DIODES, LEDS],
  parameters: PARAMETERS,
  polarity: -1,
  opAmps: () => 1,
  outlet: () => ({ kind: 'source', count: 1 }),
  reason:
    'A resonant band-pass of one op-amp whose leg to ground is two junctions: the current through them ' +
    'moves it, and what comes round to the plus makes it ring, up to singing.',
  cautions: [
    'Its frequency goes as the root of the current: an octave takes four times as much, and it rings ' +
      'harder as it rises, so that it oscillates at the top first.',
    'The pair bends from some tens of millivolts across it: that is its voice when driven, and its limit when not.',
    'Junctions drift about 0.33 % a degree, half of which the root lets through.',
  ],
  sources: [
    'W. Jung (ed.), Op Amp Applications Handbook, ch. 5: multiple feedback',
    'own node equations with a junction pair of n Vt/2I for the leg',
  ],
  loop: () => ({ part: 'C1', drivenBy: 'out', path: ['n', 'out'] }),
  parts: () => PARTS,
  resonance: () => 'R6',
  design(wanted, form, context) {
    const omega = 2 * Math.PI * wanted.cutoffHz;
    // The network alone rings as little as its ratio allows; what comes round to the plus does the rest: Q = Q0/(1 − 2
    // k Q0²).
    const own = Math.min(MOST_OWN_Q, OWN_SHARE * wanted.q);
    const k = (1 - own / wanted.q) / (2 * own * own);
    const C = context.capacitor('C1', (2 * own) / (omega * BACK_OHM));
    const R3 = (2 * own) / (omega * C);
    const R1 = ((1 + k) * R3 * wanted.q) / own / 2 / wanted.gain;
    const pair = 1 / ((4 * own ** 2) / R3 - 1 / R1);
    if (!(pair > 0)) return failure('gain-too-high', { gain: wanted.gain, most: 2 * own * (1 + k) * wanted.q });
    const R5 = context.resistor('R5', ROUND_OHM);
    const parts: PartValues = {
      R1,
      R3,
      R5,
      R6: k * R5,
      C1: C,
      C2: C,
      C3: LARGE_FARAD,
      C4: LARGE_FARAD,
      I1: pairOhm(form, pair),
    };
    return context.meetParameters(PARAMETERS, wanted, parts, ['C1', 'C2', 'C3', 'C4', 'R5'], (v) => measures(form, v));
  },
  measures,
  figures: [
    { label: 'pair', kind: 'resistance', of: (form, v) => pairOhm(form, v.I1) },
    { label: 'pair’s current', kind: 'current', of: (_form, v) => v.I1 },
  ],
  build,
  working: (form, v) => [
    { says: 'the pair', tex: 'R = \\frac{n V_T}{2 I_1}', value: format.ohm(pairOhm(form, v.I1)) },
    {
      says: 'centre',
      tex: 'f = \\frac{1}{2\\pi\\sqrt{C_1 C_2\\,(R \\parallel R_1)\\,R_3}}',
      value: format.hertz(measures(form, v).cutoffHz),
    },
    {
      says: 'by itself',
      tex: 'Q_0 = \\frac{1}{2}\\sqrt{\\frac{R_3}{R \\parallel R_1}}',
      value: format.ratio(Math.sqrt(v.R3 / legOf(form, v)) / 2),
    },
    { says: 'quality', tex: 'Q = \\frac{Q_0}{1 - 2 Q_0^2\\,R_6/R_5}', value: format.ratio(measures(form, v).q) },
    {
      says: 'oscillates at',
      tex: 'R_6 = \\frac{R_5}{2 Q_0^2}',
      value: `R6 = ${format.ohm((v.R5 * (v.C1 + v.C2) * legOf(form, v)) / (v.C2 * v.R3))}`,
    },
  ],
  drawing: () => DRAWING,
});
