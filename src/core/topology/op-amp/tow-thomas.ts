import { defineSection } from '../kit/define-section';
import { nullRatio, type FilterResponse, type SectionTarget } from '../../filter/section';
import type { PartSpec, SectionTopology } from '../kit/define-topology';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { BLOCK, finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, type Drawing } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';

/**
 * A lossy integrator U1 (C1, R2), an integrator U2 (C2, R5) and an inverter U3 (R7, R8) in a loop closed by R4. The
 * input comes in through R1 (low-pass at U3, band-pass at U1), through C3 (high-pass at U1), or through C3 and R6 (a
 * null at U1). Node equations, with ρ = R8/R7: D = s² + s/(R2 C1) + ρ/(C1 C2 R4 R5); U1 gives −[s² C3/C1 + s/(R1 C1) +
 * ρ/(C1 C2 R4 R6)]/D, U3 gives −ρ/(C1 C2 R1 R5)/D. L. C. Thomas, The Biquad, IEEE Trans. Circuit Theory CT-18, 1971; P.
 * E. Fleischer and J. Tow, Design Formulas for Biquad Active Filters, Proc. IEEE 61, 1973.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const turn = v.R8 / v.R7;
  const omega = Math.sqrt(turn / (v.C1 * v.C2 * v.R4 * v.R5));
  const common = { freqHz: omega / (2 * Math.PI), q: omega * v.R2 * v.C1 };
  switch (response) {
    case 'lowpass':
      return { ...common, gain: v.R4 / v.R1 };
    case 'bandpass':
      return { ...common, gain: v.R2 / v.R1 };
    case 'highpass':
      return { ...common, gain: v.C3 / v.C1 };
    default: {
      const zero = Math.sqrt(turn / (v.C3 * v.C2 * v.R4 * v.R6));
      return { ...common, zeroHz: zero / (2 * Math.PI), gain: zero >= omega ? v.R5 / v.R6 : v.C3 / v.C1 };
    }
  }
}

/** C1 = C2, R4 = R5 = 1/(ω0 C), R2 = Q R4. A null takes C3 = C1 where it may. */
function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { response, freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const C1 = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(freqHz))
    : 1 / (omega * context.resistor('R4', LEVEL_OHM));
  const C2 = context.capacitorsFirst ? context.capacitor('C2', C1) : C1;
  const R4 = 1 / (omega * Math.sqrt(C1 * C2));
  const R7 = context.resistor('R7', LEVEL_OHM);
  const parts: Record<string, number> = { C1, C2, R2: q / (omega * C1), R4, R5: R4, R7, R8: R7 };
  if (response === 'lowpass') parts.R1 = R4 / gain;
  if (response === 'bandpass') parts.R1 = parts.R2 / gain;
  if (response === 'highpass') parts.C3 = gain * C1;
  if (response === 'notch') {
    const square = nullRatio(target) ** 2;
    const low = square >= 1;
    parts.C3 = (low ? gain / square : gain) * C1;
    parts.R6 = R4 / (low ? gain : gain * square);
  }
  return context.meet(target, parts, [...(context.capacitorsFirst ? ['C1', 'C2', 'C3'] : ['R4']), 'R7'], (values) =>
    closedForm(response, values),
  );
}

const COMMON: PartSpec[] = [
  { name: 'C1', kind: 'capacitor', role: 'integrates at U1', leaveOut: 'open' },
  { name: 'R2', kind: 'resistor', role: 'loss of U1: sets Q', leaveOut: 'open' },
  { name: 'R4', kind: 'resistor', role: 'closes the loop', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'into U2', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'integrates at U2', leaveOut: 'open' },
  { name: 'R7', kind: 'resistor', role: 'into the inverter', leaveOut: 'open' },
  { name: 'R8', kind: 'resistor', role: 'around the inverter', leaveOut: 'open' },
];

function partsOf(response: FilterResponse): PartSpec[] {
  const input: PartSpec =
    response === 'lowpass' || response === 'bandpass'
      ? { name: 'R1', kind: 'resistor', role: 'in line, from the input; sets the gain', leaveOut: 'open' }
      : { name: 'C3', kind: 'capacitor', role: 'feeds the input forward to U1', leaveOut: 'open' };
  return [
    input,
    ...COMMON,
    ...(response === 'notch'
      ? [
          {
            name: 'R6',
            kind: 'resistor' as const,
            role: 'feeds the input forward to U2: sets the null',
            leaveOut: 'open' as const,
          },
        ]
      : []),
  ];
}

function drawing(response: FilterResponse): Drawing {
  const drawn = sketch();
  const y = 19;
  const first = invertingBlock(
    drawn,
    2,
    y,
    'U1',
    response === 'lowpass' || response === 'bandpass' ? ['R1', 'resistor'] : ['C3', 'capacitor'],
    [
      ['C1', 'capacitor'],
      ['R2', 'resistor'],
    ],
  );
  const second = invertingBlock(drawn, 2 + BLOCK, y + 1.5, 'U2', ['R5', 'resistor'], [['C2', 'capacitor']]);
  const third = invertingBlock(drawn, 2 + 2 * BLOCK, y + 3, 'U3', ['R7', 'resistor'], [['R8', 'resistor']]);
  const loop = y - 15.5;
  drawn.parts.push(across('R4', 'resistor', 24, loop));
  drawn.wires.push(
    [
      [0, y],
      [2, y],
    ],
    [
      [first.sum[0], first.row(1)],
      [first.sum[0], loop],
      [22, loop],
    ],
    [
      [26, loop],
      [third.out[0], loop],
      [third.out[0], third.row(0)],
    ],
  );
  if (response === 'notch') {
    const low = y + 11;
    drawn.parts.push(across('R6', 'resistor', 12, low));
    drawn.wires.push(
      [
        [1.9, y],
        [1.9, low],
        [10, low],
      ],
      [[14, low], [second.sum[0], low], second.sum],
    );
    drawn.dots.push([1.9, y]);
  }
  if (response === 'lowpass') return finished(drawn, 53, 33, [0, y], third.out);
  // The output is U1's: led out under the rest.
  const under = y + 14;
  drawn.wires.push([first.out, [first.out[0], under], [third.out[0], under]]);
  return finished(drawn, 53, 38, [0, y], [third.out[0], under]);
}

export const towThomas = defineSection({
  id: 'tow-thomas',
  name: 'Two-integrator loop, Tow-Thomas',
  shortName: 'Tow-Thomas',
  words: ['biquad', 'two integrators', 'resonator', 'ring of three', 'low sensitivity', 'high Q'],
  family: 'op-amp',
  responses: ['lowpass', 'bandpass', 'highpass', 'notch'],
  order: 2,
  opAmps: () => 3,
  polarity: -1,
  reason: 'Frequency, Q and gain each by a resistor of its own, at any Q; a null wherever it is wanted.',
  cautions: [
    'Finite bandwidth raises Q by about 4Q f0 over the op-amp’s: choose quick op-amps for a high Q.',
    'U1 swings with the Q: mind its own peak, not only the output’s.',
  ],
  sources: [
    'L. C. Thomas, The Biquad, IEEE Trans. Circuit Theory CT-18, 1971',
    'P. E. Fleischer, J. Tow, Design Formulas for Biquad Active Filters Using Three Operational ' +
      'Amplifiers, Proc. IEEE 61, 1973',
  ],
  gainRange: (target) => {
    // Even a null keeps C3 within what C1 can bear.
    const natural = target.response === 'notch' ? Math.max(1, nullRatio(target) ** 2) : 1;
    return { min: 0.02 * natural, natural, max: 30 * natural };
  },
  parts: partsOf,
  design,
  closedForm,
  build({ form, input, output, reference, node, part, opAmp }) {
    const [n1, n2, n3] = [node('n1'), node('n2'), node('n3')];
    const low = form === 'lowpass';
    const [u1, u2, u3] = [low ? node('u1') : output, node('u2'), low ? output : node('u3')];
    part(form === 'lowpass' || form === 'bandpass' ? 'R1' : 'C3', input, n1);
    part('C1', n1, u1);
    part('R2', n1, u1);
    part('R4', u3, n1);
    opAmp('U1', reference, n1, u1);
    part('R5', u1, n2);
    if (form === 'notch') part('R6', input, n2);
    part('C2', n2, u2);
    opAmp('U2', reference, n2, u2);
    part('R7', u2, n3);
    part('R8', n3, u3);
    opAmp('U3', reference, n3, u3);
  },
  taps: (form) => [
    { name: 'U1: band-pass', node: form === 'lowpass' ? 'u1' : null },
    { name: 'U2: low-pass, upright', node: 'u2' },
    { name: 'U3: low-pass, inverted', node: form === 'lowpass' ? null : 'u3' },
  ],
  blocks: (form) => loopBlocks(form),
  working(target, v) {
    const got = closedForm(target.response, v);
    const gain = {
      lowpass: '\\frac{R_4}{R_1}',
      bandpass: '\\frac{R_2}{R_1}',
      highpass: '\\frac{C_3}{C_1}',
      notch: nullRatio(target) >= 1 ? '\\frac{R_5}{R_6}' : '\\frac{C_3}{C_1}',
      allpass: '1',
    }[target.response];
    return [
      {
        says: 'natural frequency',
        tex: 'f_0 = \\frac{1}{2\\pi}\\sqrt{\\frac{R_8/R_7}{R_4 R_5 C_1 C_2}}',
        value: format.hertz(got.freqHz ?? 0),
      },
      { says: 'damping', tex: 'Q = \\omega_0 R_2 C_1', value: `Q = ${format.ratio(got.q ?? 0)}` },
      ...(got.zeroHz === undefined
        ? []
        : [
            {
              says: 'null',
              tex: 'f_z = \\frac{1}{2\\pi}\\sqrt{\\frac{R_8/R_7}{R_4 R_6 C_2 C_3}}',
              value: format.hertz(got.zeroHz),
            },
          ]),
      { says: 'gain', tex: `-${gain}`, value: `−${format.ratio(got.gain)}` },
    ];
  },
  drawing,
});

/** The loop as blocks: what adds, what integrates, what turns over. */
function loopBlocks(form: FilterResponse): ReturnType<NonNullable<SectionTopology['blocks']>> {
  const input = form === 'lowpass' || form === 'bandpass' ? ['R1'] : ['C3'];
  return [
    { name: 'Σ', says: 'adds the input and the loop', parts: [...input, 'R4'] },
    { name: '−1/s + loss', says: 'integrates; 1/Q is lost through R2', parts: ['C1', 'R2'] },
    { name: '−1/s', says: 'integrates', parts: ['R5', 'C2', ...(form === 'notch' ? ['R6'] : [])] },
    { name: '−1', says: 'turns over, so that the loop opposes', parts: ['R7', 'R8'] },
  ];
}
