import { failure, success, type Result } from '../result';

/** What is soldered in, lead by lead. */
export interface StripPart {
  readonly reference: string;
  readonly kind: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'device' | 'op-amp';
  readonly pins: readonly { readonly name: string; readonly net: string }[];
}

/** A lead in its hole. */
export interface StripPin {
  readonly name: string;
  readonly column: number;
  readonly row: number;
}
export interface StripPlaced {
  readonly reference: string;
  readonly kind: StripPart['kind'];
  readonly pins: readonly StripPin[];
}

/**
 * A plan on board with copper strips along the rows, holes a tenth of an inch apart. Every net has a strip of its own; parts stand across them, a column each or several
 * in one where they do not meet. An op-amp has strips of its own, cut under it, with wires to the nets.
 */
export interface StripPlan {
  readonly columns: number;
  /** The net of each row; null where it belongs to an op-amp's pins. */
  readonly rows: readonly (string | null)[];
  readonly parts: readonly StripPlaced[];
  /** Wires on the component side, hole to hole. */
  readonly links: readonly { readonly column: number; readonly fromRow: number; readonly toRow: number }[];
  /** Holes where the copper is cut through. */
  readonly cuts: readonly { readonly column: number; readonly row: number }[];
  /** What leaves the board, at a row's left end: column 0. */
  readonly leaving: readonly { readonly label: string; readonly row: number }[];
}

/** More than this is no small circuit. */
const MOST_NETS = 24;
const MOST_PARTS = 45;
const PIN_ROWS = 4;
/** Usual places of a single op-amp's pins in its eight: from the top down the left side, and up the right. */
const OP_AMP_LEFT = [null, '−', '+', 'V−'] as const;
const OP_AMP_RIGHT = [null, 'V+', 'out', null] as const;
/** Rows a transistor's outer leads are bent over without strain. */
const EASY_SPREAD = 4;

/** Plans a board for parts and what leaves it. Fails with `too-large-for-strips` (`nets`, `parts`) or `not-for-strips` (`part`): a package that is not an op-amp. */
export function stripPlan(parts: readonly StripPart[], leaving: readonly { readonly label: string; readonly net: string }[]): Result<StripPlan, 'too-large-for-strips' | 'not-for-strips'> {
  const packaged = parts.find((p) => p.kind === 'device' && p.pins.length > 4);
  if (packaged) return failure('not-for-strips', { part: packaged.reference });
  const nets = [...new Set([...parts.flatMap((p) => p.pins.map((pin) => pin.net)), ...leaving.map((l) => l.net)])];
  if (nets.length > MOST_NETS || parts.length > MOST_PARTS) return failure('too-large-for-strips', { nets: nets.length, parts: parts.length });
  const amplifiers = parts.filter((p) => p.kind === 'op-amp');
  const others = parts.filter((p) => p.kind !== 'op-amp');
  const order = orderOf(nets, others, leaving.map((l) => l.net));
  const rows: (string | null)[] = [...order, ...amplifiers.flatMap(() => new Array<null>(PIN_ROWS).fill(null))];
  const rowOf = new Map(order.map((net, row) => [net, row]));
  const placed: StripPlaced[] = [];
  const links: StripPlan['links'][number][] = [];
  const cuts: StripPlan['cuts'][number][] = [];
  // Column 0 is for what leaves; parts fill up from 1, each where no other stands in its rows.
  const taken: { from: number; to: number }[][] = [[{ from: 0, to: rows.length }]];
  // Every other column, and a strip between two in one: bodies have a width.
  const columnFor = (from: number, to: number): number => {
    for (let column = 2; ; column += 2) {
      taken[column - 1] ??= [];
      taken[column] ??= [];
      if (taken[column].every((t) => to < t.from - 1 || from > t.to + 1)) {
        taken[column].push({ from, to });
        return column;
      }
    }
  };
  const spanOf = (pins: readonly { net: string }[]) => pins.map((pin) => rowOf.get(pin.net) as number);
  const longestFirst = [...others].sort((a, b) => reach(spanOf(b.pins)) - reach(spanOf(a.pins)));
  for (const part of longestFirst) {
    const at = spanOf(part.pins);
    // Two leads on one net: a part that does nothing here; it stands beside itself.
    if (new Set(at).size < at.length) {
      const [low, high] = [Math.min(...at), Math.max(...at)];
      const columns = part.pins.map(() => columnFor(low, high));
      placed.push({ reference: part.reference, kind: part.kind, pins: part.pins.map((pin, i) => ({ name: pin.name, column: columns[i], row: at[i] })) });
      continue;
    }
    const column = columnFor(Math.min(...at), Math.max(...at));
    placed.push({ reference: part.reference, kind: part.kind, pins: part.pins.map((pin, i) => ({ name: pin.name, column, row: at[i] })) });
  }
  amplifiers.forEach((part, a) => {
    const top = order.length + PIN_ROWS * a;
    const netOf = new Map(part.pins.map((pin) => [pin.name, pin.net]));
    // The package's two rows of pins, three columns apart, right of all parts, so that its wires outside them meet nothing.
    const left = taken.length + OP_AMP_LEFT.length - 1;
    const right = left + 3;
    const pins: StripPin[] = [];
    const side = (names: readonly (string | null)[], column: number, outwards: 1 | -1) =>
      names.forEach((name, k) => {
        const row = top + k;
        const net = name === null ? undefined : netOf.get(name);
        if (name === null || net === undefined) return;
        pins.push({ name, column, row });
        // Outside the package, each wire in a column of its own.
        const linkColumn = column + outwards * (k + 1);
        taken[linkColumn] = [{ from: 0, to: rows.length }];
        links.push({ column: linkColumn, fromRow: row, toRow: rowOf.get(net) as number });
      });
    side(OP_AMP_LEFT, left, -1);
    side(OP_AMP_RIGHT, right, 1);
    for (let k = 0; k < PIN_ROWS; k++) cuts.push({ column: left + 1, row: top + k });
    placed.push({ reference: part.reference, kind: part.kind, pins });
  });
  return success({ columns: Math.max(taken.length, ...placed.flatMap((p) => p.pins.map((pin) => pin.column + 1))), rows, parts: placed, links, cuts, leaving: leaving.map(({ label, net }) => ({ label, row: rowOf.get(net) as number })) });
}

const reach = (rows: readonly number[]): number => Math.max(...rows) - Math.min(...rows);

/** Nets in the order that keeps leads short: what is joined lies together; transistors count for more. Swaps of two rows while they help. */
function orderOf(nets: readonly string[], parts: readonly StripPart[], leaving: readonly string[]): string[] {
  let order = [...new Set([...leaving, ...nets])];
  const cost = (rows: readonly string[]): number => {
    const at = new Map(rows.map((net, i) => [net, i]));
    return parts.reduce((sum, { kind, pins }) => {
      const spread = reach(pins.map((p) => at.get(p.net) as number));
      return sum + spread + (kind === 'device' && pins.length > 2 ? 3 * Math.max(0, spread - 2) : 0);
    }, 0);
  };
  let best = cost(order);
  for (let better = true; better; ) {
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
export const longLegged = (plan: StripPlan): string[] => plan.parts.filter((p) => p.kind === 'device' && p.pins.length > 2 && reach(p.pins.map((pin) => pin.row)) > EASY_SPREAD).map((p) => p.reference);

export interface StripCheck {
  /** Joints that were looked at. */
  readonly pins: number;
  /** Pins that are joined and should not be, or should be and are not, as sentences’ data. */
  readonly faults: readonly { readonly kind: 'joined' | 'apart' | 'missing' | 'same-hole'; readonly a: string; readonly b: string }[];
}

/**
 * Reads a plan back as copper is, strip by strip between its cuts, with its wires, and lays what is joined there beside what the circuit joins. It knows nothing of how the
 * plan was made.
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
  for (let row = 0; row < plan.rows.length; row++) for (let column = 1; column < plan.columns; column++) if (!cutAt.has(hole(column, row)) && !cutAt.has(hole(column - 1, row))) join(hole(column, row), hole(column - 1, row));
  for (const { column, fromRow, toRow } of plan.links) join(hole(column, fromRow), hole(column, toRow));
  const faults: StripCheck['faults'][number][] = [];
  const inHole = new Map<string, string>();
  const netOf = new Map<string, string>(parts.flatMap((p) => p.pins.map((pin): [string, string] => [`${p.reference} ${pin.name}`, pin.net])));
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
  pins.forEach((a, i) => pins.slice(i + 1).forEach((b) => a.at === b.at !== (a.net === b.net) && faults.push({ kind: a.at === b.at ? 'joined' : 'apart', a: a.name, b: b.name })));
  for (const { column, fromRow, toRow } of plan.links) for (const row of [fromRow, toRow]) if (inHole.has(hole(column, row))) faults.push({ kind: 'same-hole', a: inHole.get(hole(column, row)) as string, b: 'a wire' });
  return { pins: pins.length, faults };
}
