import { diode } from '../../circuit/elements/diode';
import { polynomialProduct, type Rational } from '../../filter/rational';
import { fromDecibels } from '../../units/quantity';
import { CONTROL, THERMAL_VOLTS } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down, type Drawing, type PlacedDevice, type PlacedPart, type Point } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const [LOW, HIGH] = ['low-pass', 'high-pass'];
const PARAMETERS: ParameterSpec[] = [
  { name: 'padDb', label: 'attenuator before it', kind: 'decibel', min: -50, max: -2, initial: -20 },
  { name: 'cutoffHz', label: 'each section, closed', kind: 'frequency', min: 5, max: 5e4, initial: 600, forms: [LOW] },
  {
    name: 'shelfDb',
    label: 'left of the top, half way',
    kind: 'decibel',
    min: -80,
    max: -3,
    initial: -32,
    forms: [LOW],
  },
  { name: 'turnHz', label: 'each section, half way', kind: 'frequency', min: 5, max: 5e4, initial: 600, forms: [HIGH] },
];
/** Typical, our own figures: saturation (A), emission, capacitance (F). */
const DIODE = { saturation: 2e-9, emission: 1.75, farad: 3e-12 };
const PAD_OHM = 10e3;
const FIRST_OHM = 10e3;
/** The second section stands so much higher, that it loads the first little. */
const STEP = 3.3;
/** Current through each diode in the middle of the control, A. */
const MIDDLE_AMPS = 40e-6;

/** A diode on a current: n Vt/(I + IS), ohm. */
const legOhm = (amps: number): number => (DIODE.emission * THERMAL_VOLTS) / (amps + DIODE.saturation);
const amps = (ohm: number): number => (DIODE.emission * THERMAL_VOLTS) / ohm - DIODE.saturation;

/** The attenuator as the first section sees it: its share, and the resistance it has. */
const pad = ({ R1, R2 }: PartValues): { share: number; ohm: number } => ({
  share: R2 / (R1 + R2),
  ohm: (R1 * R2) / (R1 + R2),
});

/** What both legs leave of the very top, where the capacitors are nothing: 1/((1 + Ra/r)(1 + R4/r) + Ra/r). */
const topLeft = (first: number, second: number, leg: number): number =>
  1 / ((1 + first / leg) * (1 + second / leg) + first / leg);
/** The leg (ohm) for it: a quadratic in 1/r. */
function legFor(first: number, second: number, left: number): number {
  const [a, b, c] = [first * second, 2 * first + second, 1 - 1 / left];
  return (2 * a) / (Math.sqrt(b * b - 4 * a * c) - b);
}

function measures(form: string, v: PartValues): Parameters {
  const { share, ohm } = pad(v);
  const leg = legOhm(v.I1);
  const first = ohm + v.R3;
  return form === LOW
    ? {
        padDb: 20 * Math.log10(share),
        cutoffHz: 1 / (2 * Math.PI * first * v.C1),
        shelfDb: 20 * Math.log10(topLeft(first, v.R4, leg)),
      }
    : { padDb: 20 * Math.log10(share), turnHz: 1 / (2 * Math.PI * leg * v.C2) };
}

/**
 * Two sections in a row, each with what the next takes of it: 1/((1 + Z1 Y1)(1 + Z2 Y2) + Z1 Y2) (own node equations).
 */
function transfer(form: string, v: PartValues): Rational {
  const { share, ohm } = pad(v);
  const r = legOhm(v.I1);
  if (form === LOW) {
    const Ra = ohm + v.R3;
    const [t1, t2] = [r * v.C1, r * v.C2];
    const denominator = polynomialProduct([1, t1 + Ra * v.C1], [1, t2 + v.R4 * v.C2]);
    polynomialProduct([0, Ra * v.C2], [1, t1]).forEach((c, i) => (denominator[i] += c));
    return { numerator: polynomialProduct([1, t1], [1, t2]).map((c) => share * c), denominator };
  }
  // Both lines times s²C1C2: capacitors in line, diodes to ground.
  const denominator = polynomialProduct([1 / r, v.C1 * (1 + ohm / r)], [1 / r, v.C2]);
  polynomialProduct([1 / r, (ohm * v.C1) / r], [0, v.C2]).forEach((c, i) => (denominator[i] += c));
  return { numerator: [0, 0, share * v.C1 * v.C2], denominator };
}

function build({ form, input, output, reference, ideal, node, part, element, current }: BuildContext): void {
  const [a, n, d1, d2] = [node('a'), node('n'), node('d1'), node('d2')];
  const model = [DIODE.saturation, DIODE.emission, ideal ? 0 : DIODE.farad];
  part('R1', input, a);
  part('R2', a, reference);
  if (form === LOW) {
    part('R3', a, n);
    part('C1', n, d1);
    part('R4', n, output);
    part('C2', output, d2);
  } else {
    part('C1', a, d1);
    part('C2', d1, output);
  }
  const second = form === LOW ? d2 : output;
  current('I1', reference, d1);
  current('I1', reference, second, 'mirror');
  element('D1', diode, [d1, reference], model);
  element('D2', diode, [second, reference], model);
}

const resistor = (name: string, role: string, leaveOut: PartSpec['leaveOut'] = 'open'): PartSpec => ({
  name,
  kind: 'resistor',
  role,
  leaveOut,
});
const capacitor = (name: string, role: string): PartSpec => ({ name, kind: 'capacitor', role, leaveOut: 'open' });

function drawing(form: string): Drawing {
  const low = form === LOW;
  const y = 4;
  // Each section: what is in line, then its leg. In the low-pass a capacitor stands over the diode.
  const [first, second] = low ? [17, 30] : [16, 29];
  const diodeY = low ? 17 : 12;
  const parts: PlacedPart[] = [
    across('R1', 'resistor', 4, y),
    down('R2', 'resistor', 8, 9, 'left'),
    across(low ? 'R3' : 'C1', low ? 'resistor' : 'capacitor', first - 5, y),
    across(low ? 'R4' : 'C2', low ? 'resistor' : 'capacitor', second - 5, y),
  ];
  if (low) parts.push(down('C1', 'capacitor', first, 9, 'left'), down('C2', 'capacitor', second, 9, 'left'));
  const wires: Point[][] = [
    [
      [0, y],
      [2, y],
    ],
    [
      [6, y],
      [first - 7, y],
    ],
    [
      [8, y],
      [8, 7],
    ],
    [
      [first - 3, y],
      [second - 7, y],
    ],
    [
      [second - 3, y],
      [second + 6, y],
    ],
  ];
  const dots: Point[] = [
    [8, y],
    [first, y],
    [second, y],
  ];
  const feedY = low ? 13 : 9;
  for (const x of [first, second])
    wires.push([
      [x, y],
      [x, low ? 7 : diodeY - 2],
    ]);
  if (low)
    for (const x of [first, second])
      wires.push([
        [x, 11],
        [x, diodeY - 2],
      ]);
  // One current for both, each through its own source; the second mirrors the first.
  parts.push(across('I1', 'current', first + 6, feedY));
  wires.push(
    [
      [first, feedY],
      [first + 4, feedY],
    ],
    [
      [first + 8, feedY],
      [first + 9, feedY],
    ],
    [
      [second, feedY],
      [second + 3, feedY],
    ],
  );
  dots.push([first, feedY], [second, feedY]);
  const devices: PlacedDevice[] = [
    { name: 'D1', symbol: 'diode', at: [first, diodeY], down: true },
    { name: 'D2', symbol: 'diode', at: [second, diodeY], down: true },
  ];
  return {
    width: second + 12,
    height: diodeY + 6,
    parts,
    opAmps: [],
    devices,
    wires,
    dots,
    grounds: [
      [8, 11],
      [first + 9, feedY],
      [first, diodeY + 2],
      [second, diodeY + 2],
    ],
    ports: [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'out', at: [second + 6, y], side: 'right' },
      { label: 'I1, mirrored', at: [second + 3, feedY], side: 'left', net: low ? 'd2' : 'out' },
    ],
    nodes: [
      { node: 'd1', at: [first - 0.6, diodeY - 2.4], side: 'left' },
      ...(low ? [{ node: 'd2', at: [second + 0.6, diodeY - 2.4] as Point, side: 'right' as const }] : []),
    ],
  };
}

export const diodeLegs = defineNetwork({
  id: 'diode-legs',
  name: 'Two sections on diode legs, with attenuator',
  shortName: 'Diode legs',
  words: [
    'VCF',
    'diode resistance',
    'diode filter',
    'two sections',
    'dynamic filter',
    'damper',
    'voltage-controlled filter',
  ],
  family: 'voltage-controlled',
  modes: [LOW, HIGH],
  outlet: () => ({ kind: 'source', count: 2 }),
  parameters: PARAMETERS,
  reason:
    'Two RC sections whose lower legs are diodes: the control turns them from open to nearly short. ' +
    'Nothing else bends, and there is no op-amp.',
  cautions: [
    'The diodes bear some tens of millivolts before they bend, and a few hundred before they clip: ' +
      'attenuate before, make up after.',
    'The control’s own step goes through with the signal: that is its thump. Two diodes back to back, ' +
      'driven apart, would cancel it.',
    'What follows must be a high impedance: a one-transistor stage takes most of the level unless it is ' +
      'bootstrapped or stands behind a follower.',
  ],
  sources: [
    'own node equations of two loaded sections with legs of n Vt/I',
    'W. Shockley, Bell System Technical Journal 28, 1949: the junction',
  ],
  parts: (form) => [
    resistor('R1', 'attenuator, in line'),
    resistor('R2', 'attenuator, to ground'),
    ...(form === LOW ? [resistor('R3', 'first section', 'short'), resistor('R4', 'second section', 'short')] : []),
    capacitor('C1', 'first section'),
    capacitor('C2', 'second section'),
    { ...CONTROL, role: 'current through each diode' },
  ],
  design(wanted, form, context) {
    const R1 = context.resistor('R1', PAD_OHM);
    const share = fromDecibels(wanted.padDb);
    const R2 = (R1 * share) / (1 - share);
    const source = pad({ R1, R2 }).ohm;
    if (form === LOW) {
      const omega = 2 * Math.PI * wanted.cutoffHz;
      const C1 = context.capacitor('C1', 1 / (omega * (FIRST_OHM + source)));
      const R3 = Math.max(source / 10, 1 / (omega * C1) - source);
      const R4 = context.resistor('R4', STEP * (R3 + source));
      const parts: PartValues = {
        R1,
        R2,
        R3,
        R4,
        C1,
        C2: 1 / (omega * R4),
        I1: amps(legFor(R3 + source, R4, fromDecibels(wanted.shelfDb))),
      };
      return context.meetParameters(
        PARAMETERS.filter((p) => p.name !== 'turnHz'),
        wanted,
        parts,
        ['R1', 'C1', 'C2', 'R4'],
        (v) => measures(form, v),
      );
    }
    const omega = 2 * Math.PI * wanted.turnHz;
    const C = context.capacitor('C2', 1 / (omega * legOhm(MIDDLE_AMPS)));
    const parts: PartValues = { R1, R2, C1: C, C2: C, I1: amps(1 / (omega * C)) };
    return context.meetParameters(
      PARAMETERS.filter((p) => p.name === 'padDb' || p.name === 'turnHz'),
      wanted,
      parts,
      ['R1', 'C1', 'C2'],
      (v) => measures(form, v),
    );
  },
  measures,
  figures: [{ label: 'each diode', kind: 'resistance', of: (_form, v) => legOhm(v.I1) }],
  transfer,
  build,
  working: (form, v) => [
    { says: 'attenuator', tex: '\\frac{R_2}{R_1 + R_2}', value: format.decibel(20 * Math.log10(pad(v).share)) },
    { says: 'each diode', tex: 'r = \\frac{n V_T}{I_1}', value: format.ohm(legOhm(v.I1)) },
    ...(form === LOW
      ? [
          {
            says: 'closed',
            tex: 'f = \\frac{1}{2\\pi (R_3 + R_1 \\parallel R_2) C_1}',
            value: format.hertz(measures(form, v).cutoffHz),
          },
          {
            says: 'what the top keeps',
            tex: '\\frac{1}{(1 + R/r)(1 + R_4/r) + R/r},\\ R = R_3 + R_1 \\parallel R_2',
            value: format.decibel(measures(form, v).shelfDb),
          },
        ]
      : [{ says: 'each section', tex: 'f = \\frac{1}{2\\pi r C_2}', value: format.hertz(measures(form, v).turnHz) }]),
  ],
  drawing,
});
