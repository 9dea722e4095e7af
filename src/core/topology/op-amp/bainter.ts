import { defineSection } from '../kit/define-section';
import { nullRatio, type SectionTarget } from '../../filter/section';
import type { SectionTopology } from '../kit/define-topology';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import { BLOCK, finished, followerBlock, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, down, type Drawing } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';

/** Both capacitors at the follower's input: the one from the input, and the one that takes gain away. */
const atFollower = ({ C2, C3 }: PartValues): number => C2 + (C3 ?? 0);

/**
 * Node equations at the integrator's virtual ground and at the follower's input, with C = C2 + C3:
 * H = [s² C2/C + (R2/R1)/(R3 R5 C1 C)] / [s² + s/(R5 C) + 1/(R4 R5 C1 C)].
 * J. R. Bainter, Active Filter Has Stable Notch, and Response Can Be Regulated, Electronics 48, 1975.
 */
function closedForm(v: PartValues): ClosedForm {
  const c = atFollower(v);
  const omega = 1 / Math.sqrt(v.R4 * v.R5 * v.C1 * c);
  const zero = Math.sqrt(v.R2 / v.R1 / (v.R3 * v.R5 * v.C1 * v.C2));
  return {
    freqHz: omega / (2 * Math.PI),
    q: omega * c * v.R5,
    zeroHz: zero / (2 * Math.PI),
    gain: zero >= omega ? (v.R2 * v.R4) / (v.R1 * v.R3) : v.C2 / c,
  };
}

/** Of itself it passes high frequencies with gain 1, low ones with the square of the null's ratio. */
const naturalGain = (target: Pick<SectionTarget, 'zeroHz' | 'freqHz'>): number => Math.max(1, nullRatio(target) ** 2);

function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const square = nullRatio(target) ** 2;
  const C1 = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(freqHz))
    : q / (omega * context.resistor('R5', LEVEL_OHM * Math.max(1, q)));
  const c = context.capacitorsFirst ? context.capacitor('C2', C1) : C1;
  const passed = gain / naturalGain(target);
  const R5 = q / (omega * c);
  const R4 = 1 / (omega * omega * R5 * C1 * c);
  const R1 = context.resistor('R1', LEVEL_OHM);
  const parts: Record<string, number> = { R1, R2: R1, R3: R4 / (passed * square), R4, R5, C1, C2: passed * c };
  if (passed < 1 - 1e-9) parts.C3 = (1 - passed) * c;
  return context.meet(target, parts, [...(context.capacitorsFirst ? ['C1', 'C2', 'C3'] : ['R5']), 'R1'], closedForm);
}

function drawing(parts: PartValues): Drawing {
  const drawn = sketch();
  const y = 13;
  invertingBlock(drawn, 2, y, 'U1', ['R1', 'resistor'], [['R2', 'resistor']]);
  const second = invertingBlock(drawn, 2 + BLOCK, y + 1.5, 'U2', ['R3', 'resistor'], [['C1', 'capacitor']]);
  const third = followerBlock(drawn, 2 + 2 * BLOCK, y + 3, 'U3', ['R5', 'resistor']);
  const [loop, low] = [y - 8, y + 13];
  drawn.parts.push(across('R4', 'resistor', 36, loop), across('C2', 'capacitor', 22, low));
  drawn.wires.push(
    [
      [0, y],
      [2, y],
    ],
    [
      [second.sum[0], second.row(0)],
      [second.sum[0], loop],
      [34, loop],
    ],
    [[38, loop], [third.out[0], loop], third.out],
    [
      [1.9, y],
      [1.9, low],
      [20, low],
    ],
    [[24, low], [third.sum[0], low], third.sum],
  );
  drawn.dots.push([1.9, y], third.sum);
  if (parts.C3 !== undefined) {
    drawn.parts.push(down('C3', 'capacitor', third.sum[0], low + 3));
    drawn.wires.push([
      [third.sum[0], low],
      [third.sum[0], low + 1],
    ]);
    drawn.dots.push([third.sum[0], low]);
    drawn.grounds.push([third.sum[0], low + 5]);
  }
  return finished(drawn, 53, parts.C3 === undefined ? 31 : 34, [0, y], third.out);
}

export const bainter = defineSection({
  id: 'bainter',
  name: 'Bainter, finite zero',
  shortName: 'Bainter',
  words: ['notch', 'elliptic', 'Cauer', 'low-pass notch', 'high-pass notch', 'finite zero', 'transmission zero'],
  family: 'op-amp',
  responses: ['notch'],
  order: 2,
  opAmps: () => 3,
  polarity: 1,
  reason: 'A null below, at or above the natural frequency, whose depth needs no matching: gain alone makes it.',
  cautions: [
    'With the null above, low frequencies come out with the square of the ratio: watch the headroom, or ' +
      'let C3 take it away.',
    'R4 and R5 stand Q² apart.',
  ],
  sources: ['J. R. Bainter, Active Filter Has Stable Notch, and Response Can Be Regulated, Electronics 48, 1975'],
  gainRange: (target) => ({ min: 0.001 * naturalGain(target), natural: naturalGain(target), max: naturalGain(target) }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'into the inverter', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'around the inverter', leaveOut: 'short' },
    { name: 'R3', kind: 'resistor', role: 'the inverted input, into the integrator: sets the null', leaveOut: 'open' },
    { name: 'R4', kind: 'resistor', role: 'closes the loop: sets the frequency', leaveOut: 'open' },
    { name: 'R5', kind: 'resistor', role: 'in line, to the follower: sets Q', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'integrates', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'from the input to the follower', leaveOut: 'open' },
    { name: 'C3', kind: 'capacitor', role: 'divider leg that takes gain away', leaveOut: 'open' },
  ],
  design,
  closedForm: (_response, parts) => closedForm(parts),
  build({ input, output, ground, reference, has, node, part, opAmp }) {
    const [n1, u1, n2, u2, p] = [node('n1'), node('u1'), node('n2'), node('u2'), node('p')];
    part('R1', input, n1);
    part('R2', n1, u1);
    opAmp('U1', reference, n1, u1);
    part('R3', u1, n2);
    part('R4', output, n2);
    part('C1', n2, u2);
    opAmp('U2', reference, n2, u2);
    part('R5', u2, p);
    part('C2', input, p);
    if (has('C3')) part('C3', p, ground);
    opAmp('U3', p, output, output);
  },
  working(_target, v) {
    const got = closedForm(v);
    const c = v.C3 === undefined ? 'C_2' : '(C_2 + C_3)';
    return [
      {
        says: 'natural frequency',
        tex: `f_0 = \\frac{1}{2\\pi\\sqrt{R_4 R_5 C_1 ${c}}}`,
        value: format.hertz(got.freqHz ?? 0),
      },
      { says: 'damping', tex: `Q = \\omega_0 R_5 ${c}`, value: `Q = ${format.ratio(got.q ?? 0)}` },
      {
        says: 'null',
        tex: 'f_z = \\frac{1}{2\\pi}\\sqrt{\\frac{R_2/R_1}{R_3 R_5 C_1 C_2}}',
        value: format.hertz(got.zeroHz ?? 0),
      },
    ];
  },
  drawing: (_response, parts) => drawing(parts),
});
