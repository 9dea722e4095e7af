import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPointNear } from '../../analysis/rest/operating-point';
import { dominantSection } from '../../analysis/roots/poles';
import { AS_BUILT, compile, compileStage, type Compilation } from '../../design/compiled/compile';
import type { Design, Variant } from '../../design/document/schema';
import { withParts } from '../../design/document/with-parts';
import { valuesOf, type DesignedNetwork, type DesignedStage } from '../../design/stages/stage-design';
import { parametersOf } from '../../topology/kit/define-topology';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { figureOrNull } from '../../units/quantity';
import { askedLevelDb, idealResponse } from '../reading/ideal-response';
import { bandOf, longest } from '../voice/longest-pole';

const detailRequest = requestOf('detail', { ...ofVariant, stageId: z.string() });
export type DetailRequest = z.infer<typeof detailRequest>;

/** What one part does to its stage and to the whole. */
export interface PartDetail {
  readonly part: string;
  /** Per cent of cutoff, and of Q, per per cent of the part; null where the stage has no such figure. */
  readonly movesCutoff: number | null;
  readonly movesQ: number | null;
  /**
   * Largest change (dB) in the pass band when the part is left out, against the circuit with it, and where; null when
   * the circuit then passes nothing or has no solution.
   */
  readonly leaveOut: { readonly costDb: number; readonly atHz: number } | null;
}

const COST_POINTS = 61;
/** Relative nudge for derivatives: central differences, error about its square. */
const NUDGE = 1e-3;

/** Per cent of a figure per per cent of a part, from the figure with the part nudged down and up; null without one. */
const slopeOf = (down: number | undefined, up: number | undefined): number | null =>
  down === undefined || up === undefined
    ? null
    : figureOrNull(Math.log(up / down) / Math.log((1 + NUDGE) / (1 - NUDGE)));

/** Sensitivity of a stage to each part, from its circuit's poles, and what leaving each part out costs. */
function runDetail({ design, variantId, stageId }: DetailRequest, solver: AcSolver): Result<readonly PartDetail[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  const designed = built.value.ways[0].stages.find((s) => s.stage.id === stageId);
  if (!variant || !designed) return failure('no-such-stage', { stage: stageId });
  const way = variant.ways[0];
  const freqs = way.plans.map((p) => p.cutoffHz).concat(designed.cornersHz);
  if (freqs.length === 0) freqs.push(1000);
  const grid = logGrid(Math.min(...freqs) / 100, Math.max(...freqs) * 100, COST_POINTS);
  const ideal = levelsDb(idealResponse(design, way, built.value.ways[0].stages, grid, solver));
  const asked = askedLevelDb(way, ideal);
  const inBand = Array.from(grid, (_, i) => ideal[i] >= asked - 3.0103);
  const levelsOf = (v: Variant) => {
    const compiled = compile(design, v, AS_BUILT);
    if (!compiled.ok) return null;
    const solved = solver.sweep(compiled.value.circuit, grid, [compiled.value.ways[0].output]);
    return solved.ok ? levelsDb(solved.value[0]) : null;
  };
  const whole = levelsOf(withLeftOut(variant, stageId, null));
  return success(
    designed.parts.map(({ spec }) => {
      const without = levelsOf(withLeftOut(variant, stageId, spec.name));
      return {
        part: spec.name,
        ...(built.value.live
          ? liveSensitivity(design, variant, built.value, designed, spec.name)
          : sensitivity(design, designed, spec.name)),
        leaveOut: whole && without ? cost(grid, whole, without, inBand) : null,
      };
    }),
  );
}

function cost(
  grid: Float64Array,
  whole: Float64Array,
  without: Float64Array,
  inBand: readonly boolean[],
): PartDetail['leaveOut'] {
  let [costDb, atHz] = [0, grid[0]];
  grid.forEach((f, i) => {
    if (inBand[i] && Math.abs(without[i] - whole[i]) > Math.abs(costDb)) [costDb, atHz] = [without[i] - whole[i], f];
  });
  return Number.isFinite(costDb) ? { costDb, atHz } : null;
}

/** One part left out and all others of its stage in (null: all in). */
const withLeftOut = (variant: Variant, stageId: string, part: string | null): Variant =>
  withParts(variant, stageId, (parts) => {
    const all = Object.fromEntries(Object.entries(parts).map(([name, own]) => [name, { ...own, leftOut: false }]));
    return part === null ? all : { ...all, [part]: { ...all[part], leftOut: true } };
  });

function sensitivity(
  design: Design,
  designed: DesignedStage,
  part: string,
): Pick<PartDetail, 'movesCutoff' | 'movesQ'> {
  if (designed.role === 'network') return networkSensitivity(designed, part);
  const { target } = designed;
  const at = (factor: number) => {
    const parts = designed.parts.map((p) => ({
      ...p,
      choice: { ...p.choice, leftOut: false },
      chosen: p.spec.name === part ? p.chosen * factor : p.chosen,
    }));
    return dominantSection(
      compileStage(design, { ...designed, parts }, { values: 'chosen', devices: 'real' }),
      target.order,
      target.freqHz,
    );
  };
  const [down, up] = [at(1 - NUDGE), at(1 + NUDGE)];
  return { movesCutoff: slopeOf(down?.freqHz, up?.freqHz), movesQ: slopeOf(down?.q, up?.q) };
}

/**
 * How the pole pair that rings longest moves with a part, of a circuit that rests on its devices: each nudge finds its
 * own rest. Null of what a control holds, and where no pair is found.
 */
function liveSensitivity(
  design: Design,
  variant: Variant,
  built: Compilation,
  { stage, parts }: DesignedStage,
  part: string,
): Pick<PartDetail, 'movesCutoff' | 'movesQ'> {
  const own = parts.find(({ spec }) => spec.name === part);
  const none = { movesCutoff: null, movesQ: null };
  if (!own || own.choice.control || own.spec.kind === 'current' || own.spec.kind === 'voltage') return none;
  const band = bandOf(built);
  const at = (factor: number) => {
    const use = { kind: 'single' as const, values: [own.chosen * factor] };
    const changed = withParts(variant, stage.id, (all) => ({ ...all, [part]: { ...all[part], leftOut: false, use } }));
    const compiled = compile(design, changed, { ...AS_BUILT, rest: 'left' });
    // Its rest is near the one there is.
    const rest = compiled.ok && built.live ? operatingPointNear(compiled.value.circuit, built.live.rest) : null;
    return compiled.ok && rest?.ok ? longest(linearise(compiled.value.circuit, rest.value), band) : null;
  };
  const [down, up] = [at(1 - NUDGE), at(1 + NUDGE)];
  return { movesCutoff: slopeOf(down?.freqHz, up?.freqHz), movesQ: slopeOf(down?.q, up?.q) };
}

/** How the first frequency a circuit is asked for, and its Q if it has one, move with a part: from its own formulas. */
function networkSensitivity(
  { topology, form, parameters, ...designed }: DesignedNetwork,
  part: string,
): Pick<PartDetail, 'movesCutoff' | 'movesQ'> {
  const values = valuesOf(designed, 'chosen');
  const at = (factor: number) => topology.measures(form, { ...values, [part]: values[part] * factor }, parameters);
  const [down, up] = [at(1 - NUDGE), at(1 + NUDGE)];
  const slope = (name: string | undefined) => (name === undefined ? null : slopeOf(down[name], up[name]));
  const asked = parametersOf(topology, form);
  return {
    movesCutoff: slope(asked.find((p) => p.kind === 'frequency')?.name),
    movesQ: slope(asked.find((p) => p.name === 'q')?.name),
  };
}

export const detailJob = defineJob(detailRequest, (request, { solver }) => runDetail(request, solver));
