import { cellOhmOf, optocouplerBent } from '../../circuit/elements/optocoupler';
import { photocellValues, type Photocell } from '../../device/photocell';
import { CONTROL } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down, type Drawing, type PlacedPart, type Point } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { CELL, type PartValues } from '../kit/part';
import { format } from '../kit/working';
import { beginsBetween } from '../../math/search';

const [FILTER, GATE, COMBINED, COMPENSATED] = ['filter', 'gate', 'combined', 'compensated'];

/** What is switched in: the capacitor that feeds back, the shunt, and the leg that doubles the input’s gain. */
const switchedIn = (
  form: string,
): { readonly feedback: boolean; readonly shunt: boolean; readonly doubled: boolean } => ({
  feedback: form === FILTER || form === COMPENSATED,
  shunt: form === GATE || form === COMPENSATED,
  doubled: form === GATE || form === COMPENSATED,
});
const SHUNTED = [GATE, COMPENSATED];

const PARAMETERS: ParameterSpec[] = [
  { name: 'cellOhm', label: 'cell, half way', kind: 'resistance', min: 200, max: 1e6, initial: 12e3 },
  { name: 'cutoffHz', label: 'cutoff as filter', kind: 'frequency', min: 5, max: 5e4, initial: 900 },
  { name: 'q', label: 'Q as filter', kind: 'ratio', min: 0.5, max: 30, initial: 1 },
  { name: 'shuntOhm', label: 'shunt', kind: 'resistance', min: 100, max: 1e6, initial: 4700, forms: SHUNTED },
];

/** The lamp current (A) at which a cell has a resistance: halved, since the law falls all along. */
function lampAmps(cell: Photocell, ohm: number): number {
  const { values } = photocellValues(cell);
  return beginsBetween((amps) => cellOhmOf(values, 1000 * amps) <= ohm, 1e-9, 1);
}
const ohmAt = (cell: Photocell, amps: number): number => cellOhmOf(photocellValues(cell).values, 1000 * amps);

/** Of the Q asked for, what the capacitors make by themselves. */
const OWN_SHARE = 0.7;
const MOST_OWN_Q = 1;
const ROUND_OHM = 10e3;
/** Lets no charge stay between dark cells. */
const BLEED_OHM = 10e6;
/**
 * At the follower’s input and along its wiring, F; the small capacitor is so many times as much, so that it decides.
 */
const STRAY_FARAD = 15e-12;
const OVER_STRAYS = 10;

/** What the second op-amp gives back for what comes out. */
const backGain = ({ R5, R6 }: PartValues): number => 1 + R5 / R6;
const ownQ = (q: number): number => Math.min(MOST_OWN_Q, OWN_SHARE * q);

/** H(s) = gain / (a0 + a1 s + a2 s²). */
interface TwoPoles {
  readonly gain: number;
  readonly a0: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * Two equal cells R, C1 from the first node driven by K of the output, C3 there to ground, C2 and a conductance g after
 * the second, by its own node equations: with r = R g,
 * a0 = 1 + 2r, a1 = R (2 C2 + (1 + r)(C1 + C3) − K C1), a2 = R² C2 (C1 + C3).
 */
function twoPoles(v: PartValues, ohm: number): TwoPoles {
  const { C1 = 0, C2, C3 } = v;
  const r = ohm * (1 / v.R7 + (v.R3 === undefined ? 0 : 1 / v.R3));
  return {
    gain: v.R9 === undefined ? 1 : 1 + v.R8 / v.R9,
    a0: 1 + 2 * r,
    a1: ohm * (2 * C2 + (1 + r) * (C1 + C3) - (C1 > 0 ? backGain(v) * C1 : 0)),
    a2: ohm * ohm * C2 * (C1 + C3),
  };
}

/** Where it has fallen to half of its power at DC, Hz: (a0 − a2ω²)² + (a1ω)² = 2 a0², a quadratic in ω². */
function halfPowerHz({ a0, a1, a2 }: TwoPoles): number {
  const b = a1 * a1 - 2 * a0 * a2;
  // Of the two ways to write its root, the one that does not cancel where the poles are far apart.
  const root = Math.sqrt(b * b + 4 * a2 * a2 * a0 * a0);
  const square = b > 0 ? (2 * a0 * a0) / (b + root) : (root - b) / (2 * a2 * a2);
  return Math.sqrt(square) / (2 * Math.PI);
}

/** Level at a frequency, dB. */
function levelDb({ gain, a0, a1, a2 }: TwoPoles, hz: number): number {
  const omega = 2 * Math.PI * hz;
  return 20 * Math.log10(gain / Math.hypot(a0 - a2 * omega * omega, a1 * omega));
}

/** No damping is left at K = 1 + 2 C2/C1 + C3/C1, the bleed aside. */
const singsAtGain = ({ C1, C2, C3 }: PartValues): number => 1 + (2 * C2 + C3) / C1;

/** What the parts make in the filter’s position, C3 and the bleed left out as a hand analysis does. */
function measures(v: PartValues, ohm: number, { q }: Parameters): Parameters {
  const shunt: Parameters = v.R3 === undefined ? {} : { shuntOhm: v.R3 };
  if (v.C1 !== undefined)
    return {
      cellOhm: ohm,
      cutoffHz: 1 / (2 * Math.PI * ohm * Math.sqrt(v.C1 * v.C2)),
      q: Math.sqrt(v.C1 * v.C2) / (2 * v.C2 + v.C1 * (1 - backGain(v))),
      ...shunt,
    };
  // The capacitor that feeds back is switched off: it is (2 Q0)² C2 by the rule.
  return { cellOhm: ohm, cutoffHz: 1 / (2 * Math.PI * ohm * 2 * ownQ(q) * v.C2), q, ...shunt };
}

function build({ input, output, reference, cell, has, node, part, opAmp, element, current }: BuildContext): void {
  const { values, bends } = photocellValues(cell);
  const lampAndCell = optocouplerBent(bends);
  const [first, n1, n2, lamps, between] = [node('first'), node('n1'), node('n2'), node('lamps'), node('between')];
  opAmp('U3', input, node('h'), first);
  part('R8', first, node('h'));
  if (has('R9')) part('R9', node('h'), reference);
  element('D1', lampAndCell, [lamps, between, first, n1, node('light1')], values);
  element('D2', lampAndCell, [between, reference, n1, n2, node('light2')], values);
  current('I1', reference, lamps);
  if (has('C1')) {
    const [foot, g] = [node('foot'), node('g')];
    part('C1', n1, foot);
    part('R5', foot, g);
    part('R6', g, reference);
    opAmp('U2', output, g, foot);
  }
  part('C2', n2, reference);
  if (has('R3')) part('R3', n2, reference);
  part('R7', n2, reference);
  part('C3', n1, reference);
  opAmp('U1', n2, output, output);
}

const resistor = (name: string, role: string, leaveOut: PartSpec['leaveOut']): PartSpec => ({
  name,
  kind: 'resistor',
  role,
  leaveOut,
});
const capacitor = (name: string, role: string): PartSpec => ({ name, kind: 'capacitor', role, leaveOut: 'open' });

function partsOf(form: string): PartSpec[] {
  const { feedback, shunt, doubled } = switchedIn(form);
  return [
    resistor('R8', 'gain of the input', 'short'),
    ...(doubled ? [resistor('R9', 'doubles the gain, since the shunt takes level', 'open')] : []),
    ...(feedback
      ? [
          capacitor('C1', 'brings it back'),
          resistor('R5', 'resonance: how much more than the output comes back', 'short'),
          resistor('R6', 'resonance', 'open'),
        ]
      : []),
    capacitor('C2', 'the larger one, after the second cell'),
    capacitor('C3', 'the small one between the cells, left out of every hand analysis'),
    ...(shunt ? [resistor('R3', 'shunts what the cells let through: closed, it is silent', 'open')] : []),
    resistor('R7', 'bleeds what dark cells would hold', 'open'),
    { ...CONTROL, role: 'lamp current' },
  ];
}

/** The signal’s line; where the cells, and where the output’s follower, begin. */
const LINE = 10.6;
const [CELLS, FOLLOWER] = [12, 19];

function drawing(form: string): Drawing {
  const { feedback, shunt, doubled } = switchedIn(form);
  const [c, f] = [CELLS, FOLLOWER];
  const parts: PlacedPart[] = [
    across('R8', 'resistor', 5, 16.5),
    across('I1', 'current', c + 4, 7.4),
    down('C3', 'capacitor', c + 15, 14.5),
    down('C2', 'capacitor', c + 24.5, 14.5),
    down('R7', 'resistor', f + 28, 14.5, 'right'),
  ];
  const wires: Point[][] = [
    wire(0, 9.1, 2, 9.1),
    wire(8, LINE, c + 7.5, LINE),
    wire(7, 16.5, 9.5, 16.5, 9.5, LINE),
    wire(2, 12.1, 1, 12.1, 1, 16.5, 3, 16.5),
    wire(c + 12.5, LINE, c + 17.5, LINE),
    wire(c + 22.5, LINE, f + 35, LINE),
    wire(c + 1, 7.4, c + 2, 7.4),
    wire(c + 6, 7.4, c + 7.5, 7.4),
    wire(c + 12.5, 7.4, c + 17.5, 7.4),
    wire(c + 22.5, 7.4, c + 24.5, 7.4),
    wire(c + 15, LINE, c + 15, 12.5),
    wire(c + 24.5, LINE, c + 24.5, 12.5),
    wire(f + 28, LINE, f + 28, 12.5),
    wire(f + 35, 13.6, f + 34, 13.6, f + 34, 16.5, f + 41, 16.5, f + 41, 12.1),
  ];
  const dots: Point[] = [
    [9.5, LINE],
    [c + 15, LINE],
    [c + 24.5, LINE],
    [f + 28, LINE],
    [f + 41, 12.1],
  ];
  const grounds: Point[] = [
    [c + 1, 7.4],
    [c + 24.5, 7.4],
    [c + 15, 16.5],
    [c + 24.5, 16.5],
    [f + 28, 16.5],
  ];
  if (doubled) {
    parts.push(down('R9', 'resistor', 1, 20, 'right'));
    wires.push(wire(1, 16.5, 1, 18));
    dots.push([1, 16.5]);
    grounds.push([1, 22]);
  }
  if (feedback) {
    // The second op-amp stands behind the first and drives the capacitor’s far end.
    parts.push(
      across('C1', 'capacitor', c + 20, 2.5),
      across('R5', 'resistor', f + 49, 19),
      down('R6', 'resistor', f + 45, 22.5, 'right'),
    );
    wires.push(
      wire(c + 13.5, LINE, c + 13.5, 2.5, c + 18, 2.5),
      wire(c + 22, 2.5, f + 54, 2.5, f + 54, 19, f + 51, 19),
      wire(f + 41, 12.1, f + 46, 12.1),
      wire(f + 46, 15.1, f + 45, 15.1, f + 45, 20.5),
      wire(f + 45, 19, f + 47, 19),
      wire(f + 52, 13.6, f + 54, 13.6),
      wire(f + 43, 12.1, f + 43, 7, f + 57, 7),
    );
    dots.push([c + 13.5, LINE], [f + 43, 12.1], [f + 45, 19], [f + 54, 13.6]);
    grounds.push([f + 45, 24.5]);
  } else wires.push(wire(f + 41, 12.1, f + 45, 12.1));
  if (shunt) {
    parts.push(down('R3', 'resistor', c + 28, 14.5, 'right'));
    wires.push(wire(c + 28, LINE, c + 28, 12.5));
    dots.push([c + 28, LINE]);
    grounds.push([c + 28, 16.5]);
  }
  return {
    width: f + (feedback ? 58 : 46),
    height: feedback ? 27 : 24,
    parts,
    opAmps: [
      { name: 'U3', at: [5, LINE], plusOnTop: true },
      { name: 'U1', at: [f + 38, 12.1], plusOnTop: true },
      ...(feedback ? [{ name: 'U2', at: [f + 49, 13.6] as Point, plusOnTop: true }] : []),
    ],
    devices: [
      { name: 'D1', symbol: 'optocoupler', at: [c + 10, 9] },
      { name: 'D2', symbol: 'optocoupler', at: [c + 20, 9] },
    ],
    wires,
    dots,
    grounds,
    ports: [
      { label: 'in', at: [0, 9.1], side: 'left' },
      { label: 'out', at: feedback ? [f + 57, 7] : [f + 45, 12.1], side: 'right' },
    ],
    nodes: [{ node: 'lamps', at: [c + 0.2, 4.4], side: 'right' }],
  };
}

/** A wire by its corners, x and y in turn. */
const wire = (...at: readonly number[]): Point[] =>
  Array.from({ length: at.length / 2 }, (_, i): Point => [at[2 * i], at[2 * i + 1]]);

/**
 * What the circuit is without one of its capacitors, against what it is with it: per cent of the half-power frequency.
 */
const movedPct = (v: PartValues, without: string): number =>
  100 * (halfPowerHz(twoPoles(v, v[CELL])) / halfPowerHz(twoPoles({ ...v, [without]: 0 }, v[CELL])) - 1);

export const optocouplerGate = defineNetwork({
  id: 'optocoupler-gate',
  name: 'Optocoupler gate and filter',
  shortName: 'Gate',
  words: ['LED and LDR', 'low-pass gate', 'LPG', 'photocell', 'light-dependent resistor', 'opto', 'VCA', 'pluck'],
  family: 'voltage-controlled',
  modes: [FILTER, GATE, COMBINED, COMPENSATED],
  parameters: PARAMETERS,
  opAmps: (form) => (switchedIn(form).feedback ? 3 : 2),
  outlet: () => ({ kind: 'source', count: 1 }),
  resonance: () => 'R5',
  reason:
    'Two cells lit by one current in a follower’s network: switched as a low-pass with resonance, as a ' +
    'gate, as both in one without resonance, or with everything in, with the cells’ own slow rise and ' +
    'slower fall.',
  cautions: [
    'Cells differ by half from sample to sample, drift with heat, and remember the light they had: choose pairs.',
    'The fall is many times slower than the rise: that is its sound, not a fault.',
    'A lamp bears some tens of milliamperes: put a resistor before it.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. CT-2, 1955',
    'own cell law: a table, straight between its points on logarithms',
  ],
  combines: { whole: COMBINED, of: [FILTER, GATE] },
  neglected: ['C3', 'R7'],
  loop: (form) =>
    switchedIn(form).feedback ? { part: 'C1', drivenBy: 'foot', path: ['n1', 'n2', 'out', 'foot'] } : null,
  parts: partsOf,
  design(wanted, form, context) {
    const { feedback, shunt, doubled } = switchedIn(form);
    const own = ownQ(wanted.q);
    const C2 = context.capacitor('C2', 1 / (2 * Math.PI * wanted.cutoffHz * wanted.cellOhm * 2 * own));
    const C1 = (2 * own) ** 2 * C2;
    const R6 = context.resistor('R6', ROUND_OHM);
    const R8 = context.resistor('R8', ROUND_OHM);
    const parts: PartValues = {
      R8,
      ...(doubled ? { R9: R8 } : {}),
      // 1/Q = 1/Q0 − 2 Q0 (K − 1).
      ...(feedback ? { C1, R5: (R6 * (1 / own - 1 / wanted.q)) / (2 * own), R6 } : {}),
      C2,
      C3: OVER_STRAYS * STRAY_FARAD,
      ...(shunt ? { R3: wanted.shuntOhm } : {}),
      R7: BLEED_OHM,
      I1: lampAmps(context.photocell, 1 / (2 * Math.PI * wanted.cutoffHz * 2 * own * C2)),
    };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form));
    return context.meetParameters(specs, wanted, parts, ['C3', 'R6', 'R7', 'R8', 'R9'], (v) =>
      measures(v, ohmAt(context.photocell, v.I1), wanted),
    );
  },
  celled: true,
  transfer: (_form, v) => {
    const { gain, a0, a1, a2 } = twoPoles(v, v[CELL]);
    return { numerator: [gain], denominator: [a0, a1, a2] };
  },
  measures: (_form, v, parameters) => measures(v, v[CELL], parameters),
  figures: [
    { label: 'lamp current', kind: 'current', of: (_form, v) => v.I1 },
    { label: 'half power, as switched', kind: 'frequency', of: (_form, v) => halfPowerHz(twoPoles(v, v[CELL])) },
    { label: 'C3 moves that', kind: 'percent', of: (_form, v) => movedPct(v, 'C3') },
  ],
  build,
  working: (form, v, parameters) => {
    const { feedback, shunt } = switchedIn(form);
    const poles = twoPoles(v, v[CELL]);
    const filter = measures(v, v[CELL], parameters);
    return [
      { says: 'cell, from its table', tex: 'R = R(I_1)', value: format.ohm(v[CELL]) },
      ...(feedback
        ? [
            {
              says: 'cutoff, as filter',
              tex: 'f = \\frac{1}{2\\pi R\\sqrt{C_1 C_2}}',
              value: format.hertz(filter.cutoffHz),
            },
            {
              says: 'quality, as filter',
              tex: 'Q = \\frac{\\sqrt{C_1 C_2}}{2 C_2 - C_1 R_5/R_6}',
              value: format.ratio(filter.q),
            },
            { says: 'comes back', tex: 'K = 1 + \\frac{R_5}{R_6}', value: format.ratio(backGain(v)) },
            {
              says: 'oscillates, with ideal op-amps, at',
              tex: 'K = 1 + \\frac{2 C_2 + C_3}{C_1}',
              value: `K = ${format.ratio(singsAtGain(v))}, R5 = ${format.ohm(v.R6 * (singsAtGain(v) - 1))}`,
            },
          ]
        : []),
      ...(shunt
        ? [
            {
              says: 'open, with the doubled gain',
              tex: '\\left(1 + \\frac{R_8}{R_9}\\right)\\frac{R_3}{R_3 + 2R}',
              value: `${format.ratio(20 * Math.log10(poles.gain / poles.a0))}\u202fdB`,
            },
          ]
        : []),
      {
        says: 'half power, as switched',
        tex: '(a_0 - a_2\\omega^2)^2 + (a_1\\omega)^2 = 2a_0^2',
        value: format.hertz(halfPowerHz(poles)),
      },
      ...(feedback
        ? []
        : [
            {
              says: 'C2 takes at 1 kHz',
              tex: 'L(C_2) - L(0)',
              value: `${format.ratio(levelDb(poles, 1000) - levelDb(twoPoles({ ...v, C2: 0 }, v[CELL]), 1000))} dB`,
            },
          ]),
    ];
  },
  drawing,
});
