import type { BuildContext, PartSpec } from '../../kit/define-topology';
import { across, down } from '../../kit/drawing';
import type { Sketch } from '../../kit/drawing-blocks';

/** What a chain of controls begins with: a knob, a jack for pitch, one for modulation with its attenuator. */
export const INPUT_PARTS: readonly PartSpec[] = [
  { name: 'Jc1', kind: 'voltage', role: 'pitch CV', leaveOut: 'open', given: true },
  { name: 'Jc2', kind: 'voltage', role: 'modulation CV', leaveOut: 'open', given: true },
  { name: 'Pc1', kind: 'potentiometer', role: 'cutoff', leaveOut: 'open' },
  { name: 'Pc2', kind: 'potentiometer', role: 'modulation depth', leaveOut: 'open' },
  { name: 'Rc1', kind: 'resistor', role: 'pitch in', leaveOut: 'open' },
  { name: 'Rc2', kind: 'resistor', role: 'modulation in', leaveOut: 'open' },
  { name: 'Rc3', kind: 'resistor', role: 'knob in', leaveOut: 'open' },
];

/** Which of them is what, as a chain declares it. */
export const INPUT_ROLES = { pitch: 'Jc1', knob: 'Pc1', closed: ['Pc2'] } as const;

/** @param sum where they add up. @param sleeve of the jacks. @param low where the knob is turned down to. */
export function placeInputs({ node, part, pot, jack, plus }: BuildContext, sum: string, sleeve: string, low: string) {
  const [pitch, depth, wiper, knob] = ['pitch', 'depth', 'depth-wiper', 'knob'].map((n) => node(`cv-${n}`));
  jack('Jc1', pitch, sleeve);
  part('Rc1', pitch, sum);
  jack('Jc2', depth, sleeve);
  pot('Pc2', sleeve, wiper, depth);
  part('Rc2', wiper, sum);
  pot('Pc1', low, knob, plus);
  part('Rc3', knob, sum);
}

/** Where inputs add up in the drawing, and the height at which an op-amp's input takes them. */
export const BUS_X = 24;
export const INTO_Y = 15;
/** A foot: ground, or a net by its name. */
export function footAt({ grounds, ports, wires }: Sketch, x: number, y: number, name: string | null): void {
  if (name === null) grounds.push([x, y]);
  else {
    wires.push([
      [x, y],
      [x - 4, y],
    ]);
    ports.push({ label: name, at: [x - 4, y], side: 'left', net: 'common' });
  }
}

/** @param sleeve null: ground. @param low of the knob: null for the minus rail. */
export function drawInputs(into: Sketch, sleeve: string | null, low: 'minus' | 'sleeve'): void {
  const { parts, wires, dots, ports } = into;
  parts.push(
    down('Jc1', 'voltage', 4, 6, 'right'),
    across('Rc1', 'resistor', 16, 4),
    down('Jc2', 'voltage', 4, 15, 'right'),
    { part: 'Pc2', kind: 'potentiometer', at: [13, 15], vertical: true, label: 'left', wiper: 'right' },
    across('Rc2', 'resistor', 19, INTO_Y),
    { part: 'Pc1', kind: 'potentiometer', at: [13, 25], vertical: true, label: 'left', wiper: 'right' },
    across('Rc3', 'resistor', 19, 25),
  );
  wires.push(
    [
      [4, 4],
      [14, 4],
    ],
    [
      [18, 4],
      [BUS_X, 4],
      [BUS_X, 25],
      [21, 25],
    ],
    [
      [4, 13],
      [4, 12],
      [13, 12],
      [13, 13],
    ],
    [
      [15, INTO_Y],
      [17, INTO_Y],
    ],
    [
      [21, INTO_Y],
      [BUS_X, INTO_Y],
    ],
    [
      [15, 25],
      [17, 25],
    ],
    [
      [13, 23],
      [13, 22],
      [9, 22],
    ],
  );
  dots.push([BUS_X, INTO_Y]);
  ports.push({ label: '+V', at: [9, 22], side: 'left' });
  footAt(into, 4, 8, sleeve);
  footAt(into, 4, 17, sleeve);
  footAt(into, 13, 17, sleeve);
  if (low === 'sleeve') footAt(into, 13, 27, sleeve);
  else {
    wires.push([
      [13, 27],
      [13, 28],
      [9, 28],
    ]);
    ports.push({ label: '−V', at: [9, 28], side: 'left' });
  }
}
