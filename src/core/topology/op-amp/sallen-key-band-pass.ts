import { defineSection } from '../kit/define-section';
import { failure } from '../../result';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down, type Point } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { amplifierGain } from './sallen-key-network';
import { format } from '../kit/working';

/**
 * With G the conductance at the first node (R1, its leg, R3) and K = 1 + Rb/Ra: ω0² = G/(R2 C1 C2),
 * ω0/Q = [G + C2/(C1 R2) + 1/R2 − K/R3]/C2, gain at the centre K/(R1 C2 ω0/Q). From the node equations.
 */
function closedForm(v: PartValues): ClosedForm {
  const conductance = 1 / v.R1 + (v.R1b === undefined ? 0 : 1 / v.R1b) + 1 / v.R3;
  const gain = amplifierGain(v);
  const omega = Math.sqrt(conductance / (v.R2 * v.C1 * v.C2));
  const damping = (conductance + v.C2 / (v.C1 * v.R2) + 1 / v.R2 - gain / v.R3) / v.C2;
  return { freqHz: omega / (2 * Math.PI), q: omega / damping, gain: gain / (v.R1 * v.C2 * damping) };
}

/** With three equal resistors and two equal capacitors Q = √2/(4 − K) and the gain K/(4 − K). */
const amplifierFor = (q: number): number => 4 - Math.SQRT2 / q;
const naturalGain = (q: number): number => (amplifierFor(q) * q) / Math.SQRT2;

export const sallenKeyBandPass = defineSection({
  id: 'sallen-key-band-pass',
  name: 'Sallen-Key band-pass',
  shortName: 'Sallen-Key',
  words: ['VCVS', 'band-pass', 'positive feedback', 'resonator'],
  family: 'op-amp',
  responses: ['bandpass'],
  order: 2,
  opAmps: () => 1,
  polarity: 1,
  reason: 'Equal parts, and Q set by the amplifier alone; does not invert. For low Q: near K = 4 it oscillates.',
  cautions: ['Q follows 4 − K: at a Q of 5 one per cent of K moves it by a seventh.', 'At K = 4 it oscillates.'],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. Circuit Theory CT-2, 1955',
  ],
  gainRange: ({ q }) => ({ min: 0.01, natural: Math.max(0.2, naturalGain(q)), max: Math.max(0.2, naturalGain(q)) }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line, from the input', leaveOut: 'short' },
    { name: 'R1b', kind: 'resistor', role: 'divider leg that takes gain away', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'in line, to the op-amp', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'to ground, and DC path of the input', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'first node to ground', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'fed back from the output', leaveOut: 'open' },
    { name: 'Ra', kind: 'resistor', role: 'gain, to ground', leaveOut: 'open' },
    { name: 'Rb', kind: 'resistor', role: 'gain, fed back', leaveOut: 'short' },
  ],
  design(target, context) {
    const { q, freqHz, gain } = target;
    const K = amplifierFor(q);
    if (K < 1 + 1e-6) return failure('q-too-low', { q, lowest: Math.SQRT2 / 3 });
    const omega = 2 * Math.PI * freqHz;
    const C = context.capacitorsFirst
      ? (context.pinned('C1') ?? context.pinned('C2') ?? context.capacitor('C1', context.capacitorLevel(freqHz)))
      : Math.SQRT2 / (omega * context.resistor('R2', LEVEL_OHM));
    const R = Math.SQRT2 / (omega * C);
    const Ra = context.resistor('Ra', LEVEL_OHM);
    const ratio = gain / naturalGain(q);
    const parts: Record<string, number> = {
      R1: R / Math.min(1, ratio),
      C1: C,
      R2: R,
      C2: C,
      R3: R,
      Ra,
      Rb: (K - 1) * Ra,
    };
    if (ratio < 1 - 1e-9) parts.R1b = R / (1 - ratio);
    // Unlike pinned parts shift the Q, which the amplifier then makes good; with nothing divided away the gain is what
    // that gives.
    const first = [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R2']), 'Ra'];
    return context.meet(target, parts, first, closedForm);
  },
  closedForm: (_response, parts) => closedForm(parts),
  build({ input, output, ground, reference, has, node, part, opAmp }) {
    const [a, b, m] = [node('a'), node('b'), node('m')];
    part('R1', input, a);
    if (has('R1b')) part('R1b', a, reference);
    part('C2', a, ground);
    part('C1', a, b);
    part('R2', b, reference);
    part('R3', a, output);
    part('Ra', m, reference);
    part('Rb', m, output);
    opAmp('U1', b, m, output);
  },
  working(_target, v) {
    const got = closedForm(v);
    const leg = v.R1b === undefined ? 'R_1' : '(R_1 \\parallel R_{1b})';
    return [
      {
        says: 'centre',
        tex: `\\omega_0^2 = \\frac{1}{R_2 C_1 C_2}\\left(\\frac{1}{${leg}} + \\frac{1}{R_3}\\right)`,
        value: format.hertz(got.freqHz ?? 0),
      },
      { says: 'amplifier', tex: 'K = 1 + \\frac{R_b}{R_a}', value: `K = ${format.ratio(amplifierGain(v))}` },
      { says: 'damping, equal parts', tex: 'Q = \\frac{\\sqrt2}{4 - K}', value: `Q = ${format.ratio(got.q ?? 0)}` },
    ];
  },
  drawing(_response, v) {
    const divided = v.R1b !== undefined;
    const leg: Point[][] = divided
      ? [
          [
            [8, 8],
            [8, 10.5],
          ],
        ]
      : [];
    return {
      width: 44,
      height: 24,
      parts: [
        across('R1', 'resistor', 4, 8),
        ...(divided ? [down('R1b', 'resistor', 8, 12.5)] : []),
        down('C2', 'capacitor', 13, 12.5, 'right'),
        across('C1', 'capacitor', 17, 8),
        down('R2', 'resistor', 21, 12.5, 'right'),
        across('R3', 'resistor', 18, 3),
        across('Rb', 'resistor', 34, 15),
        down('Ra', 'resistor', 29, 19, 'right'),
      ],
      opAmps: [{ name: 'U1', at: [32, 9.5], plusOnTop: true }],
      wires: [
        [
          [0, 8],
          [2, 8],
        ],
        [
          [6, 8],
          [15, 8],
        ],
        [
          [19, 8],
          [29, 8],
        ],
        [
          [10.5, 8],
          [10.5, 3],
          [16, 3],
        ],
        [
          [20, 3],
          [39, 3],
          [39, 9.5],
        ],
        [
          [13, 8],
          [13, 10.5],
        ],
        [
          [21, 8],
          [21, 10.5],
        ],
        ...leg,
        [
          [29, 11],
          [28.5, 11],
          [28.5, 15],
          [32, 15],
        ],
        [
          [36, 15],
          [39, 15],
          [39, 9.5],
        ],
        [
          [29, 15],
          [29, 17],
        ],
        [
          [35, 9.5],
          [42, 9.5],
        ],
      ],
      dots: [...(divided ? [[8, 8] as const] : []), [10.5, 8], [13, 8], [21, 8], [39, 9.5], [29, 15]],
      grounds: [...(divided ? [[8, 14.5] as const] : []), [13, 14.5], [21, 14.5], [29, 21]],
      ports: [
        { label: 'in', at: [0, 8], side: 'left' },
        { label: 'out', at: [42, 9.5], side: 'right' },
      ],
    };
  },
});
