import { polynomialProduct, rationalAt, type Rational } from '../../filter/rational';
import { complex, magnitude } from '../../math/complex';
import { polynomialRoots } from '../../math/roots';
import { decibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { across, down } from '../kit/drawing';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'notchHz', label: 'notch', kind: 'frequency', min: 1e-3, max: 1e8, initial: 50 },
];

/**
 * From the node equations at the middles of the two Ts and at the output. With Da = R1 + R2 + s C3 R1 R2 and Db = 1 + s
 * R3 (C1 + C2): H = (R2 Db + s² R2 R3 C1 C2 Da) / ((1 + s R2 C2) Da Db − R1 Db − s² R2 R3 C2² Da).
 */
export function transferOf({ R1, R2, R3, C1, C2, C3 }: PartValues): Rational {
  const da = [R1 + R2, C3 * R1 * R2];
  const db = [1, R3 * (C1 + C2)];
  const sum = (...polynomials: readonly (readonly number[])[]) =>
    Array.from({ length: 4 }, (_, i) => polynomials.reduce((total, p) => total + (p[i] ?? 0), 0));
  const squared = (factor: number) => polynomialProduct([0, 0, factor], da);
  return {
    numerator: sum(
      db.map((c) => R2 * c),
      squared(R2 * R3 * C1 * C2),
    ),
    denominator: sum(
      polynomialProduct([1, R2 * C2], polynomialProduct(da, db)),
      db.map((c) => -R1 * c),
      squared(-R2 * R3 * C2 * C2),
    ),
  };
}

/** The size of the numerator's pair of roots nearest the frequency axis. */
export function notchOf(parts: PartValues): number {
  const { numerator } = transferOf(parts);
  const unit = 1 / (parts.R1 * parts.C1);
  const roots = polynomialRoots(numerator.map((c, i) => c * unit ** i));
  const nearest = roots.filter((r) => r.im > 0).sort((a, b) => Math.abs(a.re) - Math.abs(b.re))[0] ?? complex(1);
  return (magnitude(nearest) * unit) / (2 * Math.PI);
}

const depthDb = (parts: PartValues): number => decibels(magnitude(rationalAt(transferOf(parts), notchOf(parts))));

export const twinT = defineNetwork({
  id: 'twin-t',
  name: 'Twin-T notch',
  shortName: 'Twin-T',
  words: ['notch', 'hum notch', '50 Hz', '60 Hz', 'mains hum', 'passive notch', 'null', 'parallel T', 'band-stop'],
  family: 'rc',
  parameters: PARAMETERS,
  reason: 'A null from R and C alone: two Ts whose outputs cancel at one frequency.',
  cautions: [
    'The depth is all matching: one per cent parts leave about 40 dB, five per cent about 26. Draw the ' +
      'spread before trusting the notch.',
    'Make R3 adjustable for the depth, and take two equal parts in parallel for 2C and for R/2: equal ' +
      'parts match better than marked doubles.',
    'It is broad (Q one quarter) and wants a low source and a high load.',
  ],
  sources: ['A. Wolf, Note on a Parallel-T Resistance-Capacitance Network, Proc. IRE 34, 1946'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'first T, in line', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'first T, in line', leaveOut: 'open' },
    { name: 'C3', kind: 'capacitor', role: 'first T, to ground: 2C', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'second T, in line', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'second T, in line', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'second T, to ground: R/2', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const C = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(wanted.notchHz))
      : 1 / (2 * Math.PI * wanted.notchHz * context.resistor('R1', 10e3));
    const R = 1 / (2 * Math.PI * wanted.notchHz * C);
    // A pinned part sets the scale of its kind and the rest follows in ratio, so that the null stays a null.
    const scale = { R: 1, C: 1 };
    for (const [name, share] of [
      ['C1', 1],
      ['C2', 1],
      ['C3', 2],
    ] as const)
      if (context.pinned(name) !== undefined) scale.C = (context.pinned(name) as number) / (share * C);
    scale.R = 1 / scale.C;
    for (const [name, share] of [
      ['R1', 1],
      ['R2', 1],
      ['R3', 0.5],
    ] as const)
      if (context.pinned(name) !== undefined) scale.R = (context.pinned(name) as number) / (share * R);
    if (![...['C1', 'C2', 'C3']].some((name) => context.pinned(name) !== undefined)) scale.C = 1 / scale.R;
    const [r, c] = [R * scale.R, C * scale.C];
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1: r, R2: r, C3: 2 * c, C1: c, C2: c, R3: r / 2 },
      context.capacitorsFirst ? ['C1', 'C2', 'C3'] : ['R1', 'R2', 'R3'],
      (parts) => ({ notchHz: notchOf(parts) }),
    );
  },
  measures: (_form, parts) => ({ notchHz: notchOf(parts) }),
  figures: [{ label: 'depth', kind: 'decibel', of: (_form, parts) => Math.max(-140, depthDb(parts)) }],
  transfer: (_form, parts) => transferOf(parts),
  build({ input, output, reference, node, part }) {
    const [a, b] = [node('a'), node('b')];
    part('R1', input, a);
    part('R2', a, output);
    part('C3', a, reference);
    part('C1', input, b);
    part('C2', b, output);
    part('R3', b, reference);
  },
  working: (_form, parts) => [
    { says: 'notch', tex: 'f_0 = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(notchOf(parts)) },
    { says: 'first T', tex: 'R_1 = R_2,\\quad C_3 = 2\\,C_1', value: format.farad(parts.C3) },
    { says: 'second T', tex: 'C_1 = C_2,\\quad R_3 = \\tfrac12 R_1', value: format.ohm(parts.R3) },
  ],
  drawing: () => ({
    width: 32,
    height: 26,
    parts: [
      across('R1', 'resistor', 9, 4),
      across('R2', 'resistor', 20, 4),
      down('C3', 'capacitor', 14.5, 8.5),
      across('C1', 'capacitor', 9, 16),
      across('C2', 'capacitor', 20, 16),
      down('R3', 'resistor', 14.5, 20.5),
    ],
    opAmps: [],
    wires: [
      [
        [0, 10],
        [4, 10],
      ],
      [
        [4, 10],
        [4, 4],
        [7, 4],
      ],
      [
        [4, 10],
        [4, 16],
        [7, 16],
      ],
      [
        [11, 4],
        [18, 4],
      ],
      [
        [11, 16],
        [18, 16],
      ],
      [
        [22, 4],
        [25, 4],
        [25, 10],
      ],
      [
        [22, 16],
        [25, 16],
        [25, 10],
      ],
      [
        [25, 10],
        [29, 10],
      ],
      [
        [14.5, 4],
        [14.5, 6.5],
      ],
      [
        [14.5, 16],
        [14.5, 18.5],
      ],
    ],
    dots: [
      [4, 10],
      [25, 10],
      [14.5, 4],
      [14.5, 16],
    ],
    grounds: [
      [14.5, 10.5],
      [14.5, 22.5],
    ],
    ports: [
      { label: 'in', at: [0, 10], side: 'left' },
      { label: 'out', at: [29, 10], side: 'right' },
    ],
  }),
});
