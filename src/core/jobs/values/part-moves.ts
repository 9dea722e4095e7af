import * as z from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { defineJob, gridSchema, ofVariant, requestOf } from '../define-job';
import { smallSignalWith } from '../reading/built-variant';

const partMovesRequest = requestOf('part-moves', {
  ...ofVariant,
  stageId: z.string(),
  part: z.string(),
  /** How far the part is moved down and up, per cent of its value. */
  pct: z.number().positive().max(90),
  grid: gridSchema,
});
export type PartMovesRequest = z.infer<typeof partMovesRequest>;

/** The level with one part so much smaller, and so much larger, all others as they are: dB over the grid. */
export interface PartMoves {
  readonly freqHz: Float64Array;
  readonly lessDb: Float64Array;
  readonly moreDb: Float64Array;
}

const heldByRequest = requestOf('held-by', { ...ofVariant, freqHz: z.number().positive() });
export type HeldByRequest = z.infer<typeof heldByRequest>;

/** The slope of the level at a frequency over a part's value, dB for one per cent more. */
export interface Holder {
  readonly stageId: string;
  readonly part: string;
  readonly dbPerPct: number;
}

const built = ({ design, variantId }: Pick<PartMovesRequest, 'design' | 'variantId'>): Result<Compilation> => {
  const variant = design.variants.find((v) => v.id === variantId);
  return variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
};

/** The level at the first way's output with some values of the circuit times a factor. Fails as the solver does. */
function levelWith(
  compiled: Compilation,
  slots: readonly number[],
  factor: number,
  freqHz: Float64Array,
  solver: AcSolver,
): Result<Float64Array> {
  const values = compiled.circuit.values.slice();
  for (const slot of slots) values[slot] *= factor;
  const changed = smallSignalWith(compiled, values);
  if (!changed.ok) return changed;
  const solved = solver.sweep(changed.value, freqHz, [compiled.ways[0].output]);
  return solved.ok ? success(levelsDb(solved.value[0])) : solved;
}

/**
 * What one part moves. A circuit that rests on it is brought to rest anew. Fails as the design and the solver do, or
 * with `no-such-part` (`part`).
 */
export function runPartMoves(request: PartMovesRequest, solver: AcSolver): Result<PartMoves> {
  const compiled = built(request);
  if (!compiled.ok) return compiled;
  const slots = compiled.value.parts
    .filter((p) => p.stageId === request.stageId && p.part === request.part)
    .map((p) => p.slot);
  if (slots.length === 0) return failure('no-such-part', { part: request.part });
  const { fromHz, toHz, points } = request.grid;
  const freqHz = logGrid(fromHz, toHz, points);
  const less = levelWith(compiled.value, slots, 1 - request.pct / 100, freqHz, solver);
  if (!less.ok) return less;
  const more = levelWith(compiled.value, slots, 1 + request.pct / 100, freqHz, solver);
  return more.ok ? success({ freqHz, lessDb: less.value, moreDb: more.value }) : more;
}

/** A hundredth of a per cent down and up: the slope itself, beside a sharp peak too. */
const NUDGE = 1e-4;

/** Which parts hold the level at a frequency, those that move it most first. Fails as the design and the solver do. */
export function runHeldBy(request: HeldByRequest, solver: AcSolver): Result<Holder[]> {
  const compiled = built(request);
  if (!compiled.ok) return compiled;
  const at = Float64Array.of(request.freqHz);
  const slotsOf = new Map<string, { readonly stageId: string; readonly part: string; readonly slots: number[] }>();
  for (const { stageId, part, slot } of compiled.value.parts) {
    if (stageId === null) continue;
    const key = `${stageId} ${part}`;
    const known = slotsOf.get(key);
    if (known) known.slots.push(slot);
    else slotsOf.set(key, { stageId, part, slots: [slot] });
  }
  const holders: Holder[] = [];
  for (const { stageId, part, slots } of slotsOf.values()) {
    const less = levelWith(compiled.value, slots, 1 - NUDGE, at, solver);
    if (!less.ok) return less;
    const more = levelWith(compiled.value, slots, 1 + NUDGE, at, solver);
    if (!more.ok) return more;
    const dbPerPct = (more.value[0] - less.value[0]) / (200 * NUDGE);
    if (Number.isFinite(dbPerPct)) holders.push({ stageId, part, dbPerPct });
  }
  return success(holders.sort((a, b) => Math.abs(b.dbPerPct) - Math.abs(a.dbPerPct)));
}

export const partMovesJob = defineJob(partMovesRequest, (request, { solver }) => runPartMoves(request, solver));
export const heldByJob = defineJob(heldByRequest, (request, { solver }) => runHeldBy(request, solver));
