import { defineSection } from '../kit/define-section';
import type { FilterResponse, SectionTarget } from '../../filter/section';
import type { PartSpec, SectionTopology } from '../kit/define-topology';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { BLOCK, finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, down, type Drawing } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { buildIntegrators, INTEGRATOR_PARTS, loopOutputs, loopTaps } from './two-integrator-loop';
import { format } from '../kit/working';

/** What the non-inverting input takes of the input and of the band-pass. */
function shares({ R1, R4, R5 }: PartValues): { alpha: number; beta: number } {
  const whole = 1 / R1 + 1 / R4 + (R5 === undefined ? 0 : 1 / R5);
  return { alpha: 1 / R1 / whole, beta: 1 / R4 / whole };
}

/**
 * U1 takes a share α of the input and β of the band-pass at its non-inverting input, and the low-pass by R2 at the
 * other; U2 and U3 integrate. Node equations, with r = R3/R2: D = s² + s (1 + r) β/(R6 C1) + r/(R6 R7 C1 C2); high-pass
 * (1 + r) α s²/D, band-pass −(1 + r) α (s/R6 C1)/D, low-pass (1 + r) α/(R6 R7 C1 C2)/D. W. J. Kerwin, L. P. Huelsman
 * and R. W. Newcomb, State-Variable Synthesis for Insensitive Integrated Circuit Transfer Functions, IEEE J.
 * Solid-State Circuits SC-2, 1967: its own arrangement.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const r = v.R3 / v.R2;
  const { alpha, beta } = shares(v);
  const omega = Math.sqrt(r / (v.R6 * v.R7 * v.C1 * v.C2));
  const gain =
    { lowpass: ((1 + r) * alpha) / r, highpass: (1 + r) * alpha }[response as 'lowpass' | 'highpass'] ?? alpha / beta;
  return { freqHz: omega / (2 * Math.PI), q: (omega * v.R6 * v.C1) / ((1 + r) * beta), gain };
}

/** R3/R2: 1, or where a low Q would leave the input no share of the adder, 10. */
const loopRatio = (q: number): number => (q >= 1 ? 1 : 10);
/** Share of the band-pass for a Q with equal integrators: ω0 R C = √r. */
const backShare = (q: number): number => Math.sqrt(loopRatio(q)) / (q * (1 + loopRatio(q)));

function naturalGain(response: FilterResponse, q: number): number {
  const [r, beta] = [loopRatio(q), backShare(q)];
  return response === 'bandpass' ? (1 - beta) / beta : ((1 + r) * (1 - beta)) / (response === 'lowpass' ? r : 1);
}

function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { response, freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const r = loopRatio(q);
  const C1 = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(freqHz))
    : Math.sqrt(r) / (omega * context.resistor('R6', LEVEL_OHM));
  const C2 = context.capacitorsFirst ? context.capacitor('C2', C1) : C1;
  const R6 = Math.sqrt(r / (C1 * C2)) / omega;
  const beta = (omega * R6 * C1) / (q * (1 + r));
  const alpha = Math.min(
    1 - beta,
    response === 'bandpass' ? gain * beta : (gain * (response === 'lowpass' ? r : 1)) / (1 + r),
  );
  const level = context.resistor('R4', LEVEL_OHM / beta) * beta;
  const R2 = context.resistor('R2', LEVEL_OHM);
  const left = 1 - alpha - beta;
  const parts: Record<string, number> = {
    R1: level / alpha,
    R2,
    R3: r * R2,
    R4: level / beta,
    R6,
    R7: R6,
    C1,
    C2,
    ...(left > 1e-9 ? { R5: level / left } : {}),
  };
  return context.meet(target, parts, [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R6']), 'R2', 'R4'], (values) =>
    closedForm(response, values),
  );
}

const PARTS: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'in line, from the input', leaveOut: 'open' },
  { name: 'R2', kind: 'resistor', role: 'brings the low-pass back', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'around the adder', leaveOut: 'short' },
  { name: 'R4', kind: 'resistor', role: 'brings the band-pass back: one over Q', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'takes gain away', leaveOut: 'open' },
  ...INTEGRATOR_PARTS,
];

function drawing(response: FilterResponse, parts: PartValues): Drawing {
  const drawn = sketch();
  const y = 16;
  const first = invertingBlock(drawn, 6, y, 'U1', null, [['R3', 'resistor']], 'open');
  const second = invertingBlock(drawn, 6 + BLOCK, y + 1.5, 'U2', ['R6', 'resistor'], [['C1', 'capacitor']]);
  const third = invertingBlock(drawn, 6 + 2 * BLOCK, y + 3, 'U3', ['R7', 'resistor'], [['C2', 'capacitor']]);
  const [loop, led] = [y - 11, y + 11];
  const node = 10;
  drawn.parts.push(
    across('R2', 'resistor', 26, loop),
    across('R4', 'resistor', 26, led),
    across('R1', 'resistor', 4, led),
  );
  drawn.wires.push(
    [
      [first.sum[0], first.row(0)],
      [first.sum[0], loop],
      [24, loop],
    ],
    [
      [28, loop],
      [third.out[0], loop],
      [third.out[0], third.row(0)],
    ],
    [
      [0, led],
      [2, led],
    ],
    [
      [6, led],
      [24, led],
    ],
    [first.plus, [node, first.plus[1]], [node, led]],
    [[28, led], [second.out[0], led], second.out],
  );
  drawn.dots.push([node, led]);
  if (parts.R5 !== undefined) {
    drawn.parts.push(down('R5', 'resistor', node, led + 4, 'right'));
    drawn.wires.push([
      [node, led],
      [node, led + 2],
    ]);
    drawn.grounds.push([node, led + 6]);
  }
  if (response === 'lowpass') return finished(drawn, 57, 36, [0, led], third.out);
  const from = response === 'highpass' ? first.out : second.out;
  const under = led + 9;
  const start = response === 'highpass' ? from : ([from[0], led] as const);
  drawn.wires.push([start, [from[0], under], [third.out[0], under]]);
  if (response === 'bandpass') drawn.dots.push([from[0], led]);
  return finished(drawn, 57, 42, [0, led], [third.out[0], under]);
}

export const stateVariablePlus = defineSection({
  id: 'state-variable-plus',
  name: 'State variable, input at plus',
  shortName: 'State var. +',
  words: ['SVF', 'KHN', 'biquad', 'two integrators', 'non-inverting', 'multimode'],
  family: 'op-amp',
  responses: ['lowpass', 'bandpass', 'highpass'],
  order: 2,
  opAmps: () => 3,
  polarity: (form) => (form === 'bandpass' ? -1 : 1),
  reason:
    'The other sign: low-pass and high-pass come out upright, and nothing is fed into the adder’s sum ' +
    'but the loop. Gain and Q hang together.',
  cautions: [
    'Gain follows Q: it is 2Q − 1 at the band-pass, 2 − 1/Q at the others, or less by R5.',
    'The adder’s inputs swing with the signal: take an op-amp with room in common mode.',
    'Finite bandwidth raises Q: choose quick op-amps for a high Q.',
  ],
  sources: [
    'W. J. Kerwin, L. P. Huelsman, R. W. Newcomb, State-Variable Synthesis for Insensitive Integrated ' +
      'Circuit Transfer Functions, IEEE J. Solid-State Circuits SC-2, 1967',
  ],
  gainRange: ({ response, q }) => {
    const natural = naturalGain(response, q);
    return { min: 0.02 * natural, natural, max: natural };
  },
  parts: () => PARTS,
  design,
  closedForm,
  build(context) {
    const { input, reference, has, node, part, opAmp } = context;
    const [n1, p1] = [node('n1'), node('p1')];
    const outputs = loopOutputs(context);
    const [high, band, low] = outputs;
    part('R1', input, p1);
    part('R4', band, p1);
    if (has('R5')) part('R5', p1, reference);
    part('R2', low, n1);
    part('R3', n1, high);
    opAmp('U1', p1, n1, high);
    buildIntegrators(context, outputs);
  },
  taps: loopTaps,
  blocks: () => [
    { name: 'Σ', says: 'a share of the input and of the band-pass, less low-pass', parts: ['R1', 'R2', 'R3'] },
    { name: '−1/s', says: 'integrates the high-pass', parts: ['R6', 'C1'] },
    { name: '−1/s', says: 'integrates the band-pass', parts: ['R7', 'C2'] },
    { name: '1/Q', says: 'what is led back of the band-pass', parts: ['R4', 'R5'], place: 'back' },
  ],
  working(target, v) {
    const got = closedForm(target.response, v);
    const { alpha, beta } = shares(v);
    const gain =
      { lowpass: '\\left(1 + \\frac{R_2}{R_3}\\right)\\alpha', highpass: '\\left(1 + \\frac{R_3}{R_2}\\right)\\alpha' }[
        target.response as 'lowpass' | 'highpass'
      ] ?? '-\\frac{R_4}{R_1}';
    return [
      {
        says: 'natural frequency',
        tex: 'f_0 = \\frac{1}{2\\pi}\\sqrt{\\frac{R_3/R_2}{R_6 R_7 C_1 C_2}}',
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'share of the input, of the band-pass',
        tex: '\\alpha = \\frac{1/R_1}{1/R_1 + 1/R_4 + 1/R_5},\\ \\beta = \\frac{\\alpha R_1}{R_4}',
        value: `${format.ratio(alpha)}, ${format.ratio(beta)}`,
      },
      {
        says: 'one over Q',
        tex: '\\frac1Q = \\frac{\\beta}{\\omega_0 R_6 C_1}\\left(1 + \\frac{R_3}{R_2}\\right)',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      { says: 'gain', tex: gain, value: format.ratio(got.gain) },
    ];
  },
  drawing,
});
