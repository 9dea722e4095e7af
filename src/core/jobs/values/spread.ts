import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { crossings } from '../../analysis/curves/marks';
import { quantilesOf, shareOfVariance, valueDraws } from '../../analysis/tolerance/spread';
import type { AcSolver } from '../../analysis/ac/solver';
import { smallSignalWith } from '../reading/built-variant';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Way } from '../../design/document/schema';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import type { JobContext } from '../job-context';
import { marksOf } from '../reading/way-marks';
import { notSteady, readWay, referenceOfDraw, type WayReading } from '../reading/read-way';

const spreadRequest = requestOf('spread', {
  ...ofVariant,
  seed: z.number(),
  runs: z.number(),
  grid: gridSchema,
});
export type SpreadRequest = z.infer<typeof spreadRequest>;

export interface SpreadResult {
  readonly runs: number;
  readonly freqHz: Float64Array;
  readonly p05Db: Float64Array;
  readonly p50Db: Float64Array;
  readonly p95Db: Float64Array;
  readonly minDb: Float64Array;
  readonly maxDb: Float64Array;
  /** One per −3 dB point of the nominal circuit: its frequency in every draw (Hz; NaN where a draw has none). */
  readonly cutoffs: readonly {
    readonly nominalHz: number;
    readonly falling: boolean;
    readonly drawsHz: Float64Array;
  }[];
  /** Parts by how much of the first cutoff's scatter (or, with none, of the level's) they make, largest first. */
  readonly blame: readonly { readonly stageId: string | null; readonly part: string; readonly share: number }[];
}

const bandRequest = requestOf('band', { ...ofVariant, seed: z.number(), runs: z.number(), grid: gridSchema });
export type BandRequest = z.infer<typeof bandRequest>;

/** The levels that draws of a design lie between: over its grid, dB. */
export interface SpreadBand {
  readonly freqHz: Float64Array;
  readonly p05Db: Float64Array;
  readonly p95Db: Float64Array;
  readonly minDb: Float64Array;
  readonly maxDb: Float64Array;
}

/**
 * The band alone, of few draws: quick enough to follow a drag. The same seed draws the same deviations, so the band
 * moves with the curve and does not flicker.
 */
function runBand(request: BandRequest, solver: AcSolver): Result<SpreadBand> {
  const variant = request.design.variants.find((v) => v.id === request.variantId);
  if (!variant) return failure('no-such-variant', { variant: request.variantId });
  const built = compile(request.design, variant, AS_BUILT);
  if (!built.ok) return built;
  const { circuit, parts } = built.value;
  const freqHz = logGrid(request.grid.fromHz, request.grid.toHz, request.grid.points);
  const draw = valueDraws(circuit.values, parts, request.seed);
  const values = new Float64Array(circuit.values.length);
  const all = Array.from(freqHz, () => new Float64Array(request.runs));
  for (let run = 0; run < request.runs; run++) {
    const drawn = smallSignalWith(built.value, draw(values));
    const solved = drawn.ok ? solver.sweep(drawn.value, freqHz, [built.value.ways[0].output]) : drawn;
    if (!solved.ok) return solved;
    const [response] = solved.value;
    for (let i = 0; i < all.length; i++) all[i][run] = 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2);
  }
  for (const column of all) column.sort();
  const pick = (p: number) => quantilesOf(all, p);
  return success({ freqHz, p05Db: pick(0.05), p95Db: pick(0.95), minDb: pick(0), maxDb: pick(1) });
}

const DRAWS_BETWEEN_PAUSES = 25;

/**
 * Seeded Monte Carlo over all parts: only value arrays change, so the whole run uses one elimination plan. Fails with
 * `cancelled` when asked to stop.
 */
async function runSpread(request: SpreadRequest, solver: AcSolver, context: JobContext): Promise<Result<SpreadResult>> {
  const { design, runs, grid } = request;
  const variant = design.variants.find((v) => v.id === request.variantId);
  const built = variant
    ? compile(design, variant, AS_BUILT)
    : failure('no-such-variant', { variant: request.variantId });
  if (!built.ok) return built;
  if (!variant) return failure('no-such-variant');
  const { parts } = built.value;
  const [way, compiled] = [variant.ways[0], built.value.ways[0]];
  const read = readWay(built.value, way, compiled, solver, grid);
  if (!read.ok) return read;
  const reading = read.value;
  if (!reading.stability.stable) return notSteady(reading.stability);
  const drawing = new Drawing(request, built.value, reading, way);
  for (let run = 0; run < runs; run++) {
    const drawn = drawing.draw(run, solver);
    if (!drawn.ok) return drawn;
    if (run % DRAWS_BETWEEN_PAUSES === DRAWS_BETWEEN_PAUSES - 1) {
      context.progress((run + 1) / runs);
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: run + 1 });
    }
  }
  const { freqHz, cutoffs, all, deviations } = drawing;
  const outcome = cutoffs[0]?.drawsHz.every(Number.isFinite) ? cutoffs[0].drawsHz : all[Math.floor(all.length / 2)];
  const shares = shareOfVariance(deviations, outcome);
  const sorted = all.map((column) => column.slice().sort());
  const pick = (p: number) => quantilesOf(sorted, p);
  return success({
    runs,
    freqHz,
    p05Db: pick(0.05),
    p50Db: pick(0.5),
    p95Db: pick(0.95),
    minDb: pick(0),
    maxDb: pick(1),
    cutoffs: cutoffs.map(({ nominalHz, falling, drawsHz }) => ({ nominalHz, falling, drawsHz })),
    blame: parts
      .map(({ stageId, part }, p) => ({ stageId, part, share: shares[p] }))
      .filter(
        ({ stageId, part }, p) => parts.findIndex((other) => other.stageId === stageId && other.part === part) === p,
      )
      .sort((a, b) => b.share - a.share),
  });
}

/** Circuits drawn one after another, and what is kept of each. */
class Drawing {
  readonly freqHz: Float64Array;
  /** Levels, dB: by frequency, then by draw. */
  readonly all: readonly Float64Array[];
  /** How far each part is off its value, as a share: by part, then by draw. */
  readonly deviations: readonly Float64Array[];
  readonly cutoffs: readonly {
    readonly nominalHz: number;
    readonly falling: boolean;
    readonly depthDb: number;
    readonly drawsHz: Float64Array;
  }[];
  /** Drawn over what is on show, read where the curve itself asks for points. */
  private readonly readHz: Float64Array;
  private readonly shown: readonly number[];
  private readonly level: Float64Array;
  private readonly values: Float64Array;
  private readonly fill: (values: Float64Array) => Float64Array;

  constructor(
    { grid, runs, seed }: SpreadRequest,
    private readonly built: Compilation,
    private readonly reading: WayReading,
    way: Way,
  ) {
    const { circuit, parts } = built;
    this.freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
    this.readHz = Float64Array.from(new Set([...this.freqHz, ...reading.reader.freqHz])).sort();
    this.shown = Array.from(this.freqHz, (f) => this.readHz.indexOf(f));
    this.level = new Float64Array(this.readHz.length);
    this.values = new Float64Array(circuit.values.length);
    this.fill = valueDraws(circuit.values, parts, seed);
    this.all = Array.from(this.freqHz, () => new Float64Array(runs));
    this.deviations = parts.map(() => new Float64Array(runs));
    this.cutoffs = marksOf(reading, way)
      .filter((m) => m.kind === 'cutoff')
      .map(({ freqHz: nominalHz, falling, depthDb }) => ({
        nominalHz,
        falling,
        depthDb,
        drawsHz: new Float64Array(runs).fill(NaN),
      }));
  }

  draw(run: number, solver: AcSolver): Result<void> {
    const { built, values, level, readHz } = this;
    this.fill(values);
    const drawn = smallSignalWith(built, values);
    const solved = drawn.ok ? solver.sweep(drawn.value, readHz, [built.ways[0].output]) : drawn;
    if (!solved.ok) return solved;
    const [response] = solved.value;
    for (let i = 0; i < level.length; i++) level[i] = 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2);
    this.shown.forEach((at, i) => (this.all[i][run] = level[at]));
    const referenceDb = referenceOfDraw(this.reading, readHz, level);
    for (const { nominalHz, falling, depthDb, drawsHz } of this.cutoffs) {
      const [near] = crossings(readHz, level, referenceDb + depthDb)
        .filter((c) => c.falling === falling)
        .sort((a, b) => distance(a.freqHz, nominalHz) - distance(b.freqHz, nominalHz));
      if (near) drawsHz[run] = near.freqHz;
    }
    built.parts.forEach(({ slot }, p) => (this.deviations[p][run] = values[slot] / built.circuit.values[slot] - 1));
    return success(undefined);
  }
}

const distance = (a: number, b: number): number => Math.abs(Math.log(a / b));

export const spreadJob = defineJob(spreadRequest, (request, { solver, context }) =>
  runSpread(request, solver, context),
);

export const bandJob = defineJob(bandRequest, (request, { solver }) => runBand(request, solver));
