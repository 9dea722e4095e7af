import type { Lead } from './packages';
import { failure, success, type Result } from '../result';

/** What is soldered in, lead by lead. */
export interface StripPart {
  readonly reference: string;
  readonly kind: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'device' | 'package';
  /**
   * In the order in which the leads stand beside one another, which is the package's; of a package in two rows, by its
   * pins' numbers from 1, null where nothing is joined to one.
   */
  readonly pins: readonly (Lead | null)[];
}

/** A lead in its hole. */
export interface StripPin {
  readonly name: string;
  readonly column: number;
  readonly row: number;
}
/** Holes that something covers, both corners included. */
export interface StripBody {
  readonly column1: number;
  readonly row1: number;
  readonly column2: number;
  readonly row2: number;
}
export interface StripPlaced {
  readonly reference: string;
  readonly kind: StripPart['kind'];
  readonly pins: readonly StripPin[];
  readonly body: StripBody;
}

/**
 * A plan on board with copper strips along the rows, holes a tenth of an inch apart. Every net has a strip of its own;
 * parts of two leads stand across them in a column, others with their leads side by side in the package's order. A
 * package in two rows has strips of its own, cut under it, with bare wires to the nets, each in a column where nothing
 * else lies.
 */
export interface StripPlan {
  readonly columns: number;
  /** The net of each row; null where it belongs to a package's pins. */
  readonly rows: readonly (string | null)[];
  readonly parts: readonly StripPlaced[];
  /** Bare wires on the component side, hole to hole. */
  readonly links: readonly { readonly column: number; readonly fromRow: number; readonly toRow: number }[];
  /** Holes where the copper is cut through. */
  readonly cuts: readonly { readonly column: number; readonly row: number }[];
  /** What leaves the board, at a row's left end: column 0. */
  readonly leaving: readonly { readonly label: string; readonly row: number }[];
}

/** More than this is no small circuit. */
const MOST_NETS = 24;
const MOST_PARTS = 45;
/** Columns from one row of a package's pins to the other. */
const PACKAGE_WIDTH = 3;
/** Rows a transistor's outer leads are bent over without strain. */
const EASY_SPREAD = 4;

const leadsOf = (part: StripPart): Lead[] => part.pins.filter((pin) => pin !== null);

/** Plans a board for parts and what leaves it. Fails with `too-large-for-strips` (`nets`, `parts`). */
export function stripPlan(
  parts: readonly StripPart[],
  leaving: readonly { readonly label: string; readonly net: string }[],
): Result<StripPlan, 'too-large-for-strips'> {
  const nets = [...new Set([...parts.flatMap((p) => leadsOf(p).map((pin) => pin.net)), ...leaving.map((l) => l.net)])];
  if (nets.length > MOST_NETS || parts.length > MOST_PARTS)
    return failure('too-large-for-strips', { nets: nets.length, parts: parts.length });
  const packages = parts.filter((p) => p.kind === 'package');
  const others = parts.filter((p) => p.kind !== 'package');
  const order = orderOf(
    nets,
    others,
    leaving.map((l) => l.net),
  );
  const rowOf = new Map(order.map((net, row) => [net, row]));
  const room = new Room();
  const placed: StripPlaced[] = [];
  const longestFirst = [...others].sort((a, b) => reach(rowsOf(b, rowOf)) - reach(rowsOf(a, rowOf)));
  for (const part of longestFirst) placed.push(placeAcross(part, rowOf, room));
  const rows: (string | null)[] = [...order];
  const links: StripPlan['links'][number][] = [];
  const cuts: StripPlan['cuts'][number][] = [];
  // Packages stand right of all else, one after another, each on rows of its own below the nets.
  let next = room.width + 1;
  for (const part of packages) {
    const half = part.pins.length / 2;
    const top = rows.length;
    const left = next + half;
    const right = left + PACKAGE_WIDTH;
    for (let k = 0; k < half; k++) {
      rows.push(null);
      cuts.push({ column: left + 1, row: top + k });
    }
    const pins: StripPin[] = [];
    part.pins.forEach((pin, i) => {
      // Numbered down the left side and up the right.
      const [column, k, outwards] = i < half ? [left, i, -1] : [right, part.pins.length - 1 - i, 1];
      if (pin === null) return;
      const row = top + k;
      pins.push({ name: pin.name, column, row });
      links.push({ column: column + outwards * (k + 1), fromRow: row, toRow: rowOf.get(pin.net) as number });
    });
    placed.push({
      reference: part.reference,
      kind: part.kind,
      pins,
      body: { column1: left, row1: top, column2: right, row2: top + half - 1 },
    });
    next = right + half + 1;
  }
  const columns = Math.max(next, room.width + 1);
  return success({
    columns,
    rows,
    parts: placed,
    links,
    cuts,
    leaving: leaving.map(({ label, net }) => ({ label, row: rowOf.get(net) as number })),
  });
}

const rowsOf = (part: StripPart, rowOf: ReadonlyMap<string, number>): number[] =>
  leadsOf(part).map((pin) => rowOf.get(pin.net) as number);

/** Columns and what lies over their rows; the first is for what leaves the board. */
class Room {
  private readonly taken: { from: number; to: number }[][] = [[]];

  get width(): number {
    return this.taken.length;
  }

  /**
   * The first column from which so many side by side are free over some rows, with a free one to either side: bodies
   * have a width.
   */
  place(count: number, from: number, to: number): number {
    const free = (column: number) => (this.taken[column] ?? []).every((t) => to < t.from - 1 || from > t.to + 1);
    let column = 2;
    while (!Array.from({ length: count + 2 }, (_, k) => column - 1 + k).every(free)) column++;
    for (let k = 0; k < count; k++) {
      for (let at = this.taken.length; at <= column + k; at++) this.taken[at] = [];
      this.taken[column + k].push({ from, to });
    }
    return column;
  }
}

/**
 * A part across the strips: two leads on two nets in one column; any other with its leads side by side, in its
 * package's order, whatever rows they reach for.
 */
function placeAcross(part: StripPart, rowOf: ReadonlyMap<string, number>, room: Room): StripPlaced {
  const leads = leadsOf(part);
  const at = rowsOf(part, rowOf);
  const [low, high] = [Math.min(...at), Math.max(...at)];
  const inOne = leads.length === 2 && low < high;
  const column = room.place(inOne ? 1 : leads.length, low, high);
  const pins = leads.map((pin, i): StripPin => ({ name: pin.name, column: inOne ? column : column + i, row: at[i] }));
  return {
    reference: part.reference,
    kind: part.kind,
    pins,
    body: { column1: column, row1: low, column2: inOne ? column : column + leads.length - 1, row2: high },
  };
}

const reach = (rows: readonly number[]): number => Math.max(...rows) - Math.min(...rows);

/**
 * Nets in the order that keeps leads short: what is joined lies together; transistors count for more. Swaps of two rows
 * while they help.
 */
function orderOf(nets: readonly string[], parts: readonly StripPart[], leaving: readonly string[]): string[] {
  let order = [...new Set([...leaving, ...nets])];
  const cost = (rows: readonly string[]): number => {
    const at = new Map(rows.map((net, i) => [net, i]));
    return parts.reduce((sum, part) => {
      const { kind, pins } = part;
      const spread = reach(leadsOf(part).map((p) => at.get(p.net) as number));
      return sum + spread + (kind === 'device' && pins.length > 2 ? 3 * Math.max(0, spread - 2) : 0);
    }, 0);
  };
  let best = cost(order);
  for (let better = true; better;) {
    better = false;
    for (let i = 0; i < order.length; i++)
      for (let j = i + 1; j < order.length; j++) {
        const swapped = [...order];
        [swapped[i], swapped[j]] = [swapped[j], swapped[i]];
        const moved = [...order];
        moved.splice(j, 0, ...moved.splice(i, 1));
        for (const next of [swapped, moved]) {
          const now = cost(next);
          if (now < best) [order, best, better] = [next, now, true];
        }
      }
  }
  return order;
}

/** Parts whose leads go further than they are bent easily: they want a sleeve. */
export const longLegged = (plan: StripPlan): string[] =>
  plan.parts
    .filter((p) => p.kind === 'device' && p.pins.length > 2 && reach(p.pins.map((pin) => pin.row)) > EASY_SPREAD)
    .map((p) => p.reference);

export interface StripCheck {
  /** Joints that were looked at. */
  readonly pins: number;
  /**
   * Pins that are joined and should not be, or should be and are not; what stands in one hole, or lies over another. As
   * sentences’ data.
   */
  readonly faults: readonly {
    readonly kind: 'joined' | 'apart' | 'missing' | 'same-hole' | 'over' | 'in-cut';
    readonly a: string;
    readonly b: string;
  }[];
}

/**
 * Reads a plan back as copper is, strip by strip between its cuts, with its wires, and lays what is joined there beside
 * what the circuit joins. It knows nothing of how the plan was made.
 */
export function checkStrips(plan: StripPlan, parts: readonly StripPart[]): StripCheck {
  const parent = new Map<string, string>();
  const find = (a: string): string => {
    let top = a;
    for (let next = parent.get(top); next !== undefined && next !== top; next = parent.get(top)) top = next;
    return top;
  };
  const join = (a: string, b: string) => parent.set(find(a), find(b));
  const cutAt = new Set(plan.cuts.map((c) => `${c.column},${c.row}`));
  const hole = (column: number, row: number) => `${column},${row}`;
  for (let row = 0; row < plan.rows.length; row++)
    for (let column = 1; column < plan.columns; column++)
      if (!cutAt.has(hole(column, row)) && !cutAt.has(hole(column - 1, row)))
        join(hole(column, row), hole(column - 1, row));
  for (const { column, fromRow, toRow } of plan.links) join(hole(column, fromRow), hole(column, toRow));
  const faults: StripCheck['faults'][number][] = [];
  const inHole = new Map<string, string>();
  const netOf = new Map<string, string>(
    parts.flatMap((p) => leadsOf(p).map((pin): [string, string] => [`${p.reference} ${pin.name}`, pin.net])),
  );
  const pins: { name: string; at: string; net: string }[] = [];
  for (const { reference, pins: leads } of plan.parts)
    for (const lead of leads) {
      const [name, at] = [`${reference} ${lead.name}`, hole(lead.column, lead.row)];
      const other = inHole.get(at);
      if (other !== undefined) faults.push({ kind: 'same-hole', a: name, b: other });
      inHole.set(at, name);
      pins.push({ name, at: find(at), net: netOf.get(name) ?? '' });
      netOf.delete(name);
    }
  for (const [name] of netOf) faults.push({ kind: 'missing', a: name, b: '' });
  pins.forEach((a, i) =>
    pins
      .slice(i + 1)
      .forEach(
        (b) =>
          (a.at === b.at) !== (a.net === b.net) &&
          faults.push({ kind: a.at === b.at ? 'joined' : 'apart', a: a.name, b: b.name }),
      ),
  );
  for (const { column, fromRow, toRow } of plan.links)
    for (const row of [fromRow, toRow])
      if (inHole.has(hole(column, row)))
        faults.push({ kind: 'same-hole', a: inHole.get(hole(column, row)) as string, b: 'a wire' });
  faults.push(
    ...lyingOver(plan),
    ...[...inHole]
      .filter(([at]) => cutAt.has(at))
      .map(([, name]) => ({ kind: 'in-cut' as const, a: name, b: 'a cut' })),
  );
  return { pins: pins.length, faults };
}

/** Bodies that lie over one another, and bare wires that lie over bodies or other wires: each pair once. */
function lyingOver(plan: StripPlan): StripCheck['faults'][number][] {
  const wires = plan.links.map((l, i) => ({
    name: `wire ${i + 1}`,
    body: {
      column1: l.column,
      column2: l.column,
      row1: Math.min(l.fromRow, l.toRow),
      row2: Math.max(l.fromRow, l.toRow),
    },
  }));
  const all = [...plan.parts.map((p) => ({ name: p.reference, body: p.body })), ...wires];
  const meet = (a: StripBody, b: StripBody) =>
    a.column1 <= b.column2 && b.column1 <= a.column2 && a.row1 <= b.row2 && b.row1 <= a.row2;
  return all.flatMap((a, i) =>
    all
      .slice(i + 1)
      .filter((b) => meet(a.body, b.body))
      .map((b) => ({ kind: 'over' as const, a: a.name, b: b.name })),
  );
}
