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

/**
 * A plan to scale for building point to point: each way a row of parts in line with the ones across between it and the
 * common conductor; coils as far apart as the row lets them, each turned square to its neighbours.
 */
export function boardPlan(ways: readonly BoardWay[], layout: Layout): BoardPlan {
  const parts: PlacedOnBoard[] = [];
  const wires: (readonly (readonly [number, number])[])[] = [];
  const terminals: { label: string; x: number; y: number }[] = [];
  let coilsPlaced = 0;
  let y = EDGE;
  let widest = 0;
  let cut: number | null = null;
  const commons: number[] = [];
  const lines: number[] = [];
  // With the common conductor between two ways, the upper way's parts hang down to it and the lower way's stand up to
  // it.
  const mirrored = layout === LAYOUTS[0] && ways.length === 2;
  ways.forEach((way, w) => {
    const sized = way.groups.map((group) => ({
      ...group,
      parts: group.parts.map((part) => ({ part, ...sizeOnBoard(part) })),
    }));
    const stackHeight = (group: (typeof sized)[number]) =>
      group.sideBySide
        ? group.parts.reduce((sum, p) => sum + p.height, GAP * (group.parts.length - 1))
        : Math.max(...group.parts.map((p) => p.height));
    const lineHeight = Math.max(20, ...sized.filter((g) => g.inLine).map(stackHeight));
    const acrossHeight = Math.max(20, ...sized.filter((g) => !g.inLine).map(stackHeight));
    const upsideDown = mirrored && w === 1;
    if (layout === LAYOUTS[2] && w > 0) {
      cut = cut ?? y;
      y += EDGE;
    }
    const top = y;
    const lineY = upsideDown ? top + GAP + acrossHeight + GAP + lineHeight / 2 : top + lineHeight / 2;
    const acrossY = upsideDown ? top + GAP + acrossHeight / 2 : top + lineHeight + GAP + acrossHeight / 2;
    const commonY = upsideDown ? commons[0] : top + lineHeight + GAP + acrossHeight + GAP;
    const start = EDGE + TERMINAL + GAP;
    let [x, acrossEnd] = [start, start];
    const place = (part: BoardPart, at: number, level: number, width: number, height: number) => {
      parts.push({
        way: w,
        name: part.name,
        kind: part.kind,
        x: at,
        y: level,
        width,
        height,
        stands: part.kind === 'inductor' ? STANDS[coilsPlaced++ % STANDS.length] : null,
      });
    };
    for (const group of sized) {
      const widthOf = group.sideBySide
        ? Math.max(...group.parts.map((p) => p.width))
        : group.parts.reduce((sum, p) => sum + p.width, GAP * (group.parts.length - 1));
      const left = group.inLine ? x : Math.max(acrossEnd, x);
      if (group.sideBySide || group.inLine) {
        // Side by side: one over another, with both ends joined.
        let level = (group.inLine ? lineY : acrossY) - stackHeight(group) / 2;
        const levels = group.parts.map((p) => {
          const at = level + p.height / 2;
          place(p.part, left + widthOf / 2, at, p.width, p.height);
          level += p.height + GAP;
          return at;
        });
        const [from, to] = [left - GAP / 3, left + widthOf + GAP / 3];
        levels.forEach((at, i) =>
          wires.push(
            [
              [from, at],
              [left + (widthOf - group.parts[i].width) / 2, at],
            ],
            [
              [left + (widthOf + group.parts[i].width) / 2, at],
              [to, at],
            ],
          ),
        );
        const reach = [...levels, group.inLine ? lineY : levels[0]];
        wires.push(
          [
            [from, Math.min(...reach)],
            [from, Math.max(...reach)],
          ],
          [
            [to, Math.min(...reach)],
            [to, Math.max(...reach)],
          ],
        );
        if (!group.inLine)
          wires.push(
            [
              [from, lineY],
              [from, levels[0]],
            ],
            [
              [to, levels[levels.length - 1]],
              [to, commonY],
            ],
          );
      } else {
        // One behind the other: from the line into the first, out of the last to the common conductor.
        let at = left;
        wires.push([
          [left - GAP / 3, lineY],
          [left - GAP / 3, acrossY],
          [left, acrossY],
        ]);
        for (const p of group.parts) {
          place(p.part, at + p.width / 2, acrossY, p.width, p.height);
          at += p.width;
          const last = p === group.parts[group.parts.length - 1];
          wires.push(
            last
              ? [
                  [at, acrossY],
                  [at + GAP / 3, acrossY],
                  [at + GAP / 3, commonY],
                ]
              : [
                  [at, acrossY],
                  [at + GAP, acrossY],
                ],
          );
          at += GAP;
        }
      }
      if (group.inLine) {
        wires.push(
          [
            [x - GAP, lineY],
            [left - GAP / 3, lineY],
          ],
          [
            [left + widthOf + GAP / 3, lineY],
            [left + widthOf + GAP, lineY],
          ],
        );
        x = left + widthOf + 2 * GAP;
        wires.push([
          [x - GAP, lineY],
          [x, lineY],
        ]);
      } else {
        acrossEnd = left + widthOf + GAP;
        wires.push([
          [x - GAP, lineY],
          [left, lineY],
        ]);
        x = Math.max(x, left + GAP / 2);
      }
    }
    const right = Math.max(x, acrossEnd) + TERMINAL;
    wires.push(
      [
        [EDGE, lineY],
        [start, lineY],
      ],
      [
        [x - GAP, lineY],
        [right, lineY],
      ],
    );
    lines.push(lineY);
    terminals.push(
      { label: w === 0 ? 'input +' : '', x: EDGE, y: lineY },
      { label: `${way.name} ${way.reversed ? '−' : '+'}`, x: right, y: lineY },
    );
    if (!upsideDown) {
      terminals.push({ label: w === 0 ? 'input −' : '', x: EDGE, y: commonY });
      commons.push(commonY);
    }
    terminals.push({ label: `${way.name} ${way.reversed ? '+' : '−'}`, x: right, y: commonY });
    widest = Math.max(widest, right);
    y = upsideDown ? lineY + lineHeight / 2 + GAP : commonY + GAP + (mirrored ? GAP / 2 : 0);
  });
  // All lines start at the input, all common conductors are one; two boards each have their own leads to it.
  for (const ends of layout === LAYOUTS[2] ? [] : [lines, commons])
    if (ends.length > 1)
      wires.push(
        [
          [EDGE, Math.min(...ends)],
          [EDGE, Math.max(...ends)],
        ].map(([x, at]) => [ends === lines ? x : x + 5, at] as const),
      );
  for (const at of commons)
    wires.push([
      [EDGE, at],
      [widest, at],
    ]);
  const coils = parts.filter((p) => p.kind === 'inductor');
  const pairs = coils.flatMap((a, i) =>
    coils.slice(i + 1).map((b) => ({
      first: a.name,
      second: b.name,
      distance: Math.round(Math.hypot(a.x - b.x, a.y - b.y)),
      square: a.stands !== b.stands,
    })),
  );
  return {
    width: Math.round(widest + EDGE + TERMINAL),
    height: Math.round(y + EDGE),
    parts,
    wires,
    terminals: terminals.filter((t) => t.label !== ''),
    cut,
    coils: pairs.sort((a, b) => a.distance - b.distance),
  };
}
