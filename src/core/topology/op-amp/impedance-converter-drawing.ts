import { across, down, type Drawing, type PlacedPart, type Point } from '../kit/drawing';
import type { PartKind, PartValues } from '../kit/part';

type Place = readonly [name: string, kind: PartKind];
/** What stands at a converter's head, in line from the input, as its leg and to ground, and the five of its chain. */
export interface Places {
  readonly chain: readonly Place[];
  readonly inLine: Place;
  readonly leg: string;
  readonly shunt: Place;
}

/** Height of the chain. */
const Y = 12;

/** The lists that a drawing of a converter grows in, from its input in line up to its output. */
interface Drawn extends Pick<Drawing, 'opAmps'> {
  readonly parts: PlacedPart[];
  readonly wires: Point[][];
  readonly dots: Point[];
  readonly grounds: Point[];
  readonly output: Point;
}

/** The chain under and over its two op-amps, so far from the left, and what leads to it from the input. */
function drawnChain(inLine: Place, chain: readonly Place[], right: number): Drawn {
  const from = (x: number, y: number): Point => [x + right, y];
  const foot = chain[4];
  return {
    parts: [
      across(...inLine, 4, Y),
      ...chain.slice(0, 4).map(([name, kind], i) => across(name, kind, 18 + 6 * i + right, Y)),
      down(...foot, 43 + right, Y + 3, 'right'),
    ],
    opAmps: [
      { name: 'U1', at: from(24, 5), plusOnTop: true },
      { name: 'U2', at: from(32, 20), plusOnTop: false },
    ],
    wires: [
      [
        [0, Y],
        [2, Y],
      ],
      [[6, Y], from(16, Y)],
      [from(20, Y), from(22, Y)],
      [from(26, Y), from(28, Y)],
      [from(32, Y), from(34, Y)],
      [from(38, Y), from(43, Y), from(43, Y + 1)],
      [from(15, Y), from(15, 3.5), from(21, 3.5)],
      [from(27, Y), from(27, 8.5), from(20, 8.5), from(20, 6.5), from(21, 6.5)],
      [from(27, 5), from(33, 5), from(33, Y)],
      [from(33, 5), from(48, 5)],
      [from(27, Y), from(27, 18.5), from(29, 18.5)],
      [from(39, Y), from(39, 26), from(28, 26), from(28, 21.5), from(29, 21.5)],
      [from(35, 20), from(36.5, 20), from(36.5, 24), from(21, 24), from(21, Y)],
    ],
    dots: [8.5, 15 + right, 21 + right, 27 + right, 33 + right, 39 + right]
      .map((x): Point => [x, Y])
      .concat([from(33, 5)]),
    grounds: [],
    output: from(48, 5),
  };
}

export function converterDrawing({ chain, inLine, leg, shunt }: Places, values: PartValues): Drawing {
  const { output, ...drawn } = drawnChain(inLine, chain, 0);
  drawn.parts.push(down(...shunt, 8.5, Y + 4, 'left'));
  drawn.wires.push([
    [8.5, Y],
    [8.5, Y + 2],
  ]);
  drawn.grounds.push([8.5, Y + 6], [43, Y + 5]);
  if (values[leg] !== undefined) {
    drawn.parts.push(down(leg, inLine[1], 12.5, Y + 4, 'right'));
    drawn.wires.push([
      [12.5, Y],
      [12.5, Y + 2],
    ]);
    drawn.dots.push([12.5, Y]);
    drawn.grounds.push([12.5, Y + 6]);
  }
  return {
    width: 52,
    height: 28,
    ...drawn,
    ports: [
      { label: 'in', at: [0, Y], side: 'left' },
      { label: 'out', at: output, side: 'right' },
    ],
  };
}

const NOTCH_CHAIN: readonly Place[] = [
  ['R1', 'resistor'],
  ['C2', 'capacitor'],
  ['R3', 'resistor'],
  ['R4', 'resistor'],
  ['R5', 'resistor'],
];

/** The notch's feet stand on the input: named there, so that three wires to it need not cross the op-amps. */
export function notchDrawing(values: PartValues): Drawing {
  const { output, ...drawn } = drawnChain(['Rq', 'resistor'], NOTCH_CHAIN, 6);
  const [resonates, lowers] = [
    [8.5, Y + 13.5],
    [49, Y + 7],
  ] as const;
  drawn.parts.push(down('Rqb', 'resistor', 15, Y + 10, 'left'), down('C1', 'capacitor', 8.5, Y + 10, 'left'));
  drawn.wires.push(
    [
      [8.5, Y],
      [8.5, Y + 8],
    ],
    [
      [15, Y],
      [15, Y + 8],
    ],
    [[49, Y + 5], lowers],
    [[8.5, Y + 12], resonates],
  );
  drawn.dots.push([15, Y]);
  drawn.grounds.push([15, Y + 12]);
  if (values.C1b !== undefined) {
    drawn.parts.push(down('C1b', 'capacitor', 21, Y + 15.5, 'left'));
    drawn.wires.push([
      [21, Y],
      [21, Y + 13.5],
    ]);
    drawn.grounds.push([21, Y + 17.5]);
  }
  if (values.R5b !== undefined) {
    drawn.parts.push(down('R5b', 'resistor', 58, Y + 3, 'right'));
    drawn.wires.push([
      [49, Y],
      [58, Y],
      [58, Y + 1],
    ]);
    drawn.dots.push([49, Y]);
    drawn.grounds.push([58, Y + 5]);
  }
  return {
    width: values.R5b === undefined ? 58 : 67,
    height: 32,
    ...drawn,
    ports: [
      { label: 'in', at: [0, Y], side: 'left' },
      { label: 'in', at: lowers, side: 'left' },
      { label: 'in', at: resonates, side: 'left' },
      { label: 'out', at: output, side: 'right' },
    ],
  };
}
