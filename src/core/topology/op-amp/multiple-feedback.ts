import { defineSection } from '../kit/define-section';
import type { FilterResponse, SectionTarget } from '../../filter/section';
import { failure, success, type Result } from '../../result';
import type { PartSpec } from '../kit/define-topology';
import type { ClosedForm, PartKind, PartValues } from '../kit/part';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { across, down, type Drawing } from '../kit/drawing';
import { format } from '../kit/working';

/**
 * Low-pass: R1 in, R2 fed back, R3 to the inverting input; C1 to ground, C2 around the op-amp. High-pass: R and C trade
 * places.
 */
function parts(response: FilterResponse): PartSpec[] {
  const low = response === 'lowpass';
  const [a, b]: [PartKind, PartKind] = low ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];
  const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
  return [
    { name: `${s}1`, kind: a, role: 'in line, from the input; sets the gain with the second', leaveOut: 'short' },
    { name: `${s}2`, kind: a, role: 'fed back to the first node', leaveOut: 'open' },
    { name: `${s}3`, kind: a, role: 'in line, to the virtual ground', leaveOut: 'short' },
    { name: `${p}1`, kind: b, role: 'to ground', leaveOut: 'open' },
    { name: `${p}2`, kind: b, role: 'around the op-amp', leaveOut: 'open' },
  ];
}

/**
 * Low-pass: ω0² = 1/(R2 R3 C1 C2), 1/Q = ω0 C2 (R2 + R3 + R2 R3/R1), gain R2/R1 (inverting).
 * High-pass: ω0² = 1/(R1 R2 C2 C3), 1/Q = ω0 R1 (C1 + C2 + C3), gain C1/C2 (inverting).
 * From the node equations at the two inner nodes; cf. L. P. Huelsman, Active and Passive Analog Filter Design, 4.4.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const low = response === 'lowpass';
  const omega = low ? 1 / Math.sqrt(v.R2 * v.R3 * v.C1 * v.C2) : 1 / Math.sqrt(v.R1 * v.R2 * v.C2 * v.C3);
  const q = low ? 1 / (omega * v.C2 * (v.R2 + v.R3 + (v.R2 * v.R3) / v.R1)) : 1 / (omega * v.R1 * (v.C1 + v.C2 + v.C3));
  return { freqHz: omega / (2 * Math.PI), q, gain: low ? v.R2 / v.R1 : v.C1 / v.C2 };
}

/** Capacitors first: R2 from R2² − R2/(Q ω C2) + (1 + g)/(ω² C1 C2) = 0, real when C1 ≥ 4Q²(1 + g) C2. */
function designLowPass({ freqHz, q, gain }: SectionTarget, context: DesignContext): Result<Record<string, number>> {
  const omega = 2 * Math.PI * freqHz;
  if (!context.capacitorsFirst) {
    const R2 = context.resistor('R2', LEVEL_OHM);
    const R3 = context.resistor('R3', R2 / (1 + gain));
    const C2 = 1 / (q * omega * (R2 + R3 * (1 + gain)));
    return success({ R1: R2 / gain, R2, R3, C1: 1 / (omega ** 2 * R2 * R3 * C2), C2 });
  }
  const least = 4 * q * q * (1 + gain);
  const pinnedC1 = context.pinned('C1');
  const C2 = context.capacitor(
    'C2',
    pinnedC1 === undefined ? context.capacitorLevel(freqHz) / Math.sqrt(least) : pinnedC1 / least,
    pinnedC1 === undefined ? 'nearest' : 'down',
  );
  const C1 = context.capacitor('C1', least * C2, 'up');
  const spare = 1 - (least * C2) / C1;
  if (spare < -1e-9) return failure('capacitor-ratio', { larger: 'C1', smaller: 'C2', ratio: C1 / C2, needed: least });
  const R2 = (1 + Math.sqrt(Math.max(0, spare))) / (2 * q * omega * C2);
  return success({ R1: R2 / gain, R2, R3: 1 / (omega ** 2 * R2 * C1 * C2), C1, C2 });
}

/**
 * C3 = C2 and C1 = g C2; then R1 = 1/(Q ω (C1 + C2 + C3)) and R2 = 1/(ω² R1 C2 C3). Resistors first: R2/R1 = Q² (2 +
 * g)² sets it.
 */
function designHighPass({ freqHz, q, gain }: SectionTarget, context: DesignContext): Result<Record<string, number>> {
  const omega = 2 * Math.PI * freqHz;
  if (context.capacitorsFirst) {
    const C2 = context.capacitor('C2', context.capacitorLevel(freqHz));
    const C3 = context.capacitor('C3', C2);
    const C1 = gain * C2;
    const R1 = 1 / (q * omega * (C1 + C2 + C3));
    return success({ C1, C2, C3, R1, R2: 1 / (omega ** 2 * R1 * C2 * C3) });
  }
  const R1 = context.resistor('R1', LEVEL_OHM / (q * (2 + gain)));
  // C2 + C3 (with C1 = g C2) and C2·C3 are fixed by R1 and R2: real capacitors need R2 ≥ 4Q²(1 + g) R1.
  const least = 4 * q * q * (1 + gain);
  const R2 = context.resistor('R2', least * R1, 'up');
  const spare = 1 - (least * R1) / R2;
  if (spare < -1e-9) return failure('resistor-ratio', { larger: 'R2', smaller: 'R1', ratio: R2 / R1, needed: least });
  const C2 = (1 + Math.sqrt(Math.max(0, spare))) / (2 * (1 + gain) * q * omega * R1);
  return success({ C1: gain * C2, C2, C3: 1 / (omega ** 2 * R1 * R2 * C2), R1, R2 });
}

function design(target: SectionTarget, context: DesignContext): Result<PartValues> {
  const base = target.response === 'lowpass' ? designLowPass(target, context) : designHighPass(target, context);
  if (!base.ok) return base;
  const first = Object.keys(base.value).filter((name) => name.startsWith(context.capacitorsFirst ? 'C' : 'R'));
  return context.meet(target, base.value, first, (values) => closedForm(target.response, values));
}

function drawing(response: FilterResponse): Drawing {
  const low = response === 'lowpass';
  const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
  const [a, b]: [PartKind, PartKind] = low ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];
  return {
    width: 34,
    height: 19,
    parts: [
      across(`${s}1`, a, 4, 10),
      across(`${s}3`, a, 12, 10),
      across(`${s}2`, a, 18, 2.4),
      across(`${p}2`, b, 22, 6),
      down(`${p}1`, b, 8, 14.5),
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
        [8, 10],
        [8, 12.5],
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
    ],
    dots: [
      [8, 10],
      [16, 10],
      [29, 6],
      [29, 11.5],
    ],
    grounds: [
      [8, 16.5],
      [18, 15.5],
    ],
    ports: [
      { label: 'in', at: [0, 10], side: 'left' },
      { label: 'out', at: [32, 11.5], side: 'right' },
    ],
  };
}

export const multipleFeedback = defineSection({
  id: 'multiple-feedback',
  name: 'Multiple feedback',
  shortName: 'Multi-feedback',
  words: [
    'MFB',
    'Rauch',
    'infinite gain',
    'inverting filter',
    'two poles',
    '12 dB/oct',
    'second order',
    'anti-aliasing',
  ],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 2,
  opAmps: () => 1,
  polarity: -1,
  reason: 'Any gain with no extra parts, and a stop band that stays down; turns the signal over.',
  cautions: [
    'It inverts: count the inversions of the whole path.',
    'Its input is a load of its own size: drive it from a low impedance.',
    'As a high-pass it shows the op-amp a capacitor in line; keep the source clean of radio frequencies.',
  ],
  sources: ['L. P. Huelsman, Active and Passive Analog Filter Design, McGraw-Hill 1993, ch. 4'],
  // Far above cutoff the capacitors are shorts: C2 ties the inverting input to the output; in a high-pass C2, C3
  // against C1.
  gainRange: () => ({ min: 0.05, natural: 1, max: 30 }),
  parts,
  design,
  closedForm,
  build({ form: response, input, output, reference, ground, node, part, opAmp }) {
    const low = response === 'lowpass';
    const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
    const [a, n] = [node('a'), node('n')];
    part(`${s}1`, input, a);
    part(`${s}2`, a, output);
    part(`${s}3`, a, n);
    part(`${p}1`, a, low ? ground : reference);
    part(`${p}2`, n, output);
    opAmp('U1', reference, n, output);
  },
  working(target, v) {
    const low = target.response === 'lowpass';
    const got = closedForm(target.response, v);
    return [
      {
        says: 'natural frequency',
        tex: low ? 'f_0 = \\frac{1}{2\\pi \\sqrt{R_2 R_3 C_1 C_2}}' : 'f_0 = \\frac{1}{2\\pi \\sqrt{R_1 R_2 C_2 C_3}}',
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'damping',
        tex: low
          ? '\\frac1Q = \\omega_0 C_2 \\left(R_2 + R_3 + \\frac{R_2 R_3}{R_1}\\right)'
          : '\\frac1Q = \\omega_0 R_1 (C_1 + C_2 + C_3)',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      { says: 'gain', tex: low ? '-\\frac{R_2}{R_1}' : '-\\frac{C_1}{C_2}', value: `−${format.ratio(got.gain)}` },
    ];
  },
  drawing,
});
