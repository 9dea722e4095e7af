import { windingOf, type Grade } from './grades';
import type { PartKind } from '../topology/kit/part';

/** A part to be put on a board. */
export interface BoardPart {
  readonly name: string;
  readonly kind: PartKind;
  readonly value: number;
  readonly grade: Grade | undefined;
}
/**
 * Parts that go together: in line with the driver (several are side by side), or from the line to the common conductor
 * (one behind the other, or side by side).
 */
export interface BoardGroup {
  readonly inLine: boolean;
  readonly sideBySide: boolean;
  readonly parts: readonly BoardPart[];
}
export interface BoardWay {
  readonly name: string;
  readonly reversed: boolean;
  readonly groups: readonly BoardGroup[];
}

export const LAYOUTS = ['ways apart, common conductor between', 'one row for each way', 'two boards'] as const;
export type Layout = (typeof LAYOUTS)[number];

/** A part in its place, mm from the board's upper left corner: its middle, its size, and how a coil stands. */
export interface PlacedOnBoard {
  readonly way: number;
  readonly name: string;
  readonly kind: PartKind;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly stands: 'flat' | 'on edge, along' | 'on edge, across' | null;
}
export interface BoardPlan {
  readonly width: number;
  readonly height: number;
  readonly parts: readonly PlacedOnBoard[];
  /** Conductors as lines, mm. */
  readonly wires: readonly (readonly (readonly [number, number])[])[];
  readonly terminals: readonly { readonly label: string; readonly x: number; readonly y: number }[];
  /** Where two boards part, mm; null for one. */
  readonly cut: number | null;
  /** Pairs of coils, nearest first: distance between middles (mm), and whether they stand square to one another. */
  readonly coils: readonly {
    readonly first: string;
    readonly second: string;
    readonly distance: number;
    readonly square: boolean;
  }[];
}

/** mm: edge of the board, between parts, between coils at least. */
const EDGE = 14;
const GAP = 10;
const TERMINAL = 12;

/**
 * Size of a part as it lies, mm: coils by their winding (2.5 times the mean radius across, side 2/3 of it), film
 * capacitors by their value, resistors as wirewound ones are.
 */
function sizeOnBoard({ kind, value, grade }: Pick<BoardPart, 'kind' | 'value' | 'grade'>): {
  width: number;
  height: number;
} {
  if (kind === 'inductor') {
    const { radiusM } = windingOf(value, grade?.kind === 'inductor' ? grade : { wireMm: 1, core: 1 });
    const across = Math.round(1000 * radiusM * (2 + 2 / 3));
    return { width: across, height: across };
  }
  if (kind === 'capacitor') {
    const micro = value * 1e6;
    const small = grade?.id === 'electrolytic';
    const length = Math.round((small ? 18 : 26) + (small ? 6 : 9) * Math.sqrt(micro) * 0.7);
    return { width: Math.min(75, length), height: Math.round(Math.min(45, (small ? 9 : 12) + 4 * Math.sqrt(micro))) };
  }
  const watts = grade?.kind === 'resistor' ? grade.watts : 5;
  return { width: watts >= 20 ? 62 : watts >= 10 ? 48 : 24, height: watts >= 20 ? 14 : 10 };
}

const STANDS = ['flat', 'on edge, along', 'on edge, across'] as const;
/** Of a row, at the least. */
const LEAST_HEIGHT = 20;
/** How far conductors stand off what they lead round. */
const OFF = GAP / 3;

type Point = readonly [number, number];
type Size = ReturnType<typeof sizeOnBoard>;

interface SizedGroup extends Omit<BoardGroup, 'parts'> {
  readonly parts: readonly (Size & { readonly part: BoardPart })[];
}
const sizedGroup = (group: BoardGroup): SizedGroup => ({
  ...group,
  parts: group.parts.map((part) => ({ part, ...sizeOnBoard(part) })),
});
const sum = (sizes: readonly number[]): number => sizes.reduce((all, size) => all + size, GAP * (sizes.length - 1));
const heightOf = ({ sideBySide, parts }: SizedGroup): number => {
  const heights = parts.map((p) => p.height);
  return sideBySide ? sum(heights) : Math.max(...heights);
};
const widthOf = ({ sideBySide, parts }: SizedGroup): number => {
  const widths = parts.map((p) => p.width);
  return sideBySide ? Math.max(...widths) : sum(widths);
};

/** Where a way's line, what stands across and the common conductor lie, and where the next row begins. */
interface Levels {
  readonly lineY: number;
  readonly acrossY: number;
  readonly commonY: number;
  readonly nextY: number;
}

/** @param sharedY the common conductor above, where this row stands up to that one. */
function levelsOf(groups: readonly SizedGroup[], top: number, sharedY: number | null): Levels {
  const tallest = (inLine: boolean) =>
    Math.max(LEAST_HEIGHT, ...groups.filter((g) => g.inLine === inLine).map(heightOf));
  const [line, across] = [tallest(true), tallest(false)];
  if (sharedY !== null) {
    const lineY = top + GAP + across + GAP + line / 2;
    return { lineY, acrossY: top + GAP + across / 2, commonY: sharedY, nextY: lineY + line / 2 + GAP };
  }
  const commonY = top + line + GAP + across + GAP;
  return { lineY: top + line / 2, acrossY: top + line + GAP + across / 2, commonY, nextY: commonY + GAP };
}

/** What lies on the board so far. */
class Laid {
  readonly parts: PlacedOnBoard[] = [];
  readonly wires: (readonly Point[])[] = [];
  readonly terminals: { label: string; x: number; y: number }[] = [];
  private coils = 0;

  wire(...points: Point[]): void {
    this.wires.push(points);
  }

  place(way: number, { name, kind }: BoardPart, x: number, y: number, { width, height }: Size): void {
    const stands = kind === 'inductor' ? STANDS[this.coils++ % STANDS.length] : null;
    this.parts.push({ way, name, kind, x, y, width, height, stands });
  }
}

/** One way: what is in line with its driver, with what stands across between it and the common conductor. */
class Row {
  private x = EDGE + TERMINAL + GAP;
  private acrossEnd = this.x;

  constructor(
    private readonly laid: Laid,
    private readonly way: number,
    private readonly levels: Levels,
  ) {}

  /** Lays the groups from the input on. Returns where its terminal is. */
  lay(groups: readonly SizedGroup[]): number {
    const { laid, levels } = this;
    const { lineY } = levels;
    const start = this.x;
    for (const group of groups) {
      const left = group.inLine ? this.x : Math.max(this.acrossEnd, this.x);
      if (group.sideBySide || group.inLine) this.besideOneAnother(group, left);
      else this.oneBehindAnother(group, left);
      this.joined(group, left);
    }
    const right = Math.max(this.x, this.acrossEnd) + TERMINAL;
    laid.wire([EDGE, lineY], [start, lineY]);
    laid.wire([this.x - GAP, lineY], [right, lineY]);
    return right;
  }

  /** One over another, with both ends joined. */
  private besideOneAnother(group: SizedGroup, left: number): void {
    const { laid, levels } = this;
    const { lineY, acrossY, commonY } = levels;
    const width = widthOf(group);
    const [from, to] = [left - OFF, left + width + OFF];
    let top = (group.inLine ? lineY : acrossY) - heightOf(group) / 2;
    const middles = group.parts.map((p) => {
      const middle = top + p.height / 2;
      this.laid.place(this.way, p.part, left + width / 2, middle, p);
      top += p.height + GAP;
      return middle;
    });
    middles.forEach((at, i) => {
      const own = group.parts[i].width;
      laid.wire([from, at], [left + (width - own) / 2, at]);
      laid.wire([left + (width + own) / 2, at], [to, at]);
    });
    const reach = [...middles, group.inLine ? lineY : middles[0]];
    for (const end of [from, to]) laid.wire([end, Math.min(...reach)], [end, Math.max(...reach)]);
    if (group.inLine) return;
    laid.wire([from, lineY], [from, middles[0]]);
    laid.wire([to, middles[middles.length - 1]], [to, commonY]);
  }

  /** From the line into the first, out of the last to the common conductor. */
  private oneBehindAnother({ parts }: SizedGroup, left: number): void {
    const { laid, levels } = this;
    const { lineY, acrossY, commonY } = levels;
    let at = left;
    laid.wire([left - OFF, lineY], [left - OFF, acrossY], [left, acrossY]);
    parts.forEach((p, i) => {
      laid.place(this.way, p.part, at + p.width / 2, acrossY, p);
      at += p.width;
      if (i < parts.length - 1) laid.wire([at, acrossY], [at + GAP, acrossY]);
      else laid.wire([at, acrossY], [at + OFF, acrossY], [at + OFF, commonY]);
      at += GAP;
    });
  }

  /** The line goes on from a group. */
  private joined(group: SizedGroup, left: number): void {
    const { laid } = this;
    const { lineY } = this.levels;
    const right = left + widthOf(group);
    if (!group.inLine) {
      this.acrossEnd = right + GAP;
      laid.wire([this.x - GAP, lineY], [left, lineY]);
      this.x = Math.max(this.x, left + GAP / 2);
      return;
    }
    laid.wire([this.x - GAP, lineY], [left - OFF, lineY]);
    laid.wire([right + OFF, lineY], [right + GAP, lineY]);
    this.x = right + 2 * GAP;
    laid.wire([this.x - GAP, lineY], [this.x, lineY]);
  }
}

/**
 * A plan to scale for building point to point: each way a row of parts in line with the ones across between it and the
 * common conductor; coils as far apart as the row lets them, each turned square to its neighbours.
 */
export function boardPlan(ways: readonly BoardWay[], layout: Layout): BoardPlan {
  const laid = new Laid();
  // With the common conductor between two ways, the upper way's parts hang down to it and the lower way's stand up to
  // it.
  const mirrored = layout === LAYOUTS[0] && ways.length === 2;
  const apart = layout === LAYOUTS[2] && ways.length > 1;
  let [y, widest]: [number, number] = [EDGE, 0];
  let cut: number | null = null;
  const rows: (Levels & { readonly right: number })[] = [];
  ways.forEach((way, w) => {
    if (apart && w === 1) {
      cut = y;
      y += EDGE;
    }
    const groups = way.groups.map(sizedGroup);
    const upsideDown = mirrored && w === 1;
    const levels = levelsOf(groups, y, upsideDown ? rows[0].commonY : null);
    const right = new Row(laid, w, levels).lay(groups);
    rows.push({ ...levels, right });
    const [hot, cold] = way.reversed ? ['−', '+'] : ['+', '−'];
    laid.terminals.push(
      { label: `${way.name} ${hot}`, x: right, y: levels.lineY },
      // Where two ways share their common conductor each has its own place on it.
      { label: `${way.name} ${cold}`, x: right + (upsideDown ? 2 * TERMINAL : 0), y: levels.commonY },
    );
    widest = Math.max(widest, right + (upsideDown ? 2 * TERMINAL : 0));
    y = upsideDown || !mirrored ? levels.nextY : levels.nextY + GAP / 2;
  });
  const boards = apart ? [rows.slice(0, 1), rows.slice(1)] : [rows];
  boards.forEach((own, b) => feed(laid, own, widest, boards.length > 1 ? ` ${b + 1}` : ''));
  return {
    width: Math.round(widest + 2 * TERMINAL + EDGE),
    height: Math.round(y + EDGE),
    parts: laid.parts,
    wires: laid.wires,
    terminals: laid.terminals,
    cut,
    coils: coilPairs(laid.parts),
  };
}

/**
 * What one board's rows have in common: their lines meet at the left, where its input comes in, their common conductors
 * at the right, past all terminals, so that neither crosses the other.
 */
function feed(laid: Laid, rows: readonly Levels[], widest: number, called: string): void {
  const commons = [...new Set(rows.map((r) => r.commonY))];
  const [lines, returnX] = [rows.map((r) => r.lineY), widest + TERMINAL];
  const inputX = EDGE + TERMINAL;
  if (lines.length > 1) laid.wire([EDGE, Math.min(...lines)], [EDGE, Math.max(...lines)]);
  for (const at of commons) laid.wire([inputX, at], [returnX, at]);
  if (commons.length > 1) laid.wire([returnX, Math.min(...commons)], [returnX, Math.max(...commons)]);
  laid.terminals.push(
    { label: `input${called} +`, x: EDGE, y: lines[0] },
    { label: `input${called} −`, x: inputX, y: commons[0] },
  );
}

/** Every two coils, nearest first. */
function coilPairs(parts: readonly PlacedOnBoard[]): BoardPlan['coils'] {
  const coils = parts.filter((p) => p.kind === 'inductor');
  return coils
    .flatMap((a, i) =>
      coils.slice(i + 1).map((b) => ({
        first: a.name,
        second: b.name,
        distance: Math.round(Math.hypot(a.x - b.x, a.y - b.y)),
        square: a.stands !== b.stands,
      })),
    )
    .sort((a, b) => a.distance - b.distance);
}
