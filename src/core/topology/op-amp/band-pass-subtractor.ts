import { defineSection } from '../kit/define-section';
import { failure } from '../../result';
import { nullRatio, type FilterResponse } from '../../filter/section';
import { LEVEL_OHM } from '../kit/design-context';
import { invertingBlock, sketch } from '../kit/drawing-blocks';
import { across } from '../kit/drawing';
import { bandPassClosedForm, bandPassDrawing, bandPassParts, highestGain } from './multiple-feedback-band-pass';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';

/** How often the band-pass is taken away: once leaves a null, twice an all-pass. */
const timesOf = (response: FilterResponse): number => (response === 'notch' ? 1 : 2);

/**
 * Out = −(R5/R4)·(1 − x·B), B the band-pass of gain 1, x = G·R4/R3 with G its gain: x = 1 is a notch, x = 2 an all-pass
 * (R. Schaumann, H. Xiao, M. Van Valkenburg, Design of Analog Filters, 5.3).
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const band = bandPassClosedForm(v);
  return {
    ...band,
    gain: v.R5 / v.R4,
    balance: (band.gain * v.R4) / v.R3 / timesOf(response),
    ...(response === 'notch' ? { zeroHz: band.freqHz } : {}),
  };
}

export const bandPassSubtractor = defineSection({
  id: 'band-pass-subtractor',
  name: 'Band-pass taken away',
  shortName: '1 − band-pass',
  words: ['notch', 'all-pass', 'second-order all-pass', 'phase', 'delay equaliser', 'one minus band-pass'],
  family: 'op-amp',
  responses: ['allpass', 'notch'],
  order: 2,
  opAmps: () => 2,
  polarity: -1,
  reason: 'What a band-pass passes, taken away once, leaves a null; taken away twice, only the phase.',
  cautions: [
    'R3 sets the depth of the null, or the evenness of the level: make it adjustable.',
    'A null apart from the natural frequency needs another circuit.',
  ],
  sources: ['R. Schaumann, H. Xiao, M. Van Valkenburg, Design of Analog Filters, 2nd ed., 5.3'],
  gainRange: () => ({ min: 0.05, natural: 1, max: 20 }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line, into the band-pass', leaveOut: 'open' },
    { name: 'R1b', kind: 'resistor', role: 'divider leg; tunes the centre', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'fed back; sets the bandwidth', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'fed back to the first node', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'in line, to the virtual ground', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'takes the band-pass away', leaveOut: 'open' },
    { name: 'R4', kind: 'resistor', role: 'the signal itself', leaveOut: 'open' },
    { name: 'R5', kind: 'resistor', role: 'fed back; sets the gain', leaveOut: 'open' },
  ],
  design(target, context) {
    if (target.response === 'notch' && Math.abs(nullRatio(target) - 1) > 1e-9)
      return failure('null-apart', { ratio: nullRatio(target) });
    const gain = Math.min(1, highestGain(target.q));
    const band = bandPassParts({ ...target, gain }, context);
    const R4 = context.resistor('R4', LEVEL_OHM);
    return context.meet(
      target,
      { ...band, R3: (gain * R4) / timesOf(target.response), R4, R5: target.gain * R4 },
      [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R2']), 'R4'],
      (parts) => closedForm(target.response, parts),
    );
  },
  closedForm,
  build({ input, output, reference, has, node, part, opAmp }) {
    const [a, n, b, m] = [node('a'), node('n'), node('band'), node('m')];
    part('R1', input, a);
    if (has('R1b')) part('R1b', a, reference);
    part('C1', a, b);
    part('C2', a, n);
    part('R2', n, b);
    opAmp('U1', reference, n, b);
    part('R3', b, m);
    part('R4', input, m);
    part('R5', m, output);
    opAmp('U2', reference, m, output);
  },
  working(target, v) {
    const got = closedForm(target.response, v);
    const leg = v.R1b === undefined ? 'R_1' : '(R_1 \\parallel R_{1b})';
    return [
      {
        says: 'natural frequency',
        tex: `f_0 = \\frac{1}{2\\pi \\sqrt{${leg} R_2 C_1 C_2}}`,
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'damping',
        tex: 'Q = \\pi f_0 R_2 \\cdot \\frac{2\\,C_1 C_2}{C_1 + C_2}',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      {
        says: 'taken away',
        tex: 'x = \\frac{R_2}{R_1}\\cdot\\frac{C_2}{C_1 + C_2}\\cdot\\frac{R_4}{R_3}',
        value: format.ratio((got.balance ?? 1) * timesOf(target.response)),
      },
      { says: 'gain', tex: '-\\frac{R_5}{R_4}', value: `−${format.ratio(got.gain)}` },
    ];
  },
  drawing(_response, parts) {
    const band = bandPassDrawing(parts);
    const drawn = sketch();
    const sum = invertingBlock(drawn, 29, 11.5, 'U2', ['R3', 'resistor'], [['R5', 'resistor']]);
    const low = 20.5;
    drawn.parts.push(across('R4', 'resistor', 22, low));
    drawn.wires.push(
      [
        [0, 10],
        [0, low],
        [20, low],
      ],
      [[24, low], [sum.sum[0], low], sum.sum],
    );
    return {
      width: 48,
      height: 24,
      parts: [...band.parts, ...drawn.parts],
      opAmps: [...band.opAmps, ...drawn.opAmps],
      wires: [
        ...band.wires.filter((w) => w[0][0] !== 25),
        [
          [25, 11.5],
          [29, 11.5],
        ],
        ...drawn.wires,
        [sum.out, [47, 13]],
      ],
      dots: [...band.dots, ...drawn.dots, [0, 10]],
      grounds: [...band.grounds, ...drawn.grounds],
      ports: [
        { label: 'in', at: [0, 10], side: 'left' },
        { label: 'out', at: [47, 13], side: 'right' },
      ],
    };
  },
});
