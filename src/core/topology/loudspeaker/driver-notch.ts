import { fromDecibels, decibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, stacked } from '../kit/ladder';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ACROSS = 'across the driver';
const IN_LINE = 'in line';
const PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'centre', kind: 'frequency', min: 5, max: 1e5, initial: 1200 },
  { name: 'widthOct', label: 'width, octaves', kind: 'ratio', min: 0.05, max: 6, initial: 0.9 },
  { name: 'depthDb', label: 'depth', kind: 'decibel', min: 0.2, max: 40, initial: 4 },
  { name: 'ohm', label: 'works against', kind: 'resistance', min: 0.1, max: 1e4, initial: 8 },
];

/**
 * Octaves between the places where half of the decibels are gone: there q |f/f0 − f0/f| = √K, of a depth K and a
 * resonance q.
 */
const widthOf = (q: number, depth: number): number => (2 / Math.LN2) * Math.asinh(Math.sqrt(depth) / (2 * q));
const qualityFor = (widthOct: number, depth: number): number =>
  Math.sqrt(depth) / (2 * Math.sinh((widthOct * Math.LN2) / 2));

/**
 * In line, H = (1 + jqu)/(K + jqu) with K = 1 + R/Z and q = R √(C/L); across it the same with K = 1 + Z/R and q =
 * √(L/C)/R, by duality.
 */
function measures(form: string, { R1, L1, C1 }: PartValues, { ohm }: Parameters): Parameters {
  const depth = form === IN_LINE ? 1 + R1 / ohm : 1 + ohm / R1;
  const q = form === IN_LINE ? R1 * Math.sqrt(C1 / L1) : Math.sqrt(L1 / C1) / R1;
  return {
    centreHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C1)),
    widthOct: widthOf(q, depth),
    depthDb: decibels(depth),
    ohm,
  };
}

export const driverNotch = defineNetwork({
  id: 'driver-notch',
  name: 'Notch for a driver’s hump',
  shortName: 'Notch',
  words: ['hump', 'peak', 'breakup', 'trap', 'notch', 'parallel trap', 'series trap', 'contour'],
  family: 'loudspeaker',
  modes: [ACROSS, IN_LINE],
  parameters: PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'Coil and capacitor say where, their ratio how broad, the resistor how deep. Across the driver ' +
    '(series L-C-R) it lowers the load there; in line (parallel L-C-R) it raises it.',
  cautions: [
    'Across the driver it works against what lies before it: from a stiff source it takes nothing down ' +
      'and only loads the amplifier.',
    'In line it works against the driver’s own impedance at that frequency, not against what is printed on it.',
    'A hump of the cone or cabinet cured where it comes from costs nothing in parts.',
  ],
  sources: [
    'E. A. Guillemin, Introductory Circuit Theory, 1953, ch. 6: duality',
    'own derivation: half the decibels at q |f/f0 − f0/f| = √K',
  ],
  parts: (form) =>
    form === IN_LINE
      ? [
          { name: 'L1', kind: 'inductor', role: 'in line: where and how broad', leaveOut: 'open' },
          { name: 'C1', kind: 'capacitor', role: 'in line: where and how broad', leaveOut: 'open' },
          { name: 'R1', kind: 'resistor', role: 'in line: how deep', leaveOut: 'open' },
        ]
      : [
          { name: 'L1', kind: 'inductor', role: 'across: where and how broad', leaveOut: 'short' },
          { name: 'C1', kind: 'capacitor', role: 'across: where and how broad', leaveOut: 'short' },
          { name: 'R1', kind: 'resistor', role: 'across: how deep', leaveOut: 'short' },
        ],
  design(wanted, form, context) {
    const omega = 2 * Math.PI * wanted.centreHz;
    const depth = fromDecibels(wanted.depthDb);
    const q = qualityFor(wanted.widthOct, depth);
    const R1 = form === IN_LINE ? wanted.ohm * (depth - 1) : wanted.ohm / (depth - 1);
    const Z = form === IN_LINE ? R1 / q : R1 * q;
    const specs = PARAMETERS.filter((p) => p.name !== 'ohm');
    return context.meetParameters(specs, wanted, { L1: Z / omega, C1: 1 / (Z * omega), R1 }, [], (parts) =>
      measures(form, parts, wanted),
    );
  },
  measures,
  transfer: (form, { R1, L1, C1 }, { ohm }) => {
    if (form !== IN_LINE) return { numerator: [1], denominator: [1] };
    const top = [R1, L1, R1 * L1 * C1];
    return { numerator: top.map((v) => v * ohm), denominator: [ohm * top[0], ohm * top[1] + L1 * R1, ohm * top[2]] };
  },
  arms: (form) => armsOf(form),
  build: (context) => buildLadder(context, armsOf(context.form)),
  working(form, parts, wanted) {
    const got = measures(form, parts, wanted);
    return [
      { says: 'where', tex: 'f_0 = \\frac{1}{2\\pi\\sqrt{L_1 C_1}}', value: format.hertz(got.centreHz) },
      form === IN_LINE
        ? { says: 'how deep', tex: 'K = 1 + \\frac{R_1}{Z}', value: `${format.ratio(got.depthDb)}\u202fdB` }
        : { says: 'how deep', tex: 'K = 1 + \\frac{Z}{R_1}', value: `${format.ratio(got.depthDb)}\u202fdB` },
      {
        says: 'how broad, at half the decibels',
        tex:
          `w = \\frac{2}{\\ln 2}\\,\\mathrm{arsinh}\\frac{\\sqrt K}{2q},\\ q = ` +
          `${form === IN_LINE ? 'R_1\\sqrt{C_1/L_1}' : '\\frac{1}{R_1}\\sqrt{L_1/C_1}'}`,
        value: `${format.ratio(got.widthOct)} oct`,
      },
    ];
  },
  drawing: (form) => drawLadder(armsOf(form)),
});

const armsOf = (form: string) => (form === IN_LINE ? [inLine('L1', 'C1', 'R1')] : [stacked('L1', 'C1', 'R1')]);
