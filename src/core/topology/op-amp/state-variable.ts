import { defineSection } from '../kit/define-section';
import { nullRatio, type FilterResponse, type SectionTarget } from '../../filter/section';
import type { PartSpec, SectionTopology } from '../kit/define-topology';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { BLOCK, finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, down, type Drawing } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { buildIntegrators, INTEGRATOR_PARTS, loopOutputs, loopTaps } from './two-integrator-loop';
import { format } from '../kit/working';

/** What the amplifier U1 multiplies its non-inverting input by. */
const plusGain = ({ R1, R2, R3 }: PartValues): number => 1 + R3 / R1 + R3 / R2;
/** Share of the band-pass led back there. */
const share = ({ R4, R5 }: PartValues): number => R5 / (R4 + R5);

/**
 * U1 adds the input (R1), the low-pass (R2) and, at its other input, a share R5/(R4 + R5) of the band-pass; U2 and U3
 * integrate. Node equations: D = s² + s β(1 + R3/R1 + R3/R2)/(R6 C1) + (R3/R2)/(R6 R7 C1 C2); high-pass −(R3/R1)s²/D,
 * band-pass +(R3/R1)(s/R6 C1)/D, low-pass −(R3/R1)/(R6 R7 C1 C2)/D. A null is high-pass and low-pass added by U4. W. J.
 * Kerwin, L. P. Huelsman and R. W. Newcomb, State-Variable Synthesis for Insensitive Integrated Circuit Transfer
 * Functions, IEEE J. Solid-State Circuits SC-2, 1967.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const omega = Math.sqrt(v.R3 / v.R2 / (v.R6 * v.R7 * v.C1 * v.C2));
  const damping = (share(v) * plusGain(v)) / (v.R6 * v.C1);
  const common = { freqHz: omega / (2 * Math.PI), q: omega / damping };
  switch (response) {
    case 'lowpass':
      return { ...common, gain: v.R2 / v.R1 };
    case 'highpass':
      return { ...common, gain: v.R3 / v.R1 };
    case 'bandpass':
      return { ...common, gain: v.R3 / v.R1 / (share(v) * plusGain(v)) };
    default: {
      const zero = Math.sqrt(v.R8 / v.R9 / (v.R6 * v.R7 * v.C1 * v.C2));
      return {
        ...common,
        zeroHz: zero / (2 * Math.PI),
        gain: zero >= omega ? ((v.R10 / v.R9) * v.R2) / v.R1 : ((v.R10 / v.R8) * v.R3) / v.R1,
      };
    }
  }
}

/** R2 = R3, C1 = C2, R6 = R7 = 1/(ω0 C); R1 from the gain, then R4/R5 from Q. */
function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { response, freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const C1 = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(freqHz))
    : 1 / (omega * context.resistor('R6', LEVEL_OHM));
  const C2 = context.capacitorsFirst ? context.capacitor('C2', C1) : C1;
  const R2 = context.resistor('R2', LEVEL_OHM);
  const inGain = response === 'notch' ? 1 : response === 'bandpass' ? gain / q : gain;
  const R6 = 1 / (omega * Math.sqrt(C1 * C2));
  const parts: Record<string, number> = { R1: R2 / inGain, R2, R3: R2, R6, R7: R6, C1, C2 };
  // ω0 R6 C1 = √(C1/C2): 1/Q = β (2 + gain) over it.
  const back = (omega * R6 * C1) / (q * plusGain(parts));
  parts.R5 = context.resistor('R5', LEVEL_OHM);
  parts.R4 = parts.R5 * (1 / back - 1);
  if (response === 'notch') {
    const square = nullRatio(target) ** 2;
    parts.R10 = context.resistor('R10', LEVEL_OHM);
    parts.R9 = parts.R10 / (square >= 1 ? gain : gain * square);
    parts.R8 = parts.R10 / (square >= 1 ? gain / square : gain);
  }
  return context.meet(
    target,
    parts,
    [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R6']), 'R2', 'R5', 'R10'],
    (values) => closedForm(response, values),
  );
}

const COMMON: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'in line, from the input; sets the gain', leaveOut: 'open' },
  { name: 'R2', kind: 'resistor', role: 'brings the low-pass back', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'around the adder', leaveOut: 'short' },
  { name: 'R4', kind: 'resistor', role: 'brings the band-pass back: one over Q', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'divides it', leaveOut: 'open' },
  ...INTEGRATOR_PARTS,
];
const NULL_PARTS: PartSpec[] = [
  { name: 'R8', kind: 'resistor', role: 'adds the high-pass', leaveOut: 'open' },
  { name: 'R9', kind: 'resistor', role: 'adds the low-pass', leaveOut: 'open' },
  { name: 'R10', kind: 'resistor', role: 'around the last adder', leaveOut: 'short' },
];

function drawing(response: FilterResponse): Drawing {
  const drawn = sketch();
  const y = 16;
  const first = invertingBlock(drawn, 2, y, 'U1', ['R1', 'resistor'], [['R3', 'resistor']], 'open');
  const second = invertingBlock(drawn, 2 + BLOCK, y + 1.5, 'U2', ['R6', 'resistor'], [['C1', 'capacitor']]);
  const third = invertingBlock(drawn, 2 + 2 * BLOCK, y + 3, 'U3', ['R7', 'resistor'], [['C2', 'capacitor']]);
  const loop = y - 11;
  drawn.parts.push(
    across('R2', 'resistor', 24, loop),
    across('R4', 'resistor', 24, y + 10),
    down('R5', 'resistor', 9.4, y + 13),
  );
  const led = y + 10;
  drawn.wires.push(
    [
      [0, y],
      [2, y],
    ],
    [
      [first.sum[0], first.row(0)],
      [first.sum[0], loop],
      [22, loop],
    ],
    [
      [26, loop],
      [third.out[0], loop],
      [third.out[0], third.row(0)],
    ],
    [first.plus, [9.4, first.plus[1]], [9.4, led], [22, led]],
    [
      [9.4, led],
      [9.4, y + 11],
    ],
    [[26, led], [second.out[0], led], second.out],
  );
  drawn.dots.push([9.4, led]);
  drawn.grounds.push([9.4, y + 15]);
  if (response === 'lowpass') return finished(drawn, 53, 33, [0, y], third.out);
  if (response !== 'notch') {
    const from = response === 'highpass' ? first.out : second.out;
    const under = y + (response === 'highpass' ? 18.5 : 14);
    const start = response === 'highpass' ? from : ([from[0], led] as const);
    drawn.wires.push([start, [from[0], under], [third.out[0], under]]);
    if (response === 'bandpass') drawn.dots.push([from[0], led]);
    return finished(drawn, 53, 40, [0, y], [third.out[0], under]);
  }
  const low = y + 30;
  const last = invertingBlock(drawn, first.out[0], low, 'U4', ['R8', 'resistor'], [['R10', 'resistor']]);
  drawn.parts.push(across('R9', 'resistor', 36, last.row(1)));
  drawn.wires.push(
    [first.out, [first.out[0], low]],
    [
      [last.sum[0], last.row(0)],
      [last.sum[0], last.row(1)],
      [34, last.row(1)],
    ],
    [[38, last.row(1)], [third.out[0], last.row(1)], third.out],
  );
  return finished(drawn, 53, 54, [0, y], last.out);
}

export const stateVariable = defineSection({
  id: 'state-variable',
  name: 'State variable',
  shortName: 'State variable',
  words: [
    'SVF',
    'KHN',
    'biquad',
    'two integrators',
    'low-pass high-pass band-pass at once',
    'notch output',
    'multimode',
  ],
  family: 'op-amp',
  responses: ['lowpass', 'bandpass', 'highpass', 'notch'],
  order: 2,
  opAmps: (form) => (form === 'notch' ? 4 : 3),
  polarity: (form) => (form === 'bandpass' || form === 'notch' ? 1 : -1),
  reason: 'High-pass, band-pass and low-pass at once; frequency by two equal resistors, Q apart from it.',
  cautions: [
    'R6 and R7 on a dual pot move the frequency alone.',
    'Finite bandwidth raises Q: choose quick op-amps for a high Q.',
    'At a high Q the inner outputs swing higher than the one you take.',
  ],
  sources: [
    'W. J. Kerwin, L. P. Huelsman, R. W. Newcomb, State-Variable Synthesis for Insensitive Integrated ' +
      'Circuit Transfer Functions, IEEE J. Solid-State Circuits SC-2, 1967',
  ],
  gainRange: (target) => {
    if (target.response !== 'notch') return { min: 0.05, natural: 1, max: 20 };
    const natural = Math.max(1, nullRatio(target) ** 2);
    return { min: 0.02 * natural, natural, max: 20 * natural };
  },
  parts: (response) => (response === 'notch' ? [...COMMON, ...NULL_PARTS] : COMMON),
  design,
  closedForm,
  build(context) {
    const { form, input, output, reference, node, part, opAmp } = context;
    const [n1, p1] = [node('n1'), node('p1')];
    const outputs = loopOutputs(context);
    const [high, band, low] = outputs;
    part('R1', input, n1);
    part('R2', low, n1);
    part('R3', n1, high);
    part('R4', band, p1);
    part('R5', p1, reference);
    opAmp('U1', p1, n1, high);
    buildIntegrators(context, outputs);
    if (form !== 'notch') return;
    const n4 = node('n4');
    part('R8', high, n4);
    part('R9', low, n4);
    part('R10', n4, output);
    opAmp('U4', reference, n4, output);
  },
  taps: loopTaps,
  blocks: (form) => [
    { name: 'Σ', says: 'input less low-pass, plus a share of the band-pass', parts: ['R1', 'R2', 'R3'] },
    { name: '−1/s', says: 'integrates the high-pass', parts: ['R6', 'C1'] },
    { name: '−1/s', says: 'integrates the band-pass', parts: ['R7', 'C2'] },
    { name: '1/Q', says: 'what is led back of the band-pass', parts: ['R4', 'R5'], place: 'back' },
    ...(form === 'notch'
      ? [
          {
            name: 'Σ',
            says: 'high-pass and low-pass, equal and opposite at the null',
            parts: ['R8', 'R9', 'R10'],
            place: 'after' as const,
          },
        ]
      : []),
  ],
  working(target, v) {
    const got = closedForm(target.response, v);
    const gain = {
      lowpass: '-\\frac{R_2}{R_1}',
      bandpass: '\\frac{R_3/R_1}{\\beta\\,(1 + R_3/R_1 + R_3/R_2)}',
      highpass: '-\\frac{R_3}{R_1}',
      notch: nullRatio(target) >= 1 ? '\\frac{R_{10} R_2}{R_9 R_1}' : '\\frac{R_{10} R_3}{R_8 R_1}',
      allpass: '1',
    }[target.response];
    return [
      {
        says: 'natural frequency',
        tex: 'f_0 = \\frac{1}{2\\pi}\\sqrt{\\frac{R_3/R_2}{R_6 R_7 C_1 C_2}}',
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'one over Q',
        tex:
          '\\frac1Q = \\frac{\\beta}{\\omega_0 R_6 C_1}\\left(1 + \\frac{R_3}{R_1} + ' +
          '\\frac{R_3}{R_2}\\right),\\ \\beta = \\frac{R_5}{R_4 + R_5}',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      ...(got.zeroHz === undefined
        ? []
        : [
            {
              says: 'null',
              tex: 'f_z = \\frac{1}{2\\pi}\\sqrt{\\frac{R_8/R_9}{R_6 R_7 C_1 C_2}}',
              value: format.hertz(got.zeroHz),
            },
          ]),
      { says: 'gain', tex: gain, value: format.ratio(got.gain) },
    ];
  },
  drawing,
});
