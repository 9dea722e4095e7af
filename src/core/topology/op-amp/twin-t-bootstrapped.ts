import { defineSection } from '../kit/define-section';
import { failure, success } from '../../result';
import { polynomialRoots } from '../../math/roots';
import { nullRatio } from '../../filter/section';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { notchOf, transferOf } from '../network/twin-t';
import { format } from '../kit/working';

/** Share of the output that the legs are lifted by. */
const lift = ({ Ra, Rb }: PartValues): number => Rb / (Ra + Rb);

/**
 * The T's own N/D, its legs lifted by k times the output: what reaches the output from the legs is 1 − N/D, so H =
 * N/((1 − k)D + kN). Matched, Q = 1/(4(1 − k)). The third pole cancels the numerator's real root, exactly so when the
 * Ts match: what is left of the denominator without it is the section's.
 */
function closedForm(v: PartValues): ClosedForm {
  const { numerator, denominator } = transferOf(v);
  const k = lift(v);
  const unit = 1 / (v.R1 * v.C1);
  const scaled = (polynomial: readonly number[]) => polynomial.map((c, i) => c * unit ** i);
  const [top, bottom] = [scaled(numerator), scaled(denominator.map((c, i) => (1 - k) * c + k * (numerator[i] ?? 0)))];
  const cancelled = polynomialRoots(top).reduce((best, root) =>
    Math.abs(root.im) < Math.abs(best.im) ? root : best,
  ).re;
  // Division by (s − root), from the top.
  const square = bottom[3];
  const middle = bottom[2] + cancelled * square;
  const constant = bottom[1] + cancelled * middle;
  const omega = Math.sqrt(constant / square);
  return { freqHz: (omega * unit) / (2 * Math.PI), q: (omega * square) / middle, gain: 1, zeroHz: notchOf(v) };
}

/**
 * The T alone has a Q of a quarter; under a half, the third pole, which cancels, would stand between the two that
 * count.
 */
const LOWEST_Q = 0.5;

export const twinTBootstrapped = defineSection({
  id: 'twin-t-bootstrapped',
  name: 'Twin-T, bootstrapped',
  shortName: 'Twin-T, lifted',
  words: ['active twin-T', 'notch', 'hum notch', '50 Hz', '60 Hz', 'mains hum', 'narrow notch', 'Q of a twin-T'],
  family: 'op-amp',
  responses: ['notch'],
  order: 2,
  opAmps: () => 2,
  polarity: 1,
  reason: 'The twin-T made as sharp as wanted by lifting its legs; the null’s depth is all matching.',
  cautions: [
    'Sharper makes it shallower for the same parts: draw the spread, and make R3 adjustable for depth.',
    'Take two equal parts in parallel for C3 and for R3: equal parts match better than marked doubles.',
  ],
  sources: [
    'A. Wolf, Note on a Parallel-T Resistance-Capacitance Network, Proc. IRE 34, 1946',
    'R. Schaumann, H. Xiao, M. Van Valkenburg, Design of Analog Filters, 2nd ed., 5.3',
  ],
  gainRange: () => ({ min: 1, natural: 1, max: 1 }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'first T, in line', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'first T, in line', leaveOut: 'open' },
    { name: 'C3', kind: 'capacitor', role: 'first T’s leg: 2C', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'second T, in line', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'second T, in line', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'second T’s leg: R/2', leaveOut: 'open' },
    { name: 'Ra', kind: 'resistor', role: 'lift, from the output: sets Q', leaveOut: 'short' },
    { name: 'Rb', kind: 'resistor', role: 'lift, to ground', leaveOut: 'open' },
  ],
  design(target, context) {
    if (Math.abs(nullRatio(target) - 1) > 1e-9) return failure('null-apart', { ratio: nullRatio(target) });
    if (target.q < LOWEST_Q) return failure('q-too-low', { q: target.q, lowest: LOWEST_Q });
    const omega = 2 * Math.PI * target.freqHz;
    // A pinned part sets the scale of all, in ratio, so that the null stays a null.
    const shares = { C1: 1, C2: 1, C3: 2, R1: 1, R2: 1, R3: 0.5 } as const;
    const pins = (Object.keys(shares) as (keyof typeof shares)[]).filter((name) => context.pinned(name) !== undefined);
    if (pins.length > 1) return failure('over-pinned', { pinned: pins });
    const fromPin = pins.map((name) => (context.pinned(name) as number) / shares[name])[0];
    const c =
      fromPin === undefined
        ? context.capacitorsFirst
          ? context.capacitor('C1', context.capacitorLevel(target.freqHz))
          : 1 / (omega * context.resistor('R1', LEVEL_OHM))
        : pins[0].startsWith('C')
          ? fromPin
          : 1 / (omega * fromPin);
    const r = 1 / (omega * c);
    const away = 1 / (4 * target.q);
    const parts: Record<string, number> = { R1: r, R2: r, C3: 2 * c, C1: c, C2: c, R3: r / 2, Ra: 0, Rb: 0 };
    parts.Rb =
      context.pinned('Ra') === undefined || context.pinned('Rb') !== undefined
        ? context.resistor('Rb', LEVEL_OHM)
        : (context.pinned('Ra') as number) * (1 / away - 1);
    parts.Ra = parts.Rb / (1 / away - 1);
    const pinnedRa = context.pinned('Ra');
    if (pinnedRa !== undefined && Math.abs(pinnedRa / parts.Ra - 1) > 1e-9)
      return failure('over-pinned', { pinned: ['Ra', 'Rb'] });
    return success(parts);
  },
  closedForm: (_response, parts) => closedForm(parts),
  build({ input, output, reference, node, part, opAmp }) {
    const [a, b, p, k, legs] = [node('a'), node('b'), node('p'), node('k'), node('legs')];
    part('R1', input, a);
    part('R2', a, p);
    part('C3', a, legs);
    part('C1', input, b);
    part('C2', b, p);
    part('R3', b, legs);
    opAmp('U1', p, output, output);
    part('Ra', output, k);
    part('Rb', k, reference);
    opAmp('U2', k, legs, legs);
  },
  working(_target, v) {
    const got = closedForm(v);
    return [
      { says: 'null', tex: 'f_0 = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(got.zeroHz ?? 0) },
      { says: 'doubles and halves', tex: 'C_3 = 2\\,C_1,\\quad R_3 = \\tfrac12 R_1', value: format.farad(v.C3) },
      {
        says: 'lift',
        tex: 'k = \\frac{R_b}{R_a + R_b},\\quad Q = \\frac{1}{4(1-k)}',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
    ];
  },
  drawing: () => ({
    width: 44,
    height: 30,
    parts: [
      across('R1', 'resistor', 9, 4),
      across('R2', 'resistor', 20, 4),
      down('C3', 'capacitor', 14.5, 8.5),
      across('C1', 'capacitor', 9, 22),
      across('C2', 'capacitor', 20, 22),
      down('R3', 'resistor', 14.5, 17.5),
      down('Ra', 'resistor', 38, 16.5, 'right'),
      down('Rb', 'resistor', 38, 22.5, 'right'),
    ],
    opAmps: [
      { name: 'U1', at: [31, 11.5], plusOnTop: true },
      { name: 'U2', at: [28, 21], plusOnTop: false },
    ],
    wires: [
      [
        [0, 13],
        [4, 13],
      ],
      [
        [4, 13],
        [4, 4],
        [7, 4],
      ],
      [
        [4, 13],
        [4, 22],
        [7, 22],
      ],
      [
        [11, 4],
        [18, 4],
      ],
      [
        [11, 22],
        [18, 22],
      ],
      [
        [22, 4],
        [25, 4],
        [25, 10],
      ],
      [
        [22, 22],
        [23, 22],
        [23, 10],
        [25, 10],
      ],
      [
        [25, 10],
        [28, 10],
      ],
      [
        [14.5, 4],
        [14.5, 6.5],
      ],
      [
        [14.5, 10.5],
        [14.5, 15.5],
      ],
      [
        [14.5, 19.5],
        [14.5, 22],
      ],
      [
        [28, 13],
        [27, 13],
        [27, 15.5],
        [35, 15.5],
        [35, 11.5],
      ],
      [
        [34, 11.5],
        [41, 11.5],
      ],
      [
        [38, 11.5],
        [38, 14.5],
      ],
      [
        [38, 18.5],
        [38, 20.5],
      ],
      [
        [14.5, 13],
        [20, 13],
        [20, 17],
        [31.5, 17],
        [31.5, 21],
        [31, 21],
      ],
      [
        [25, 19.5],
        [24, 19.5],
        [24, 17],
      ],
      [
        [25, 22.5],
        [24, 22.5],
        [24, 27],
        [35, 27],
        [35, 19.5],
        [38, 19.5],
      ],
    ],
    dots: [
      [4, 13],
      [23, 10],
      [25, 10],
      [14.5, 4],
      [14.5, 22],
      [14.5, 13],
      [35, 11.5],
      [38, 11.5],
      [38, 19.5],
      [24, 17],
    ],
    grounds: [[38, 24.5]],
    ports: [
      { label: 'in', at: [0, 13], side: 'left' },
      { label: 'out', at: [41, 11.5], side: 'right' },
    ],
  }),
});
