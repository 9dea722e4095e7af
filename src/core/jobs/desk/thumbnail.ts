import type { z } from 'zod';
import { defineJob, requestOf, designRead } from '../define-job';
import { levelsDb } from '../../analysis/response';
import type { AcSolver } from '../../analysis/solver';
import { AS_BUILT, compile } from '../../design/compile';
import type { Design, Variant } from '../../design/schema';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { speakerSystem, sumOf } from '../loudspeaker/speaker-system';

export const thumbnailRequest = requestOf('thumbnail', {
  design: designRead,
});
export type ThumbnailRequest = z.infer<typeof thumbnailRequest>;

/** A small curve of the current variant, for the shelf. */
export function runThumbnail(
  { design }: ThumbnailRequest,
  solver: AcSolver,
): Result<{ freqHz: Float64Array; levelDb: Float64Array }> {
  const variant = design.variants.find((v) => v.id === design.currentVariant);
  if (variant?.join === 'acoustic') return heardSum(design, variant, solver);
  const built = variant
    ? compile(design, variant, AS_BUILT)
    : failure('no-such-variant', { variant: design.currentVariant });
  if (!built.ok) return built;
  const freqs = built.value.ways.flatMap((w) => w.stages.flatMap((s) => s.cornersHz));
  const freqHz = logGrid(Math.min(20, ...freqs.map((f) => f / 8)), Math.max(20e3, ...freqs.map((f) => f * 8)), 97);
  const solved = solver.sweep(
    built.value.circuit,
    freqHz,
    built.value.ways.map((w) => w.output),
  );
  if (!solved.ok) return solved;
  // Of several ways, whichever is loudest.
  const levels = solved.value.map((response) => levelsDb(response));
  return success({ freqHz, levelDb: freqHz.map((_, i) => levels.reduce((m, l) => Math.max(m, l[i]), -Infinity)) });
}

/** Of a crossover, what is heard: its sum about its own middle. */
function heardSum(
  design: Design,
  variant: Variant,
  solver: AcSolver,
): Result<{ freqHz: Float64Array; levelDb: Float64Array }> {
  const freqHz = logGrid(20, 20e3, 97);
  const system = speakerSystem(design, variant, freqHz, solver);
  if (!system.ok) return system;
  const levelDb = levelsDb(sumOf(system.value.ways.map((w) => w.pressure)));
  const middle = Array.from(levelDb).sort((a, b) => a - b)[levelDb.length >> 1];
  return success({ freqHz, levelDb: levelDb.map((v) => v - middle) });
}

export const thumbnailJob = defineJob(thumbnailRequest, (request, { solver }) => runThumbnail(request, solver));
