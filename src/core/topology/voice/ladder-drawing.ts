import { across, down, type Drawing, type PlacedDevice, type PlacedPart, type Point } from '../kit/drawing';

/** Columns of the two sides, and of what holds the rungs. */
const [A, D, HOLD] = [14, 34, 29];
const RUNG = 8;
const FOOT = 40;
/** Where the amplifiers begin. */
const BELOW = 60;

/** What a side climbs through, and what holds it. */
export interface LadderMiddle {
  readonly parts: readonly PlacedPart[];
  readonly devices: readonly PlacedDevice[];
  readonly wires: readonly (readonly Point[])[];
  readonly dots: readonly Point[];
  readonly grounds: readonly Point[];
}

/** Height of a rung’s capacitor, from the foot (0) to the top (3). */
const rungY = (k: number): number => FOOT - RUNG * k;

/** Transistors: bases joined across, held by a chain of resistors. */
export function transistorRungs(): LadderMiddle {
  const devices: PlacedDevice[] = [];
  const wires: Point[][] = [
    [
      [A, 10],
      [A, 8],
      [D + 4, 8],
    ],
    [
      [D, 8],
      [D, 10],
    ],
  ];
  const dots: Point[] = [
    [HOLD, 8],
    [D, 8],
  ];
  const parts: PlacedPart[] = [down('R11', 'resistor', HOLD, 10, 'left')];
  for (let k = 0; k < 4; k++) {
    const y = rungY(k) - 4;
    devices.push(
      { name: `Q${3 + 2 * k}`, symbol: 'npn', at: [A + 1.5, y], mirrored: true },
      { name: `Q${4 + 2 * k}`, symbol: 'npn', at: [D - 1.5, y] },
    );
    wires.push(
      [
        [A, y + 2],
        [A, y + 4],
      ],
      [
        [D, y + 2],
        [D, y + 4],
      ],
      [
        [A + 3.5, y],
        [D - 3.5, y],
      ],
    );
    if (k < 3)
      wires.push(
        [
          [A, y - 2],
          [A, y - 4],
        ],
        [
          [D, y - 2],
          [D, y - 4],
        ],
      );
    dots.push([HOLD, y]);
  }
  ['R12', 'R13', 'R14'].forEach((name, i) => {
    const y = rungY(3 - i) - 4;
    hold(name, y);
    wires.push([
      [HOLD, y + 7.8],
      [HOLD, y + 8],
    ]);
  });
  hold('R15', rungY(0) - 4);
  return { parts, devices, wires, dots, grounds: [[HOLD, rungY(0) + 3.8]] };

  /** A resistor of the chain, under the rung’s capacitor, whose wire it crosses. */
  function hold(name: string, y: number): void {
    parts.push(down(name, 'resistor', HOLD, y + 5.8, 'left'));
    wires.push([
      [HOLD, y],
      [HOLD, y + 3.8],
    ]);
  }
}

/** Diodes: one on another, the top held under the rail. */
export function diodeRungs(): LadderMiddle {
  const devices: PlacedDevice[] = [];
  const wires: Point[][] = [
    [
      [A, 10],
      [A, 9],
      [D, 9],
      [D, 10],
    ],
  ];
  for (let k = 0; k < 4; k++) {
    const y = rungY(k) - 4;
    devices.push(
      { name: `D${1 + 2 * k}`, symbol: 'diode', at: [A, y], down: true },
      { name: `D${2 + 2 * k}`, symbol: 'diode', at: [D, y], down: true },
    );
    for (const x of [A, D]) {
      wires.push([
        [x, y + 2],
        [x, y + 4],
      ]);
      wires.push([
        [x, y - 2],
        [x, k === 3 ? 9 : y - 4],
      ]);
    }
  }
  return {
    parts: [down('R11', 'resistor', HOLD - 5, 5, 'left'), across('R12', 'resistor', 44, 9)],
    devices,
    wires: [
      ...wires,
      [
        [HOLD - 5, 2],
        [HOLD - 5, 3],
      ],
      [
        [HOLD - 5, 7],
        [HOLD - 5, 9],
      ],
      [
        [HOLD - 5, 2],
        [D + 4, 2],
      ],
      [
        [D, 9],
        [42, 9],
      ],
      [
        [46, 9],
        [47, 9],
      ],
    ],
    dots: [
      [HOLD - 5, 9],
      [D, 9],
    ],
    grounds: [[47, 9]],
  };
}

/**
 * The driven pair below, its tail, what is divided in and what comes back; and under it all the amplifiers that take
 * the difference, joined by the names of nets.
 */
export function drivenLadderDrawing(middle: LadderMiddle, railY: number): Drawing {
  const parts: PlacedPart[] = [
    ...middle.parts,
    across('R1', 'resistor', 4, 44),
    down('R2', 'resistor', 8, 48.5, 'left'),
    down('R10', 'resistor', 40, 48.5, 'right'),
    across('R9', 'resistor', 45, 44),
    down('I1', 'current', 24, 51.5, 'right'),
    across('R5', 'resistor', 16, BELOW + 4),
    across('R6', 'resistor', 28, BELOW),
    across('R7', 'resistor', 16, BELOW + 14),
    down('R8', 'resistor', 22, BELOW + 18.5, 'right'),
  ];
  const wires: (readonly Point[])[] = [
    ...middle.wires,
    [
      [0, 44],
      [2, 44],
    ],
    [
      [6, 44],
      [A - 3.5, 44],
    ],
    [
      [8, 44],
      [8, 46.5],
    ],
    [
      [D + 3.5, 44],
      [43, 44],
    ],
    [
      [40, 44],
      [40, 46.5],
    ],
    [
      [47, 44],
      [50, 44],
    ],
    [
      [A - 4, rungY(3)],
      [A, rungY(3)],
    ],
    [
      [D, rungY(3)],
      [D + 4, rungY(3)],
    ],
    [
      [A, FOOT],
      [A, 42],
    ],
    [
      [D, FOOT],
      [D, 42],
    ],
    [
      [A, 46],
      [A, 48.5],
      [D, 48.5],
      [D, 46],
    ],
    [
      [24, 48.5],
      [24, 49.5],
    ],
    [
      [24, 53.5],
      [24, 54.5],
      [30, 54.5],
    ],
    // Followers, then the difference.
    ...[4, 14].flatMap((dy): Point[][] => [
      [
        [1, BELOW + dy - 1.5],
        [4, BELOW + dy - 1.5],
      ],
      [
        [4, BELOW + dy + 1.5],
        [3.2, BELOW + dy + 1.5],
        [3.2, BELOW + dy + 4],
        [10.6, BELOW + dy + 4],
        [10.6, BELOW + dy],
      ],
      [
        [10, BELOW + dy],
        [14, BELOW + dy],
      ],
    ]),
    [
      [18, BELOW + 4],
      [26, BELOW + 4],
    ],
    [
      [20, BELOW + 4],
      [20, BELOW],
      [26, BELOW],
    ],
    [
      [30, BELOW],
      [35, BELOW],
      [35, BELOW + 5.5],
    ],
    [
      [32, BELOW + 5.5],
      [40, BELOW + 5.5],
    ],
    [
      [18, BELOW + 14],
      [22, BELOW + 14],
    ],
    [
      [22, BELOW + 16.5],
      [22, BELOW + 7],
      [26, BELOW + 7],
    ],
  ];
  for (let k = 0; k < 4; k++) {
    parts.push(across(`C${k + 1}`, 'capacitor', 21, rungY(k)));
    (wires as Point[][]).push(
      [
        [A, rungY(k)],
        [19, rungY(k)],
      ],
      [
        [23, rungY(k)],
        [D, rungY(k)],
      ],
    );
  }
  return {
    width: 54,
    height: BELOW + 23,
    parts,
    wires,
    opAmps: [
      { name: 'U2', at: [7, BELOW + 4], plusOnTop: true },
      { name: 'U3', at: [7, BELOW + 14], plusOnTop: true },
      { name: 'U1', at: [29, BELOW + 5.5], plusOnTop: false },
    ],
    devices: [
      ...middle.devices,
      { name: 'Q1', symbol: 'npn', at: [A - 1.5, 44] },
      { name: 'Q2', symbol: 'npn', at: [D + 1.5, 44], mirrored: true },
    ],
    dots: [
      ...middle.dots,
      [8, 44],
      [40, 44],
      [24, 48.5],
      [10.6, BELOW + 4],
      [10.6, BELOW + 14],
      [20, BELOW + 4],
      [35, BELOW + 5.5],
      [22, BELOW + 14],
      ...[0, 1, 2, 3].flatMap((k): Point[] => [
        [A, rungY(k)],
        [D, rungY(k)],
      ]),
    ],
    grounds: [...middle.grounds, [8, 50.5], [40, 50.5], [22, BELOW + 20.5]],
    ports: [
      { label: 'in', at: [0, 44], side: 'left' },
      { label: 'out', at: [50, 44], side: 'right' },
      { label: 'out', at: [40, BELOW + 5.5], side: 'right' },
      { label: '+V', at: [D + 4, railY], side: 'right' },
      { label: '−V', at: [30, 54.5], side: 'right' },
      { label: 'a3', at: [1, BELOW + 2.5], side: 'left', net: 'a3' },
      { label: 'd3', at: [1, BELOW + 12.5], side: 'left', net: 'd3' },
      { label: 'a3', at: [A - 4, rungY(3)], side: 'left', net: 'a3' },
      { label: 'd3', at: [D + 4, rungY(3)], side: 'right', net: 'd3' },
    ],
    nodes: [0, 1, 2]
      .flatMap((k) => [
        { node: `a${k}`, at: [A - 0.6, rungY(k) + 0.4] as Point, side: 'left' as const },
        { node: `d${k}`, at: [D + 0.6, rungY(k) + 0.4] as Point, side: 'right' as const },
      ])
      .concat([
        { node: 'tail', at: [A + 0.6, 50] as Point, side: 'right' as const },
        { node: 'b2', at: [D + 4, 43.4] as Point, side: 'right' as const },
      ]),
  };
}
