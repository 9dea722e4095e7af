import { defineSection } from '../kit/define-section';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down } from '../kit/drawing';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';

/** H = (1 − ρ s R1 C1)/(1 + s R1 C1) with ρ = Rb/Ra, which must be 1: the size is then the same at every frequency. */
const closedForm = ({ R1, C1, Ra, Rb }: PartValues): ClosedForm => ({
  freqHz: 1 / (2 * Math.PI * R1 * C1),
  gain: 1,
  balance: Rb / Ra,
});

export const firstOrderAllPass = defineSection({
  id: 'first-order-all-pass',
  name: 'First-order all-pass',
  shortName: 'All-pass, RC',
  words: ['phase shifter', 'phase', 'delay', 'all-pass', '90 degrees'],
  family: 'op-amp',
  responses: ['allpass'],
  order: 1,
  opAmps: () => 1,
  polarity: 1,
  reason: 'Turns the phase from 0 to −180° and leaves the level alone; −90° at its corner.',
  cautions: ['Ra and Rb must be equal: what they differ by is a ripple in the level.'],
  sources: ['U. Tietze, C. Schenk, Electronic Circuits, 2nd ed., 13.10'],
  gainRange: () => ({ min: 1, natural: 1, max: 1 }),
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line; with C1, the corner', leaveOut: 'short' },
    { name: 'C1', kind: 'capacitor', role: 'to ground', leaveOut: 'open' },
    { name: 'Ra', kind: 'resistor', role: 'to the inverting input; equal to Rb', leaveOut: 'open' },
    { name: 'Rb', kind: 'resistor', role: 'fed back; equal to Ra', leaveOut: 'short' },
  ],
  design(target, context) {
    const omega = 2 * Math.PI * target.freqHz;
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(target.freqHz))
      : 1 / (omega * context.resistor('R1', LEVEL_OHM));
    const Ra = context.pinned('Ra') ?? context.pinned('Rb') ?? context.resistor('Ra', LEVEL_OHM);
    return context.meet(
      target,
      { R1: 1 / (omega * C1), C1, Ra, Rb: Ra },
      [context.capacitorsFirst ? 'C1' : 'R1', 'Ra'],
      closedForm,
    );
  },
  closedForm: (_response, parts) => closedForm(parts),
  build({ input, output, ground, node, part, opAmp }) {
    const [p, n] = [node('p'), node('n')];
    part('R1', input, p);
    part('C1', p, ground);
    part('Ra', input, n);
    part('Rb', n, output);
    opAmp('U1', p, n, output);
  },
  working(_target, v) {
    return [
      { says: '−90° at', tex: 'f = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(closedForm(v).freqHz ?? 0) },
      { says: 'level', tex: '\\frac{R_b}{R_a} = 1', value: format.ratio(v.Rb / v.Ra) },
    ];
  },
  drawing: () => ({
    width: 32,
    height: 21,
    parts: [
      across('Ra', 'resistor', 8, 9),
      across('Rb', 'resistor', 20, 4),
      across('R1', 'resistor', 8, 14),
      down('C1', 'capacitor', 13, 17),
    ],
    opAmps: [{ name: 'U1', at: [20, 11.5], plusOnTop: false }],
    wires: [
      [
        [0, 9],
        [6, 9],
      ],
      [
        [3, 9],
        [3, 14],
        [6, 14],
      ],
      [
        [10, 9],
        [16, 9],
        [16, 10],
        [17, 10],
      ],
      [
        [14, 9],
        [14, 4],
        [18, 4],
      ],
      [
        [22, 4],
        [26, 4],
        [26, 11.5],
      ],
      [
        [10, 14],
        [16, 14],
        [16, 13],
        [17, 13],
      ],
      [
        [13, 14],
        [13, 15],
      ],
      [
        [23, 11.5],
        [30, 11.5],
      ],
    ],
    dots: [
      [3, 9],
      [14, 9],
      [26, 11.5],
      [13, 14],
    ],
    grounds: [[13, 19]],
    ports: [
      { label: 'in', at: [0, 9], side: 'left' },
      { label: 'out', at: [30, 11.5], side: 'right' },
    ],
  }),
});
