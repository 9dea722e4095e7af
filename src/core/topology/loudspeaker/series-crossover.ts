import { polynomialProduct } from '../../filter/rational';
import { defineNetwork } from '../kit/define-network';
import { across, down, type Drawing } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const FIRST = 'first order';
const SECOND = 'second order';
const PARAMETERS: ParameterSpec[] = [
  { name: 'crossHz', label: 'crossover', kind: 'frequency', min: 10, max: 1e5, initial: 2500 },
  { name: 'q', label: 'Q, of both ways', kind: 'ratio', min: 0.3, max: 3, initial: Math.SQRT1_2, forms: [SECOND] },
  { name: 'ohm', label: 'each driver', kind: 'resistance', min: 0.5, max: 1000, initial: 8 },
];

/**
 * The drivers in a row: a coil across the upper lets the bottom pass it by, a capacitor across the lower the top. With
 * R each: first order 1/(1 + s/ω0) and (s/ω0)/(1 + s/ω0); with a capacitor before the upper and a coil before the
 * lower, D = 1 + 2sL/R + s²LC: low-pass 1/D, high-pass s²LC/D, so ω0² = 1/LC and Q = (R/2) √(C/L). Own derivation from
 * the branch impedances.
 */
function measures(form: string, { L1, C1, L2, C2 }: PartValues, { ohm }: Parameters): Parameters {
  if (form === FIRST) return { crossHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C1)), ohm: Math.sqrt(L1 / C1) };
  // Equal coils and equal capacitors: either pair says the same.
  return { crossHz: 1 / (2 * Math.PI * Math.sqrt(L1 * C2)), q: (ohm / 2) * Math.sqrt(C1 / L2), ohm };
}

const plus = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: Math.max(a.length, b.length) }, (_, i) => (a[i] ?? 0) + (b[i] ?? 0));

/**
 * The lower driver's voltage over what comes in, both drivers a resistor R: Zw/(Zt + Zw), and what the coil before it
 * leaves.
 */
function transfer(
  form: string,
  { L1, C1, L2, C2 }: PartValues,
  R: number,
): { numerator: number[]; denominator: number[] } {
  if (form === FIRST) return { numerator: [R, L1], denominator: [R, 2 * L1, L1 * R * C1] };
  const upper = [1, R * C2, L1 * C2];
  return {
    numerator: upper.map((v) => v * R),
    denominator: plus(
      polynomialProduct(polynomialProduct([0, L1], [1, R * C2]), [1, R * C1, L2 * C1]),
      polynomialProduct([R, L2], upper),
    ),
  };
}

function drawing(form: string): Drawing {
  const second = form === SECOND;
  const y = 4;
  return {
    width: 38,
    height: y + 15,
    parts: [
      across('L1', 'inductor', 12, y + 6),
      down('C1', 'capacitor', 24, y + 10, 'left'),
      ...(second ? [across('C2', 'capacitor', 6, y), across('L2', 'inductor', 29, y)] : []),
    ],
    opAmps: [],
    wires: [
      [
        [0, y],
        [second ? 4 : 14, y],
      ],
      [
        [18, y],
        [second ? 27 : 36, y],
      ],
      [
        [2, y],
        [2, y + 6],
        [10, y + 6],
      ],
      [
        [14, y + 6],
        [24, y + 6],
        [24, y],
      ],
      [
        [24, y + 6],
        [24, y + 8],
      ],
      ...(second
        ? [
            [
              [8, y],
              [14, y],
            ] as const,
            [
              [31, y],
              [36, y],
            ] as const,
          ]
        : []),
    ],
    dots: [
      [2, y],
      [24, y],
      [24, y + 6],
    ],
    grounds: [[24, y + 12]],
    ports: [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'high +', at: [14, y], side: 'right' },
      { label: 'high −', at: [18, y], side: 'left' },
      { label: 'out', at: [36, y], side: 'right' },
    ],
  };
}

export const seriesCrossover = defineNetwork({
  id: 'series-crossover',
  name: 'Series crossover',
  shortName: 'Series',
  words: ['series network', 'two-way', 'passive crossover', 'quasi second order'],
  family: 'loudspeaker',
  modes: [FIRST, SECOND],
  outputs: ['out', 'high'],
  parameters: PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'The drivers in a row, each with a part across it that lets pass what the other is to have. In first ' +
    'order the two always add up to what comes in, whatever the parts are.',
  cautions: [
    'Each driver’s impedance moves the other’s slope: correct both.',
    'Neither driver may be taken away while it plays.',
    'The upper driver hangs between two live nodes: neither of its terminals is ground.',
  ],
  sources: ['R. H. Small, Constant-Voltage Crossover Network Design, J. AES 19, 1971', 'own derivation of both orders'],
  parts: (form) => [
    { name: 'L1', kind: 'inductor', role: 'across the upper driver', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'across the lower driver', leaveOut: 'open' },
    ...(form === SECOND
      ? [
          { name: 'C2', kind: 'capacitor' as const, role: 'in line with the upper driver', leaveOut: 'short' as const },
          { name: 'L2', kind: 'inductor' as const, role: 'in line with the lower driver', leaveOut: 'short' as const },
        ]
      : []),
  ],
  hanging: (form) => ({ high: { plus: form === SECOND ? 'tweeter' : 'in', minus: 'middle' } }),
  design(wanted, form, context) {
    const omega = 2 * Math.PI * wanted.crossHz;
    const L = form === FIRST ? wanted.ohm / omega : wanted.ohm / (2 * wanted.q * omega);
    const C = 1 / (omega ** 2 * L);
    const parts: PartValues = form === FIRST ? { L1: L, C1: C } : { L1: L, C1: C, C2: C, L2: L };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form) && (form === FIRST || p.name !== 'ohm'));
    return context.meetParameters(specs, wanted, parts, [], (values) => measures(form, values, wanted));
  },
  measures,
  transfer: (form, parts, { ohm }) => transfer(form, parts, ohm),
  build({ form, input, output, ground, node, part, wire }) {
    const middle = node('middle');
    part('L1', input, middle);
    part('C1', middle, ground);
    if (form === SECOND) {
      part('C2', input, node('tweeter'));
      part('L2', middle, output);
    } else wire(middle, output);
  },
  working: (form, v, wanted) => [
    {
      says: 'crossover',
      tex: form === FIRST ? 'f = \\frac{1}{2\\pi\\sqrt{L_1 C_1}}' : 'f = \\frac{1}{2\\pi\\sqrt{L_1 C_2}}',
      value: format.hertz(measures(form, v, wanted).crossHz),
    },
    ...(form === SECOND
      ? [
          {
            says: 'quality of both ways',
            tex: 'Q = \\frac{R}{2}\\sqrt{\\frac{C_1}{L_2}}',
            value: format.ratio(measures(form, v, wanted).q),
          },
        ]
      : [{ says: 'drivers wanted', tex: 'R = \\sqrt{L_1/C_1}', value: format.ohm(measures(form, v, wanted).ohm) }]),
  ],
  drawing,
});
