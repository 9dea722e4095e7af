import { stripParts } from '../../design/building/strip-parts';
import { checkStrips, stripPlan, type StripPart, type StripPlan } from '../../parts/strip-board';
import { success, type Result } from '../../result';
import { oneOf, openDesign } from './opened-design';

/** A board's plan as files have it: rows and columns from 1. Fails as reading and planning do, or with `bad-option`. */
export function boardVerb(text: string, variantName: string | undefined, kind: string): Result<object> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const wanted = oneOf('--kind', kind, ['strip']);
  if (!wanted.ok) return wanted;
  const listed = stripParts(opened.value.design, opened.value.variant);
  if (!listed.ok) return listed;
  const { parts, leaving } = listed.value;
  const planned = stripPlan(parts, leaving);
  if (!planned.ok) return planned;
  const plan = planned.value;
  return success({
    size: { rows: plan.rows.length, columns: plan.columns },
    holes: plan.rows.length * plan.columns,
    parts: plan.parts.length,
    wires: plan.links.length,
    cuts: plan.cuts.length,
    violations: checkStrips(plan, parts).faults.map((f) => `${f.kind}: ${f.a}${f.b ? `, ${f.b}` : ''}`),
    plan: planOut(plan, parts),
  });
}

function planOut(plan: StripPlan, parts: readonly StripPart[]) {
  const nets = parts.flatMap((p) =>
    p.pins.flatMap((pin) => (pin ? [[`${p.reference} ${pin.name}`, pin.net] as const] : [])),
  );
  const netOf = new Map(nets);
  return {
    rows: plan.rows.length,
    columns: plan.columns,
    cuts: plan.cuts.map(({ row, column }) => [row + 1, column + 1]),
    links: plan.links.map(({ column, fromRow, toRow }) => [fromRow + 1, column + 1, toRow + 1, column + 1]),
    pins: plan.parts.flatMap(({ reference, pins }) =>
      pins.map(({ name, row, column }) => ({
        part: reference,
        pin: name,
        net: netOf.get(`${reference} ${name}`),
        row: row + 1,
        column: column + 1,
      })),
    ),
    bodies: plan.parts.map(({ reference, body }) => ({
      part: reference,
      row1: body.row1 + 1,
      column1: body.column1 + 1,
      row2: body.row2 + 1,
      column2: body.column2 + 1,
    })),
    leaving: plan.leaving.map(({ label, row }) => ({ label, row: row + 1, column: 1 })),
  };
}
