import { failure } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down, type Drawing } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { SUPPLY, wiperOf, type PartValues } from '../kit/part';
import { buildPair, pairFor, pairRest, pairSignal } from './stage/two-transistors';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'heelHz', label: 'peak, heel down', kind: 'frequency', min: 50, max: 3e3, initial: 420 },
  { name: 'toeHz', label: 'peak, toe down', kind: 'frequency', min: 100, max: 1e4, initial: 1800 },
  { name: 'q', label: 'Q, heel down', kind: 'ratio', min: 0.8, max: 4, initial: 1.6 },
  { name: 'gain', label: 'gain at the peak', kind: 'ratio', min: 0.2, max: 5, initial: 2 },
];
const AIM = { firstAmps: 0.5e-3, secondAmps: 1e-3 };
const LEVEL_FARAD = 10e-9;
const COUPLING_FARAD = 1e-6;

/** The pedal's leg to ground: its end resistor and what is left of the track. Heel down is the whole of it. */
const legOhm = (v: PartValues, share: number): number => v.R5 + v.P1 * (1 - share);

/**
 * Multiple feedback round an amplifier of finite gain A: with γ = (1 + 1/A)/R3 + 1/(A Rin), g = 1/R1 + 1/leg, ω² = γ
 * g/(C1 C2 (1 + 1/A)), ω/Q = (γ (C1 + C2) + C2 g/A)/(C1 C2 (1 + 1/A)), peak gain (C2/R1)/(γ (C1 + C2) + C2 g/A) (own
 * node equations).
 */
function peakAt(v: PartValues, share: number): { freqHz: number; q: number; gain: number } {
  const { gain: A, inOhm } = pairSignal(v, pairRest(v), Infinity);
  const gamma = (1 + 1 / A) / v.R3 + (1 / inOhm + 1 / v.R4) / A;
  const g = 1 / v.R1 + 1 / legOhm(v, share);
  const mass = v.C1 * v.C2 * (1 + 1 / A);
  const friction = gamma * (v.C1 + v.C2) + (v.C2 * g) / A;
  return {
    freqHz: Math.sqrt((gamma * g) / mass) / (2 * Math.PI),
    q: Math.sqrt(gamma * g * mass) / friction,
    gain: v.C2 / v.R1 / friction,
  };
}

function measures(v: PartValues): Parameters {
  const heel = peakAt(v, 0);
  return { heelHz: heel.freqHz, toeHz: peakAt(v, 1).freqHz, q: heel.q, gain: heel.gain };
}

function build(context: BuildContext): void {
  const { input, output, minus, node, part, pot } = context;
  const [i, n, b, out, leg] = [node('i'), node('n'), node('b'), node('o'), node('leg')];
  part('C3', input, i);
  part('R1', i, n);
  part('R5', n, leg);
  pot('P1', minus, minus, leg);
  part('C1', n, out);
  part('C2', n, b);
  part('R3', b, out);
  part('R4', b, minus);
  buildPair(context, b, out);
  part('C5', out, output);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
const capacitor = (name: string, role: string, couples = false): PartSpec => ({
  name,
  kind: 'capacitor',
  role,
  leaveOut: 'open',
  ...(couples ? { couples } : {}),
});
const PARTS: PartSpec[] = [
  capacitor('C3', 'in: keeps the leg’s rest to itself', true),
  resistor('R1', 'in line: gain'),
  resistor('R5', 'end of the pedal: the toe'),
  { name: 'P1', kind: 'potentiometer', role: 'pedal', leaveOut: 'short', turnedBy: 'pedal' },
  capacitor('C1', 'brings the output back'),
  capacitor('C2', 'into the base'),
  resistor('R3', 'around both transistors: Q, and their rest'),
  resistor('R4', 'holds the base down'),
  resistor('R6', 'first collector: gain'),
  resistor('R8', 'second emitter'),
  capacitor('C5', 'out: keeps the bias in', true),
];

const DRAWING: Drawing = {
  width: 56,
  height: 36,
  parts: [
    across('C3', 'capacitor', 4, 12),
    across('R1', 'resistor', 9.5, 12),
    down('R5', 'resistor', 16, 16, 'right'),
    { ...down('P1', 'potentiometer', 16, 22, 'right'), wiper: 'left' },
    across('C2', 'capacitor', 20.5, 12),
    down('R4', 'resistor', 24, 18, 'right'),
    across('R3', 'resistor', 38, 20),
    down('R6', 'resistor', 34.5, 5),
    down('R8', 'resistor', 41.5, 25),
    across('C5', 'capacitor', 46, 12),
    across('C1', 'capacitor', 26, 32),
  ],
  opAmps: [],
  devices: [
    { name: 'Q1', symbol: 'npn', at: [33, 12] },
    { name: 'Q2', symbol: 'npn', at: [40, 8] },
  ],
  wires: [
    [
      [0, 12],
      [2, 12],
    ],
    [
      [6, 12],
      [7.5, 12],
    ],
    [
      [11.5, 12],
      [18.5, 12],
    ],
    [
      [22.5, 12],
      [31, 12],
    ],
    [
      [16, 12],
      [16, 14],
    ],
    [
      [16, 18],
      [16, 20],
    ],
    [
      [16, 24],
      [16, 29],
    ],
    [
      [14, 22],
      [14, 26],
      [16, 26],
    ],
    [
      [24, 12],
      [24, 16],
    ],
    [
      [24, 20],
      [24, 29],
    ],
    [
      [30, 12],
      [30, 20],
      [36, 20],
    ],
    [
      [40, 20],
      [41.5, 20],
    ],
    [
      [34.5, 2],
      [34.5, 3],
    ],
    [
      [34.5, 7],
      [34.5, 10],
    ],
    [
      [34.5, 8],
      [38, 8],
    ],
    [
      [34.5, 14],
      [34.5, 29],
    ],
    [
      [41.5, 2],
      [41.5, 6],
    ],
    [
      [41.5, 10],
      [41.5, 23],
    ],
    [
      [41.5, 27],
      [41.5, 29],
    ],
    [
      [41.5, 12],
      [44, 12],
    ],
    [
      [48, 12],
      [51, 12],
    ],
    [
      [12.5, 12],
      [12.5, 32],
      [24, 32],
    ],
    [
      [28, 32],
      [44, 32],
      [44, 16],
      [41.5, 16],
    ],
    [
      [34.5, 2],
      [45, 2],
    ],
    [
      [16, 29],
      [47, 29],
    ],
  ],
  dots: [
    [12.5, 12],
    [16, 12],
    [16, 26],
    [24, 12],
    [30, 12],
    [34.5, 8],
    [41.5, 12],
    [41.5, 16],
    [41.5, 20],
  ],
  grounds: [],
  ports: [
    { label: 'in', at: [0, 12], side: 'left' },
    { label: 'out', at: [51, 12], side: 'right' },
    { label: '+V', at: [45, 2], side: 'right' },
    { label: '−V', at: [47, 29], side: 'right' },
  ],
  nodes: [
    { node: 'b', at: [29.6, 11.3], side: 'left' },
    { node: 'c', at: [33.8, 8.7], side: 'left' },
    { node: 'o', at: [42.2, 19.4], side: 'right' },
    { node: 'n', at: [15.4, 11.3], side: 'left' },
  ],
};

export const wahInductorless = defineNetwork({
  id: 'wah-inductorless',
  readAtPeak: () => true,
  name: 'Wah without a coil, two transistors',
  shortName: 'Wah, no coil',
  words: ['wah', 'wah-wah', 'pedal', 'foot', 'resonant pedal', 'guitar', 'no inductor'],
  family: 'voltage-controlled',
  parameters: PARAMETERS,
  supplied: true,
  usualSupplyVolts: 9,
  polarity: -1,
  reason:
    'Two transistors as an amplifier that turns over, two capacitors round it, and the pedal for its leg ' +
    'to ground: a moving peak of even height from parts that any drawer has.',
  cautions: [
    'Its band stays as wide while it moves: Q rises with the frequency, until the transistors’ gain is used up.',
    'An octave takes a quarter of the pedal’s resistance: a reverse-log track makes the travel even.',
    'Its output rests where R3 and R4 put it; a transistor of less gain sits a little higher.',
  ],
  sources: [
    'W. Jung (ed.), Op Amp Applications Handbook, ch. 5: multiple feedback',
    'own node equations with an amplifier of finite gain',
  ],
  loop: () => ({ part: 'C1', drivenBy: 'o', path: ['n', 'b', 'c', 'o'] }),
  parts: () => PARTS,
  design(wanted, _form, context) {
    const supply = context.supplyVolts;
    if (wanted.toeHz <= wanted.heelHz * 1.05)
      return failure('heel-over-toe', { heelHz: wanted.heelHz, toeHz: wanted.toeHz });
    const C = context.capacitor('C1', LEVEL_FARAD * Math.sqrt((420 * 1800) / (wanted.heelHz * wanted.toeHz)));
    const aim = pairFor(supply, AIM, 0);
    const [up, down] = [aim.outVolts - aim.baseVolts, aim.baseVolts];
    if (!(up > 0)) return failure('no-headroom', { supplyVolts: supply, emitterVolts: down, needsVolts: 2 * down });
    let [R3, R4, R8] = [150e3, 25e3, 4e3];
    let gamma = 0;
    let A = 0;
    for (let round = 0; round < 40; round++) {
      const signal = pairSignal(
        { R6: aim.R6, R8 },
        { first: AIM.firstAmps, second: AIM.secondAmps, baseVolts: down, outVolts: aim.outVolts },
        Infinity,
      );
      A = signal.gain;
      const omega = 2 * Math.PI * wanted.heelHz;
      // 2γ + g/A = ω C (1 + 1/A)/Q with γ g = ω² C² (1 + 1/A).
      const [b, w] = [(omega * C * (1 + 1 / A)) / wanted.q, omega * omega * C * C * (1 + 1 / A)];
      const under = b * b - (8 * w) / A;
      if (!(under > 0)) return failure('q-too-high', { q: wanted.q, most: Math.sqrt((A * (1 + 1 / A)) / 8) });
      gamma = (b + Math.sqrt(under)) / 4;
      const y = (gamma - 1 / (signal.inOhm * A) + aim.baseAmps / (down * A)) / (1 + 1 / A + up / (down * A));
      R3 = 1 / y;
      const through = up * y - aim.baseAmps;
      if (!(through > 0)) return failure('q-too-high', { q: wanted.q, most: wanted.q / 2 });
      R4 = down / through;
      R8 = aim.R8(up * y);
    }
    const square = (hz: number) => ((2 * Math.PI * hz * C) ** 2 * (1 + 1 / A)) / gamma;
    const [heel, toe] = [square(wanted.heelHz), square(wanted.toeHz)];
    const R1 = 1 / (wanted.gain * (2 * gamma + heel / A));
    const whole = 1 / (heel - 1 / R1);
    if (!(whole > 0)) return failure('gain-too-high', { gain: wanted.gain, most: heel / (2 * gamma + heel / A) });
    const R5 = 1 / (toe - 1 / R1);
    const parts: PartValues = {
      C3: COUPLING_FARAD,
      R1,
      R5,
      P1: whole - R5,
      C1: C,
      C2: C,
      R3,
      R4,
      R6: aim.R6,
      R8,
      C5: 10 * COUPLING_FARAD,
    };
    return context.meetParameters(PARAMETERS, wanted, parts, ['C1', 'C2', 'C3', 'C5', 'R4', 'R6', 'R8'], (v) =>
      measures({ ...v, [SUPPLY]: supply }),
    );
  },
  measures: (_form, v) => measures(v),
  figures: [
    { label: 'Q, toe down', kind: 'ratio', of: (_form, v) => peakAt(v, 1).q },
    { label: 'first transistor', kind: 'current', of: (_form, v) => pairRest(v).first },
    { label: 'output rests at', kind: 'voltage', of: (_form, v) => pairRest(v).outVolts },
    { label: 'the two transistors’ gain', kind: 'ratio', of: (_form, v) => pairSignal(v, pairRest(v), Infinity).gain },
  ],
  build,
  working: (_form, v) => {
    const here = wiperOf(v, 'P1');
    return [
      {
        says: 'the pair’s gain',
        tex: 'A = \\frac{R_6}{r_e}',
        value: format.ratio(pairSignal(v, pairRest(v), Infinity).gain),
      },
      { says: 'the pedal’s leg', tex: 'R = R_5 + P_1 (1 - x)', value: format.ohm(legOhm(v, here)) },
      {
        says: 'the peak there',
        tex: 'f = \\frac{1}{2\\pi\\sqrt{R_3\\,(R_1 \\parallel R)\\,C_1 C_2}}',
        value: format.hertz(peakAt(v, here).freqHz),
      },
      {
        says: 'its Q',
        tex: 'Q = \\frac12\\sqrt{\\frac{R_3}{R_1 \\parallel R}}',
        value: format.ratio(peakAt(v, here).q),
      },
    ];
  },
  drawing: () => DRAWING,
});
