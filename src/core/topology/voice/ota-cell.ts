import { across, down, type Drawing, type PlacedPart, type Point } from '../kit/drawing';

/** One OTA with its dividers, its capacitor and the follower behind it. */
export interface OtaCell {
  readonly ota: string;
  readonly follower: string;
  readonly input: string;
  readonly output: string;
  /** Divider of the input; none where the plus is at rest. */
  readonly forward: readonly [string, string] | null;
  /** Divider of what is taken off, and the net it comes from; null: from its own output. */
  readonly back: readonly [string, string];
  /** Where that is the input, it only integrates: the signal comes in at the minus. */
  readonly backFrom: string | null;
  /** What else is taken off there. */
  readonly besides?: { readonly part: string; readonly from: string };
  readonly capacitor: string;
  /** Where the capacitor’s other end goes; null: to ground. */
  readonly capacitorTo?: string | null;
}

const WIDTH = 44;
/** Where a net comes in: clear of the first resistor’s value. */
const EDGE = -3;
const HEIGHT = 18;
const MORE = 5;

export type Pieces = {
  parts: PlacedPart[];
  opAmps: Drawing['opAmps'][number][];
  wires: Point[][];
  dots: Point[];
  grounds: Point[];
  ports: Drawing['ports'][number][];
};

const NONE: Pieces = { parts: [], opAmps: [], wires: [], dots: [], grounds: [], ports: [] };

/**
 * Cells under one another, joined by the names of nets, with the control current at their foot; before them, what else
 * there is, so high.
 */
export function otaCells(
  cells: readonly OtaCell[],
  control: string,
  before?: { readonly pieces: Pieces; readonly height: number },
): Drawing {
  const { pieces } = before ?? { pieces: NONE };
  const all: Pieces = {
    parts: [...pieces.parts],
    opAmps: [...pieces.opAmps],
    wires: [...pieces.wires],
    dots: [...pieces.dots],
    grounds: [...pieces.grounds],
    ports: [...pieces.ports],
  };
  let y = before?.height ?? 0;
  for (const cell of cells) {
    place(all, cell, y);
    y += HEIGHT + (cell.besides ? MORE : 0);
  }
  all.parts.push(across(control, 'current', 8, y + 3));
  all.wires.push(
    [
      [3, y + 3],
      [6, y + 3],
    ],
    [
      [10, y + 3],
      [14, y + 3],
    ],
  );
  all.grounds.push([3, y + 3]);
  all.ports.push({ label: 'to every OTA’s control', at: [14.4, y + 1.8], side: 'left' });
  return { width: WIDTH, height: y + 7, ...all };
}

function place({ parts, opAmps, wires, dots, grounds, ports }: Pieces, cell: OtaCell, y: number): void {
  const at = (x: number, dy: number): Point => [x, y + dy];
  const port = (label: string, where: Point, side: 'left' | 'right') =>
    ports.push({ label, at: where, side, net: label });
  opAmps.push(
    { name: cell.ota, at: at(20, 5.5), plusOnTop: true },
    { name: cell.follower, at: at(34, 7), plusOnTop: true },
  );
  if (cell.forward) {
    const [inLine, leg] = cell.forward;
    parts.push(across(inLine, 'resistor', 4, y + 4), down(leg, 'resistor', 9, y + 8, 'left'));
    wires.push([at(EDGE, 4), at(2, 4)], [at(6, 4), at(17, 4)], [at(9, 4), at(9, 6)]);
    dots.push(at(9, 4));
    grounds.push(at(9, 10));
    port(cell.input, at(EDGE, 4), 'left');
  } else {
    wires.push([at(17, 4), at(12, 4), at(12, 4.6)]);
    grounds.push(at(12, 4.6));
  }
  const [back, backLeg] = cell.back;
  if (cell.backFrom === cell.input) {
    // An integrator: the divider stands before the minus.
    parts.push(across(back, 'resistor', 4, y + 7), down(backLeg, 'resistor', 9, y + 11, 'left'));
    wires.push([at(EDGE, 7), at(2, 7)], [at(6, 7), at(17, 7)], [at(9, 7), at(9, 9)]);
    dots.push(at(9, 7));
    grounds.push(at(9, 13));
    port(cell.input, at(EDGE, 7), 'left');
    return finish();
  }
  // What is taken off: the leg under the minus, the resistor along the foot.
  parts.push(down(backLeg, 'resistor', 14, y + 11, 'left'), across(back, 'resistor', 23, y + 14.5));
  wires.push([at(17, 7), at(14, 7), at(14, 9)], [at(16, 7), at(16, 14.5), at(21, 14.5)]);
  dots.push(at(16, 7));
  grounds.push(at(14, 13));
  if (cell.backFrom === null) {
    wires.push([at(25, 14.5), at(40, 14.5), at(40, 7)]);
    dots.push(at(40, 7));
  } else {
    wires.push([at(25, 14.5), at(32, 14.5)]);
    port(cell.backFrom, at(32, 14.5), 'right');
  }
  if (cell.besides) {
    parts.push(across(cell.besides.part, 'resistor', 23, y + 19.5));
    wires.push([at(16, 14.5), at(16, 19.5), at(21, 19.5)], [at(25, 19.5), at(32, 19.5)]);
    dots.push(at(16, 14.5));
    port(cell.besides.from, at(32, 19.5), 'right');
  }
  finish();

  function finish(): void {
    parts.push(down(cell.capacitor, 'capacitor', 27, y + 9, 'left'));
    wires.push(
      [at(23, 5.5), at(31, 5.5)],
      [at(27, 5.5), at(27, 7)],
      [at(31, 8.5), at(30, 8.5), at(30, 11), at(37.6, 11), at(37.6, 7)],
      [at(37, 7), at(43, 7)],
    );
    dots.push(at(27, 5.5), at(37.6, 7));
    if (cell.capacitorTo) {
      wires.push([at(27, 11), at(27, 11.4)]);
      ports.push({ label: cell.capacitorTo, at: at(27, 11.4), side: 'left', net: cell.capacitorTo });
    } else grounds.push(at(27, 11));
    port(cell.output, at(43, 7), 'right');
  }
}
