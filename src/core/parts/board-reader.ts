import type { BoardPlan, BoardWay } from './board-plan';

/** Copper or wire as it is drawn: lines so wide, terminals so large, mm. */
const CONDUCTOR_MM = 1.5;
const TERMINAL_MM = 3;

/** What a plan joins that the circuit does not, or leaves apart that the circuit joins. */
export interface BoardFault {
  readonly kind: 'joined' | 'apart';
  /** Two places of the board, as they are called: a terminal, or an end of a part. */
  readonly between: readonly [string, string];
}

type Point = readonly [number, number];

/** A place where something is connected, and the node that it belongs to by the circuit. */
interface Pad {
  readonly called: string;
  readonly node: string;
  readonly at: Point;
  readonly radius: number;
}

/**
 * Reads a plan from its own geometry: conductors are strips of copper, terminals discs, ends of parts points, and
 * whatever touches is joined. Returns where that is not the circuit; none for a plan that can be built.
 */
export function boardFaults(plan: BoardPlan, ways: readonly BoardWay[]): BoardFault[] {
  const pads = [...terminalPads(plan, ways), ...leadPads(plan, ways)];
  const strips = plan.wires.flatMap((points) => points.slice(1).map((to, i) => [points[i], to] as const));
  const group = Array.from({ length: strips.length + pads.length }, (_, i) => i);
  const root = (i: number): number => (group[i] === i ? i : (group[i] = root(group[i])));
  const join = (a: number, b: number) => (group[root(a)] = root(b));
  strips.forEach((a, i) =>
    strips.slice(0, i).forEach((b, j) => {
      if (apart(a, b) < CONDUCTOR_MM) join(i, j);
    }),
  );
  pads.forEach(({ at, radius }, i) => {
    strips.forEach((strip, j) => {
      if (apart([at, at], strip) < radius + CONDUCTOR_MM / 2) join(strips.length + i, j);
    });
    pads.slice(0, i).forEach((other, j) => {
      if (Math.hypot(at[0] - other.at[0], at[1] - other.at[1]) < radius + other.radius)
        join(strips.length + i, strips.length + j);
    });
  });
  return pads.flatMap((a, i) =>
    pads.slice(0, i).flatMap((b, j): BoardFault[] => {
      const touch = root(strips.length + i) === root(strips.length + j);
      if (touch === (a.node === b.node)) return [];
      return [{ kind: touch ? 'joined' : 'apart', between: [b.called, a.called] }];
    }),
  );
}

const boardOf = ({ cut }: BoardPlan, y: number): number => (cut !== null && y > cut ? 1 : 0);

/** Terminals by what they are called: inputs, and two of every way; of one that is turned over `−` is its line. */
function terminalPads(plan: BoardPlan, ways: readonly BoardWay[]): Pad[] {
  return plan.terminals.map(({ label, x, y }): Pad => {
    const board = boardOf(plan, y);
    const way = ways.findIndex(({ name }) => label === `${name} +` || label === `${name} −`);
    const isLine = way < 0 ? label.endsWith('+') : label.endsWith(ways[way].reversed ? '−' : '+');
    const node = !isLine ? `common of board ${board}` : way < 0 ? `input of board ${board}` : endOf(ways, way, board);
    return { called: label, node, at: [x, y], radius: TERMINAL_MM };
  });
}

/** What a way's line is called after so many groups in line. */
const lineAfter = (way: number, count: number, board: number): string =>
  count === 0 ? `input of board ${board}` : `way ${way} after ${count}`;
const endOf = (ways: readonly BoardWay[], way: number, board: number): string =>
  lineAfter(way, ways[way].groups.filter((g) => g.inLine).length, board);

/** Both ends of every part, by the order of its way's groups. */
function leadPads(plan: BoardPlan, ways: readonly BoardWay[]): Pad[] {
  return ways.flatMap(({ groups }, way) => {
    let inLine = 0;
    return groups.flatMap(({ parts, ...group }, g) => {
      const first = plan.parts.find((p) => p.way === way && p.name === parts[0].name);
      const board = boardOf(plan, first?.y ?? 0);
      const [from, to] = group.inLine
        ? [lineAfter(way, inLine, board), lineAfter(way, ++inLine, board)]
        : [lineAfter(way, inLine, board), `common of board ${board}`];
      // Parts in line stand side by side; across, they may also stand one behind the other.
      const chained = !group.inLine && !group.sideBySide;
      return parts.flatMap((part, k): Pad[] => {
        const placed = plan.parts.find((p) => p.way === way && p.name === part.name);
        if (!placed) return [];
        const between = (i: number) => `way ${way} group ${g} joint ${i}`;
        const ends = chained ? [k === 0 ? from : between(k), k === parts.length - 1 ? to : between(k + 1)] : [from, to];
        return ends.map((node, side): Pad => ({
          called: `${side === 0 ? 'one end' : 'the other end'} of ${part.name}`,
          node,
          at: [placed.x + (side - 0.5) * placed.width, placed.y],
          radius: 0,
        }));
      });
    });
  });
}

type Strip = readonly [Point, Point];

/** Distance between two straight lines' nearest points, mm. */
function apart(a: Strip, b: Strip): number {
  if (cross(a, b)) return 0;
  return Math.min(toLine(a[0], b), toLine(a[1], b), toLine(b[0], a), toLine(b[1], a));
}

function toLine([x, y]: Point, [[x0, y0], [x1, y1]]: Strip): number {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = dx * dx + dy * dy;
  const t = length === 0 ? 0 : Math.max(0, Math.min(1, ((x - x0) * dx + (y - y0) * dy) / length));
  return Math.hypot(x - x0 - t * dx, y - y0 - t * dy);
}

const turn = ([ax, ay]: Point, [bx, by]: Point, [cx, cy]: Point): number =>
  Math.sign((bx - ax) * (cy - ay) - (by - ay) * (cx - ax));
const cross = ([a, b]: Strip, [c, d]: Strip): boolean =>
  turn(a, b, c) * turn(a, b, d) < 0 && turn(c, d, a) * turn(c, d, b) < 0;
