import type { Rational } from '../../filter/rational';
import { polynomialRoots } from '../../math/roots';
import { solvePositive } from '../../math/newton';
import { failure } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { PartSpec } from '../kit/define-topology';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down, type Drawing } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartKind, PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'poleHz', label: 'real pole', kind: 'frequency', min: 1e-1, max: 1e7, initial: 1000 },
  { name: 'pairHz', label: 'pair', kind: 'frequency', min: 1e-1, max: 1e7, initial: 1000 },
  { name: 'q', label: 'Q of the pair', kind: 'ratio', min: 0.55, max: 3, initial: 1 },
];
const low = (form: string): boolean => form === 'low-pass';

/**
 * 1/H = 1 + a x + b x² + c x³ with x = s for the low-pass; a = (R1 + R2 + R3)C3 + R1 C1, b = (R1 + R2)R3 C2 C3 + R1 (R2
 * + R3)C1 C3, c = R1 R2 R3 C1 C2 C3, from the node equations. The high-pass is the same with every resistor and
 * elastance exchanged and x = 1/s.
 */
function cubic(form: string, v: PartValues): number[] {
  const [R1, R2, R3, C1, C2, C3] = low(form)
    ? [v.R1, v.R2, v.R3, v.C1, v.C2, v.C3]
    : [1 / v.C1, 1 / v.C2, 1 / v.C3, 1 / v.R1, 1 / v.R2, 1 / v.R3];
  return [
    1,
    (R1 + R2 + R3) * C3 + R1 * C1,
    (R1 + R2) * R3 * C2 * C3 + R1 * (R2 + R3) * C1 * C3,
    R1 * R2 * R3 * C1 * C2 * C3,
  ];
}

function measures(form: string, v: PartValues): Parameters {
  const polynomial = cubic(form, v);
  const unit = polynomial[3] ** (-1 / 3);
  const roots = polynomialRoots(polynomial.map((c, i) => c * unit ** i)).sort(
    (a, b) => Math.abs(a.im) - Math.abs(b.im),
  );
  const real = -roots[0].re;
  // What is left of the cubic without its real root: x² + m x + n.
  const [m, n] = [polynomial[2] / polynomial[3] / unit - real, polynomial[0] / (polynomial[3] * unit ** 3) / real];
  const size = Math.sqrt(n);
  const hz = (x: number) => (low(form) ? (x * unit) / (2 * Math.PI) : 1 / (x * unit * 2 * Math.PI));
  return { poleHz: hz(real), pairHz: hz(size), q: size / m };
}

/** With equal in-line parts of one (R or 1/C), the three others (C or 1/R), at a pair frequency of one. */
function shunts({ poleHz, pairHz, q }: Parameters, form: string): number[] | null {
  const sigma = low(form) ? poleHz / pairHz : pairHz / poleHz;
  const wanted = [1 / sigma + 1 / q, 1 / (sigma * q) + 1, 1 / sigma];
  const solved = solvePositive(
    ([c1, c2, c3]) => [
      (3 * c3 + c1) / wanted[0] - 1,
      (2 * c2 * c3 + 2 * c1 * c3) / wanted[1] - 1,
      (c1 * c2 * c3) / wanted[2] - 1,
    ],
    [1.4, 3.5 * q * q, 0.2 / q],
  );
  return solved.ok ? solved.value : null;
}

const letters = (form: string) => (low(form) ? (['R', 'C'] as const) : (['C', 'R'] as const));
const kinds = (form: string): [PartKind, PartKind] =>
  low(form) ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];

function drawing(form: string): Drawing {
  const [s, p] = letters(form);
  const [a, b] = kinds(form);
  return {
    width: 42,
    height: 17,
    parts: [
      across(`${s}1`, a, 4, 8),
      across(`${s}2`, a, 12, 8),
      across(`${s}3`, a, 20, 8),
      down(`${p}1`, b, 8, 12.5),
      across(`${p}2`, b, 26, 3),
      down(`${p}3`, b, 24, 12.5),
    ],
    opAmps: [{ name: 'U1', at: [30, 9.5], plusOnTop: true }],
    wires: [
      [
        [0, 8],
        [2, 8],
      ],
      [
        [6, 8],
        [10, 8],
      ],
      [
        [14, 8],
        [18, 8],
      ],
      [
        [22, 8],
        [27, 8],
      ],
      [
        [8, 8],
        [8, 10.5],
      ],
      [
        [16, 8],
        [16, 3],
        [24, 3],
      ],
      [
        [28, 3],
        [37, 3],
        [37, 9.5],
      ],
      [
        [24, 8],
        [24, 10.5],
      ],
      [
        [33, 9.5],
        [40, 9.5],
      ],
      [
        [27, 11],
        [26, 11],
        [26, 14],
        [37, 14],
        [37, 9.5],
      ],
    ],
    dots: [
      [8, 8],
      [16, 8],
      [24, 8],
      [37, 9.5],
    ],
    grounds: [
      [8, 14.5],
      [24, 14.5],
    ],
    ports: [
      { label: 'in', at: [0, 8], side: 'left' },
      { label: 'out', at: [40, 9.5], side: 'right' },
    ],
  };
}

export const sallenKeyThirdOrder = defineNetwork({
  id: 'sallen-key-third-order',
  name: 'Third-order Sallen-Key, one op-amp',
  shortName: 'Sallen-Key, 3rd',
  words: ['three poles', '18 dB/oct', 'third order', 'one op-amp', 'Geffe'],
  family: 'op-amp',
  modes: ['low-pass', 'high-pass'],
  parameters: PARAMETERS,
  opAmps: () => 1,
  reason: 'A real pole and a pair from one op-amp: third order for one part more than second.',
  cautions: [
    'Every part moves every pole: tune it as a whole, and use close parts.',
    'The op-amp must be stable at unity gain.',
  ],
  sources: [
    'R. S. Aikens, W. J. Kerwin, Single Amplifier, Minimal RC, Butterworth, Thomson and Chebyshev ' +
      'Filters to Sixth Order, Proc. Int. Filter Symposium, 1972',
  ],
  parts: (form): PartSpec[] => {
    const [s, p] = letters(form);
    const [a, b] = kinds(form);
    return [
      { name: `${s}1`, kind: a, role: 'in line', leaveOut: 'short' },
      { name: `${s}2`, kind: a, role: 'in line', leaveOut: 'short' },
      { name: `${s}3`, kind: a, role: 'in line, to the op-amp', leaveOut: 'short' },
      { name: `${p}1`, kind: b, role: 'to ground', leaveOut: 'open' },
      { name: `${p}2`, kind: b, role: 'fed back from the output', leaveOut: 'open' },
      { name: `${p}3`, kind: b, role: 'to ground', leaveOut: 'open' },
    ];
  },
  design(wanted, form, context) {
    const found = shunts(wanted, form);
    if (!found) return failure('q-too-high', { q: wanted.q, highest: 3 });
    const [s, p] = letters(form);
    const omega = 2 * Math.PI * wanted.pairHz;
    // In-line parts of one value: resistors, or capacitors.
    const level = low(form)
      ? context.resistor('R1', LEVEL_OHM)
      : 1 / context.capacitor('C1', context.capacitorLevel(wanted.pairHz));
    const inLine = (x: number) => (low(form) ? x : 1 / x);
    const parts: Record<string, number> = {};
    [1, 2, 3].forEach((k) => (parts[`${s}${k}`] = inLine(level)));
    // At 1/s the pair stands at 1/ω0: elastance over resistance times x is ω0 times one.
    found.forEach((x, i) => (parts[`${p}${i + 1}`] = low(form) ? x / (omega * level) : level / (omega * x)));
    return context.meetParameters(PARAMETERS, wanted, parts, [`${s}1`, `${s}2`, `${s}3`], (v) => measures(form, v));
  },
  measures,
  transfer: (form, v): Rational =>
    low(form)
      ? { numerator: [1], denominator: cubic(form, v) }
      : { numerator: [0, 0, 0, 1], denominator: [...cubic(form, v)].reverse() },
  build({ form, input, output, reference, ground, node, part, opAmp }) {
    const [s, p] = letters(form);
    const foot = low(form) ? ground : reference;
    const [a, b, c] = [node('a'), node('b'), node('c')];
    part(`${s}1`, input, a);
    part(`${s}2`, a, b);
    part(`${s}3`, b, c);
    part(`${p}1`, a, foot);
    part(`${p}2`, b, output);
    part(`${p}3`, c, foot);
    opAmp('U1', c, output, output);
  },
  working: (form, v) => [
    {
      says: 'cube',
      tex: low(form)
        ? 'c = R_1 R_2 R_3 C_1 C_2 C_3 = \\frac{1}{\\omega_p\\,\\omega_0^2}'
        : '\\frac1c = R_1 R_2 R_3 C_1 C_2 C_3',
      value: format.hertz(Math.cbrt(measures(form, v).poleHz * measures(form, v).pairHz ** 2)),
    },
    {
      says: 'pair',
      tex: '\\omega_0',
      value: `${format.hertz(measures(form, v).pairHz)}, Q ${format.ratio(measures(form, v).q)}`,
    },
  ],
  drawing,
});
