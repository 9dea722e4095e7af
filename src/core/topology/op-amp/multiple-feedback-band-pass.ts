import { defineSection } from '../kit/define-section';
import type { SectionTarget } from '../../filter/section';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { across, down, type Drawing } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';

/**
 * Conductance from the first node to ground and source together: G = 1/R1 + 1/R1b. ω0² = G/(R2 C1 C2), ω0/Q = (C1 +
 * C2)/(R2 C1 C2), gain at the centre (R2/R1) C2/(C1 + C2), inverting: from the node equations (L. P. Huelsman, Active
 * and Passive Analog Filter Design, 4.4).
 */
export function bandPassClosedForm(v: PartValues): ClosedForm {
  const conductance = 1 / v.R1 + (v.R1b === undefined ? 0 : 1 / v.R1b);
  const omega = Math.sqrt(conductance / (v.R2 * v.C1 * v.C2));
  return {
    freqHz: omega / (2 * Math.PI),
    q: (omega * v.R2 * v.C1 * v.C2) / (v.C1 + v.C2),
    gain: ((v.R2 / v.R1) * v.C2) / (v.C1 + v.C2),
  };
}

/** The highest gain there is with equal capacitors: then nothing of the input is divided away. */
export const highestGain = (q: number): number => 2 * q * q;

/** R2 from Q, R1 from the gain, R1b from the frequency. Resistors first: R2 is taken, the capacitors are equal. */
export function bandPassParts(
  { freqHz, q, gain }: Pick<SectionTarget, 'freqHz' | 'q' | 'gain'>,
  context: DesignContext,
): Record<string, number> {
  const omega = 2 * Math.PI * freqHz;
  const wantedOhm = LEVEL_OHM * Math.max(1, q);
  const C1 = context.capacitorsFirst
    ? context.capacitor('C1', context.pinned('C2') ?? context.capacitorLevel(freqHz))
    : (2 * q) / (omega * context.resistor('R2', 2 * wantedOhm));
  const C2 = context.capacitorsFirst ? context.capacitor('C2', C1) : C1;
  const R2 = (q * (C1 + C2)) / (omega * C1 * C2);
  const R1 = (C2 * R2) / (gain * (C1 + C2));
  const rest = omega * omega * C1 * C2 * R2 - 1 / R1;
  return { R1, ...(rest > 1e-9 / R1 ? { R1b: 1 / rest } : {}), R2, C1, C2 };
}

/** Nodes: `a` behind the input, `n` at the op-amp's inverting input. */
export function bandPassDrawing(parts: PartValues): Drawing {
  const divided = parts.R1b !== undefined;
  return {
    width: 34,
    height: 19,
    parts: [
      across('R1', 'resistor', 4, 10),
      across('C2', 'capacitor', 12, 10),
      across('C1', 'capacitor', 18, 2.4),
      across('R2', 'resistor', 22, 6),
      ...(divided ? [down('R1b', 'resistor', 8, 14.5)] : []),
    ],
    opAmps: [{ name: 'U1', at: [22, 11.5], plusOnTop: false }],
    wires: [
      [
        [0, 10],
        [2, 10],
      ],
      [
        [6, 10],
        [10, 10],
      ],
      [
        [14, 10],
        [19, 10],
      ],
      [
        [8, 10],
        [8, 2.4],
        [16, 2.4],
      ],
      [
        [20, 2.4],
        [29, 2.4],
        [29, 11.5],
      ],
      [
        [16, 10],
        [16, 6],
        [20, 6],
      ],
      [
        [24, 6],
        [29, 6],
      ],
      [
        [19, 13],
        [18, 13],
        [18, 15.5],
      ],
      [
        [25, 11.5],
        [32, 11.5],
      ],
      ...(divided
        ? [
            [
              [8, 10],
              [8, 12.5],
            ] as const,
          ]
        : []),
    ],
    dots: [
      [8, 10],
      [16, 10],
      [29, 6],
      [29, 11.5],
    ],
    grounds: [...(divided ? [[8, 16.5] as const] : []), [18, 15.5]],
    ports: [
      { label: 'in', at: [0, 10], side: 'left' },
      { label: 'out', at: [32, 11.5], side: 'right' },
    ],
  };
}

export const multipleFeedbackBandPass = defineSection({
  id: 'multiple-feedback-band-pass',
  // 1/R1b = ω0² R2 C1 C2 − 1/R1: bandwidth and gain do not know it.
  tuning: {
    part: 'R1b',
    ohmFor: ({ R1, R2, C1, C2 }, freqHz) => 1 / ((2 * Math.PI * freqHz) ** 2 * R2 * C1 * C2 - 1 / R1),
    levelsWith: 'R1',
  },
  name: 'Multiple feedback band-pass',
  shortName: 'Multi-feedback',
  words: [
    'MFB',
    'Rauch',
    'Delyiannis',
    'Deliyannis',
    'band-pass',
    'resonator',
    'formant',
    'equaliser band',
    'one op-amp band-pass',
  ],
  family: 'op-amp',
  responses: ['bandpass'],
  order: 2,
  opAmps: () => 1,
  polarity: -1,
  reason: 'One op-amp, two equal capacitors; R1b alone tunes it, leaving bandwidth and gain where they are.',
  cautions: [
    'It inverts: count the inversions of the whole path.',
    'The op-amp must have far more than 2Q² of gain left at the centre: good for a Q up to ten or so.',
    'Its input resistance is R1 and the rest of the first node: drive it from a low impedance.',
  ],
  sources: [
    'L. P. Huelsman, Active and Passive Analog Filter Design, McGraw-Hill 1993, 4.4',
    'T. Delyiannis, High-Q Factor Circuit with Reduced Sensitivity, Electronics Letters 4, 1968',
  ],
  gainRange: ({ q }) => ({ min: 0.005, natural: Math.min(1, highestGain(q)), max: highestGain(q) }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line, from the input; sets the gain', leaveOut: 'short' },
    { name: 'R1b', kind: 'resistor', role: 'divider leg; tunes the centre', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'fed back; sets the bandwidth', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'fed back to the first node', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'in line, to the virtual ground', leaveOut: 'short' },
  ],
  design(target, context) {
    return context.meet(
      target,
      bandPassParts(target, context),
      context.capacitorsFirst ? ['C1', 'C2'] : ['R2'],
      (parts) => bandPassClosedForm(parts),
    );
  },
  closedForm: (_response, parts) => bandPassClosedForm(parts),
  build({ input, output, reference, has, node, part, opAmp }) {
    const [a, n] = [node('a'), node('n')];
    part('R1', input, a);
    if (has('R1b')) part('R1b', a, reference);
    part('C1', a, output);
    part('C2', a, n);
    part('R2', n, output);
    opAmp('U1', reference, n, output);
  },
  working(_target, v) {
    const got = bandPassClosedForm(v);
    const leg = v.R1b === undefined ? 'R_1' : '(R_1 \\parallel R_{1b})';
    return [
      {
        says: 'centre',
        tex: `f_0 = \\frac{1}{2\\pi \\sqrt{${leg} R_2 C_1 C_2}}`,
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'bandwidth',
        tex: '\\frac{f_0}{Q} = \\frac{1}{2\\pi R_2}\\left(\\frac{1}{C_1} + \\frac{1}{C_2}\\right)',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      {
        says: 'gain at the centre',
        tex: '-\\frac{R_2}{R_1}\\cdot\\frac{C_2}{C_1 + C_2}',
        value: `−${format.ratio(got.gain)}`,
      },
    ];
  },
  drawing: (_response, parts) => bandPassDrawing(parts),
});
