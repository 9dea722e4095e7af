import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Design, Variant } from '../../design/document/schema';
import { valuesOf, type DesignedSection } from '../../design/stages/stage-design';
import { logGrid } from '../../math/grid';
import { failure, success, type Failure, type Result } from '../../result';
import { canServe, withTopology } from '../../design/making/with-topology';
import { wayTargets } from '../../design/stages/targets';
import { SECTION_TOPOLOGIES } from '../../topology/index';
import { worstInBand } from './desk';
import { askedLevelDb, idealResponse } from '../reading/ideal-response';

const compareRequest = requestOf('compare', { ...ofVariant });
export type CompareRequest = z.infer<typeof compareRequest>;

/**
 * One way to build the path: every stage of its plans that a topology can serve built with it, nearest preferred
 * values.
 */
export interface Candidate {
  readonly topology: string;
  readonly name: string;
  readonly reason: string;
  /** How many of the planned stages it can build. */
  readonly stages: number;
  /** The path as it stands uses it wherever it can. */
  readonly current: boolean;
  readonly figures:
    | {
        readonly partCount: number;
        readonly opAmps: number;
        readonly resistorSpread: number;
        readonly capacitorSpread: number;
        readonly worstSensitivityOfQ: number;
        readonly realPartsDb: number;
        readonly shortfall: number;
      }
    | Failure;
}

const NUDGE = 1e-4;

/**
 * The circuits that could serve this path, side by side: those that can build at least one of its planned stages of the
 * highest order there is.
 */
function runCompare({ design, variantId }: CompareRequest, solver: AcSolver): Result<readonly Candidate[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const [way] = variant.ways;
  const { targets } = wayTargets(way);
  const planned = way.stages
    .map((stage, i) => ({ stage, target: targets[i] }))
    .filter(({ stage }) => stage.target.kind === 'section');
  const order = Math.max(0, ...planned.map(({ target }) => target?.order ?? 0));
  const candidates = SECTION_TOPOLOGIES.filter(
    (t) => t.family !== 'loudspeaker' && t.order === order && planned.some(({ target }) => canServe(t, target)),
  );
  return success(
    candidates.map((topology) => {
      const served = planned.filter(({ target }) => canServe(topology, target));
      return {
        topology: topology.id,
        name: topology.name,
        reason: topology.reason,
        stages: served.length,
        current: served.every(({ stage }) => stage.topology === topology.id),
        figures: figuresOf(design, withTopology(variant, topology.id), solver),
      };
    }),
  );
}

function figuresOf(design: Design, variant: Variant, solver: AcSolver): Candidate['figures'] {
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const { stages, output, shortfall } = built.value.ways[0];
  const freqs = stages.flatMap((s) => s.cornersHz).concat(stages.every((s) => s.cornersHz.length === 0) ? [1000] : []);
  const grid = logGrid(Math.min(...freqs) / 50, Math.max(...freqs) * 50, 161);
  const solved = solver.sweep(built.value.circuit, grid, [output]);
  if (!solved.ok) return solved;
  const way = variant.ways[0];
  const parts = stages.flatMap((s) => s.parts);
  const idealDb = levelsDb(idealResponse(design, way, stages, grid, solver));
  const spread = (kind: string) => {
    const values = parts.filter((p) => p.spec.kind === kind).map((p) => p.chosen);
    return values.length > 0 ? Math.max(...values) / Math.min(...values) : 1;
  };
  return {
    partCount: parts.length,
    opAmps: stages.reduce((sum, s) => sum + s.opAmps, 0),
    resistorSpread: spread('resistor'),
    capacitorSpread: spread('capacitor'),
    worstSensitivityOfQ: Math.max(0, ...stages.filter((s) => s.role === 'section').map(worstSensitivity)),
    realPartsDb: worstInBand(levelsDb(solved.value[0]), idealDb, askedLevelDb(way, idealDb)),
    shortfall,
  };
}

/** Largest |d ln Q / d ln x| over a stage's parts, from its closed form. */
function worstSensitivity(designed: DesignedSection): number {
  const values = valuesOf(designed, 'exact');
  const qAt = (name: string, factor: number) =>
    designed.topology.closedForm(designed.target.response, { ...values, [name]: values[name] * factor }).q;
  return Math.max(
    0,
    ...Object.keys(values).map((name) => {
      const [a, b] = [qAt(name, 1 - NUDGE), qAt(name, 1 + NUDGE)];
      return a === undefined || b === undefined ? 0 : Math.abs(Math.log(b / a) / (2 * NUDGE));
    }),
  );
}

export const compareJob = defineJob(compareRequest, (request, { solver }) => runCompare(request, solver));
