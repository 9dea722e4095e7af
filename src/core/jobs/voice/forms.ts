import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Stage, Variant } from '../../design/document/schema';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { findTopology } from '../../topology/index';

/** The switch positions of a stage's circuit, one over another. */
const formsRequest = requestOf('forms', { ...ofVariant, stageId: z.string(), grid: gridSchema });
export type FormsRequest = z.infer<typeof formsRequest>;

export interface FormCurve {
  readonly form: string;
  readonly levelDb: Float64Array;
  /** What brings its highest level to that of the form on the desk, dB. */
  readonly matchDb: number;
  /**
   * What a hand analysis misses that leaves its small parts out: those that this form has, and by how much the level is
   * then off at most of what is heard, dB, where. Null where it leaves none out.
   */
  readonly neglected: { readonly parts: readonly string[]; readonly worstDb: number; readonly atHz: number } | null;
  /** Values as chosen, by part name: what its reduced circuit is drawn with. */
  readonly parts: Readonly<Record<string, number>>;
}

export interface Forms {
  readonly freqHz: Float64Array;
  readonly current: string;
  readonly forms: readonly FormCurve[];
  /**
   * Of a circuit with a form that combines two others: that form less the two in a row, both matched at their highest,
   * dB; and where they differ most.
   */
  readonly combined: {
    readonly whole: string;
    readonly of: readonly [string, string];
    readonly cascadeDb: Float64Array;
    readonly differenceDb: Float64Array;
    readonly worstDb: number;
    readonly atHz: number;
  } | null;
}

/** Differences are told where either still lies within this of its highest, dB: below, nobody hears them. */
const HEARD_DB = -40;

/**
 * Fails as the design does, or with `no-such-stage`; forms that cannot be designed with these parameters are left out.
 */
export function runForms({ design, variantId, stageId, grid }: FormsRequest, solver: AcSolver): Result<Forms> {
  const variant = design.variants.find((v) => v.id === variantId);
  const stage = variant?.ways.flatMap((w) => w.stages).find((s) => s.id === stageId);
  const topology = stage && findTopology(stage.topology);
  if (!variant || !stage || topology?.role !== 'network') return failure('no-such-stage', { stage: stageId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const swept = (
    stages: readonly Stage[],
  ): Result<{ levelDb: Float64Array; parts: Readonly<Record<string, number>> }> => {
    const built = compile(design, withStages(variant, stageId, stages), AS_BUILT);
    if (!built.ok) return built;
    const way = built.value.ways.find((w) => w.stages.some((s) => s.stage.id === stages[0].id)) ?? built.value.ways[0];
    const solved = solver.sweep(built.value.circuit, freqHz, [way.output]);
    const designed = way.stages.find((s) => s.stage.id === stages[0].id);
    return solved.ok
      ? success({
          levelDb: levelsDb(solved.value[0]),
          parts: Object.fromEntries((designed?.parts ?? []).map((p) => [p.spec.name, p.chosen])),
        })
      : solved;
  };
  const found = topology.modes.flatMap((form) => {
    const got = swept([{ ...stage, mode: form }]);
    if (!got.ok) return [];
    const parts = (topology.neglected ?? []).filter((name) => name in got.value.parts);
    const without =
      parts.length > 0 ? swept([{ ...stage, mode: form, parts: { ...stage.parts, ...leftOut(parts) } }]) : null;
    const neglected = without?.ok ? { parts, ...worstOf(freqHz, without.value.levelDb, got.value.levelDb) } : null;
    return [{ form, ...got.value, neglected }];
  });
  const own = found.find((f) => f.form === stage.mode);
  if (!own) return failure('no-such-stage', { stage: stageId });
  const forms = found.map((f) => ({ ...f, matchDb: highest(own.levelDb) - highest(f.levelDb) }));
  const { combines } = topology;
  const one = found.find((f) => f.form === combines?.whole);
  const row =
    combines &&
    swept(combines.of.map((form, i): Stage => ({ ...stage, id: i === 0 ? stageId : `${stageId}~${i}`, mode: form })));
  return success({
    freqHz,
    current: stage.mode,
    forms,
    combined:
      combines && one && row?.ok
        ? { ...combines, cascadeDb: row.value.levelDb, ...differenceOf(freqHz, one.levelDb, row.value.levelDb) }
        : null,
  });
}

const highest = (levels: Float64Array): number => levels.reduce((m, v) => Math.max(m, v), -Infinity);

const leftOut = (parts: readonly string[]): Stage['parts'] =>
  Object.fromEntries(parts.map((name) => [name, { leftOut: true }]));

/** By how much one is over the other where they differ most of what is heard, as they are. */
function worstOf(freqHz: Float64Array, oneDb: Float64Array, otherDb: Float64Array): { worstDb: number; atHz: number } {
  const floorDb = Math.max(highest(oneDb), highest(otherDb)) + HEARD_DB;
  const off = oneDb.map((v, i) => (Math.max(v, otherDb[i]) > floorDb ? v - otherDb[i] : 0));
  const at = off.reduce((worst, d, i) => (Math.abs(d) > Math.abs(off[worst]) ? i : worst), 0);
  return { worstDb: off[at], atHz: freqHz[at] };
}

/** One less the other, both matched at their highest, and where they differ most of what is heard. */
function differenceOf(
  freqHz: Float64Array,
  oneDb: Float64Array,
  otherDb: Float64Array,
): { differenceDb: Float64Array; worstDb: number; atHz: number } {
  const [oneTop, otherTop] = [highest(oneDb), highest(otherDb)];
  const differenceDb = oneDb.map((v, i) => v - oneTop - (otherDb[i] - otherTop));
  let worst = 0;
  differenceDb.forEach((d, i) => {
    if (Math.max(oneDb[i] - oneTop, otherDb[i] - otherTop) > HEARD_DB && Math.abs(d) > Math.abs(differenceDb[worst]))
      worst = i;
  });
  return { differenceDb, worstDb: differenceDb[worst], atHz: freqHz[worst] };
}

/** The variant with other stages in the place of one. */
const withStages = (variant: Variant, stageId: string, stages: readonly Stage[]): Variant => ({
  ...variant,
  ways: variant.ways.map((way) => ({ ...way, stages: way.stages.flatMap((s) => (s.id === stageId ? stages : [s])) })),
});

export const formsJob = defineJob(formsRequest, (request, { solver }) => runForms(request, solver));
