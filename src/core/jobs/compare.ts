import { levelsDb } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { AS_BUILT, compile } from '../design/compile';
import type { Design, Variant } from '../design/schema';
import { valuesOf, type DesignedSection } from '../design/stage-design';
import { logGrid } from '../math/grid';
import { failure, success, type Failure, type Result } from '../result';
import type { SectionTopology } from '../topology/define-topology';
import { SECTION_TOPOLOGIES } from '../topology/index';
import { worstInBand } from './desk';
import { askedLevelDb, idealResponse } from './ideal-response';

export interface CompareRequest {
  readonly kind: 'compare';
  readonly design: Design;
  readonly variantId: string;
}

/** One way to build the path: every second-order stage of its plans in one topology, nearest preferred values. */
export interface Candidate {
  readonly topology: string;
  readonly name: string;
  readonly reason: string;
  /** The path as it stands uses it throughout. */
  readonly current: boolean;
  readonly figures:
    | { readonly partCount: number; readonly opAmps: number; readonly resistorSpread: number; readonly capacitorSpread: number; readonly worstSensitivityOfQ: number; readonly realPartsDb: number; readonly shortfall: number }
    | Failure;
}

const NUDGE = 1e-4;

/** The circuits that could serve this path, side by side. */
export function runCompare({ design, variantId }: CompareRequest, solver: AcSolver): Result<readonly Candidate[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const [way] = variant.ways;
  const planned = way.stages.filter((s) => s.target.kind === 'section');
  // A path of first-order stages alone is compared in first-order circuits.
  const order = way.plans.length > 0 && way.plans.every((plan) => plan.order === 1) ? 1 : 2;
  const candidates = candidatesOf(order);
  return success(
    candidates.map((topology) => {
      const changed = withTopology(variant, topology.id);
      const standing = planned.filter((s) => candidates.some((c) => c.id === s.topology));
      return { topology: topology.id, name: topology.name, reason: topology.reason, current: standing.length > 0 && standing.every((s) => s.topology === topology.id), figures: figuresOf(design, changed, solver) };
    }),
  );
}

const candidatesOf = (order: number): SectionTopology[] => SECTION_TOPOLOGIES.filter((t) => t.family !== 'loudspeaker' && t.order === order);

/** Every planned stage of a circuit's order built with it, its part choices forgotten. */
export function withTopology(variant: Variant, topologyId: string): Variant {
  const topology = SECTION_TOPOLOGIES.find((t) => t.id === topologyId);
  const alike = new Set(candidatesOf(topology?.order ?? 2).map((t) => t.id));
  const planKey = topology?.order === 1 ? 'first' : 'second';
  return {
    ...variant,
    ways: variant.ways.map((way) => ({
      ...way,
      plans: way.plans.map((plan) => ({ ...plan, topologies: { ...plan.topologies, [planKey]: topologyId } })),
      stages: way.stages.map((stage) => (alike.has(stage.topology) && stage.topology !== topologyId ? { ...stage, topology: topologyId, parts: {} } : stage)),
    })),
  };
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
    partCount: parts.length, opAmps: stages.reduce((sum, s) => sum + s.opAmps, 0), resistorSpread: spread('resistor'), capacitorSpread: spread('capacitor'),
    worstSensitivityOfQ: Math.max(0, ...stages.filter((s) => s.role === 'section').map(worstSensitivity)),
    realPartsDb: worstInBand(levelsDb(solved.value[0]), idealDb, askedLevelDb(way, idealDb)), shortfall,
  };
}

/** Largest |d ln Q / d ln x| over a stage's parts, from its closed form. */
function worstSensitivity(designed: DesignedSection): number {
  const values = valuesOf(designed, 'exact');
  const qAt = (name: string, factor: number) => designed.topology.closedForm(designed.target.response, { ...values, [name]: values[name] * factor }).q;
  return Math.max(0, ...Object.keys(values).map((name) => {
    const [a, b] = [qAt(name, 1 - NUDGE), qAt(name, 1 + NUDGE)];
    return a === undefined || b === undefined ? 0 : Math.abs(Math.log(b / a) / (2 * NUDGE));
  }));
}
