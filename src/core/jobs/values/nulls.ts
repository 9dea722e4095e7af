import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { quantile, valueDraws } from '../../analysis/tolerance/spread';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { stageName, type DesignedStage } from '../../design/stages/stage-design';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { decibels } from '../../units/quantity';
import type { JobContext } from '../job-context';

/** How deep the nulls of a path will be with parts of their tolerance, and which part is to be trimmed. */
const nullsRequest = requestOf('nulls', { ...ofVariant, runs: z.number(), seed: z.number() });
export type NullsRequest = z.infer<typeof nullsRequest>;

export interface NullOutlook {
  readonly stageId: string;
  readonly name: string;
  readonly nullHz: number;
  /**
   * Depth (dB below the path's highest level near by) with the parts as marked, and of the draws: one in twenty is
   * worse than the first, half are worse than the second.
   */
  readonly markedDb: number;
  readonly p05Db: number;
  readonly p50Db: number;
  /**
   * Parts that bring the null back by themselves, and by how much they must move in nineteen draws of twenty, per cent:
   * the least first.
   */
  readonly trims: readonly { readonly part: string; readonly rangePct: number }[];
}

/**
 * How far to either side, as shares of the frequency, the null is looked for, and in how many finer and finer passes of
 * how many points.
 */
const REACH = 0.12;
const PASSES = 9;
const POINTS = 13;
const NUDGE = 1e-5;
/** A part that must move further than this does not trim a null. */
const WIDEST_TRIM_PCT = 15;
const DRAWS_BETWEEN_PAUSES = 20;

/** Where a stage is meant to have a null, Hz. */
export function nullOf(designed: DesignedStage): number | null {
  if (designed.stage.bypassed) return null;
  if (designed.role === 'section')
    return designed.target.response === 'notch' ? (designed.target.zeroHz ?? designed.target.freqHz) : null;
  return designed.parameters.notchHz ?? null;
}

/** Fails with `no-such-variant`, as the design does, or with `cancelled`. */
async function runNulls(
  request: NullsRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<readonly NullOutlook[]>> {
  const { design, variantId } = request;
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  const outlooks: NullOutlook[] = [];
  const all = built.value.ways[0].stages.flatMap((s) => nullOf(s) ?? []);
  for (const designed of built.value.ways[0].stages) {
    const meantHz = nullOf(designed);
    if (meantHz === null || !variant) continue;
    const outlook = await lookAt(
      request,
      built.value,
      designed,
      stageName(variant.ways[0], designed.stage),
      { meantHz, ...betweenNulls(meantHz, all) },
      solver,
      context,
    );
    if (!outlook.ok) return outlook;
    outlooks.push(outlook.value);
  }
  return success(outlooks);
}

async function lookAt(
  request: NullsRequest,
  built: Compilation,
  designed: DesignedStage,
  name: string,
  place: NullPlace,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<NullOutlook>> {
  const { meantHz } = place;
  const { circuit, parts } = built;
  const at = (values: Float64Array, freqHz: Float64Array) =>
    solver.sweep({ structure: circuit.structure, values }, freqHz, [built.ways[0].output]);
  const near = at(circuit.values, logGrid(meantHz / 10, meantHz * 10, 81));
  if (!near.ok) return near;
  let reference = 0;
  for (let i = 0; i < 81; i++)
    reference = Math.max(reference, Math.hypot(near.value[0][2 * i], near.value[0][2 * i + 1]));
  const lowest = (values: Float64Array) => deepest((grid) => at(values, grid), place);
  const marked = lowest(circuit.values);
  if (!marked.ok) return marked;
  const own = parts.filter((p) => p.stageId === designed.stage.id);
  const slopes = slopesAt(
    (values, f) => at(values, Float64Array.of(f)),
    circuit.values,
    marked.value.freqHz,
    own.map((p) => p.slot),
  );
  const draw = valueDraws(circuit.values, parts, request.seed);
  const values = new Float64Array(circuit.values.length);
  const depths = new Float64Array(request.runs);
  const moves = own.map(() => new Float64Array(request.runs));
  for (let run = 0; run < request.runs; run++) {
    const found = lowest(draw(values));
    if (!found.ok) return found;
    depths[run] = decibels(found.value.size / reference);
    own.forEach((_, k) => (moves[k][run] = Math.abs(moveFor(found.value, slopes.byFreq, slopes.byPart[k]))));
    if (run % DRAWS_BETWEEN_PAUSES === DRAWS_BETWEEN_PAUSES - 1) {
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: run + 1 });
    }
  }
  depths.sort();
  const trims = own
    .map(({ part }, k) => ({ part, rangePct: 100 * quantile(moves[k].sort(), 0.95) }))
    .filter(({ rangePct }) => Number.isFinite(rangePct) && rangePct < WIDEST_TRIM_PCT)
    .sort((a, b) => a.rangePct - b.rangePct);
  return success({
    stageId: designed.stage.id,
    name,
    nullHz: marked.value.freqHz,
    markedDb: decibels(marked.value.size / reference),
    p05Db: quantile(depths, 0.95),
    p50Db: quantile(depths, 0.5),
    trims,
  });
}

interface Lowest {
  readonly freqHz: number;
  readonly size: number;
  readonly re: number;
  readonly im: number;
}

/** Where a stage's null is meant to be, and how far it may be looked for: half way to its neighbours. Hz. */
interface NullPlace {
  readonly meantHz: number;
  readonly fromHz: number;
  readonly toHz: number;
}

/** Half way, in the logarithm, to the nulls of other stages on either side, and no further than the usual reach. */
function betweenNulls(meantHz: number, all: readonly number[]): Pick<NullPlace, 'fromHz' | 'toHz'> {
  const halves = (others: readonly number[]) => others.map((f) => Math.sqrt(f * meantHz));
  return {
    fromHz: Math.max(meantHz * (1 - REACH), ...halves(all.filter((f) => f < meantHz))),
    toHz: Math.min(meantHz * (1 + REACH), ...halves(all.filter((f) => f > meantHz))),
  };
}

/** The lowest point near a frequency: a grid about it, then finer ones about its lowest point. */
function deepest(
  sweep: (grid: Float64Array) => Result<Float64Array[], string>,
  { meantHz, fromHz, toHz }: NullPlace,
): Result<Lowest> {
  let [centre, reach] = [meantHz, REACH];
  let best: Lowest = { freqHz: meantHz, size: Infinity, re: 0, im: 0 };
  for (let pass = 0; pass < PASSES; pass++) {
    const grid = logGrid(Math.max(fromHz, centre * (1 - reach)), Math.min(toHz, centre * (1 + reach)), POINTS);
    const solved = sweep(grid);
    if (!solved.ok) return solved;
    const [h] = solved.value;
    for (let i = 0; i < POINTS; i++) {
      const size = Math.hypot(h[2 * i], h[2 * i + 1]);
      if (size < best.size) best = { freqHz: grid[i], size, re: h[2 * i], im: h[2 * i + 1] };
    }
    [centre, reach] = [best.freqHz, (2.2 * reach) / (POINTS - 1)];
  }
  return success(best);
}

interface Slope {
  readonly re: number;
  readonly im: number;
}

/** How the response moves at the null per relative change of frequency and of every part. */
function slopesAt(
  solve: (values: Float64Array, freqHz: number) => Result<Float64Array[], string>,
  nominal: Float64Array,
  freqHz: number,
  slots: readonly number[],
): { byFreq: Slope; byPart: Slope[] } {
  const between = (a: Result<Float64Array[], string>, b: Result<Float64Array[], string>): Slope =>
    a.ok && b.ok
      ? { re: (b.value[0][0] - a.value[0][0]) / (2 * NUDGE), im: (b.value[0][1] - a.value[0][1]) / (2 * NUDGE) }
      : { re: NaN, im: NaN };
  const moved = (slot: number, factor: number) => nominal.map((v, i) => (i === slot ? v * factor : v));
  const copy = (r: Result<Float64Array[], string>): Result<Float64Array[], string> =>
    r.ok ? success(r.value.map((row) => row.slice())) : r;
  return {
    byFreq: between(copy(solve(nominal, freqHz * (1 - NUDGE))), copy(solve(nominal, freqHz * (1 + NUDGE)))),
    byPart: slots.map((slot) =>
      between(copy(solve(moved(slot, 1 - NUDGE), freqHz)), copy(solve(moved(slot, 1 + NUDGE), freqHz))),
    ),
  };
}

/** Relative change of a part that, with the frequency free, brings the response to nothing: H + H_f Δf + H_p Δp = 0. */
function moveFor({ re, im }: Lowest, byFreq: Slope, byPart: Slope): number {
  const determinant = byFreq.re * byPart.im - byFreq.im * byPart.re;
  const size = Math.hypot(byFreq.re, byFreq.im) * Math.hypot(byPart.re, byPart.im);
  if (!(Math.abs(determinant) > 1e-3 * size)) return Infinity;
  return (-byFreq.re * im + byFreq.im * re) / determinant;
}

export const nullsJob = defineJob(nullsRequest, (request, { solver, context }) => runNulls(request, solver, context));
