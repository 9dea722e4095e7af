import { levelsDb } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { AS_BUILT, compile } from '../design/compile';
import { arrangeStages, createPlan } from '../design/create';
import type { Design, Plan, Variant } from '../design/schema';
import { flatGainOf, sectionsOf } from '../design/targets';
import { alignmentById, type AlignmentId } from '../filter/alignments/index';
import { matchBrief, type BriefMatch } from '../filter/brief-mask';
import { cascadeResponse } from '../filter/section';
import { logGrid } from '../math/grid';
import { failure, success, type Failure, type Result } from '../result';
import { worstInBand } from './desk';
import type { Grid } from './desk-types';
import { traceOf } from './trace';

/** What would meet the brief: the smallest order of every alignment, built and compared. */
export interface MatchRequest {
  readonly kind: 'match';
  readonly design: Design;
  readonly variantId: string;
  readonly grid: Grid;
}

export interface Match {
  readonly plan: Plan;
  readonly name: string;
  readonly worstQ: number;
  /** Largest less smallest group delay in the pass band, s. */
  readonly delayRippleS: number;
  /** Of the ideal, dB, over the result's grid. */
  readonly levelDb: Float64Array;
  readonly figures: { readonly partCount: number; readonly opAmps: number; /** Worst miss of the built circuit in the pass band, dB. */ readonly realPartsDb: number } | Failure;
}
export interface Matches {
  readonly freqHz: Float64Array;
  readonly matches: readonly Match[];
}

const PASS_POINTS = 121;

/** Fails as `matchBrief` does, or with `no-such-variant`. */
export function runMatch({ design, variantId, grid }: MatchRequest, solver: AcSolver): Result<Matches> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const found = matchBrief(design.brief.mask);
  if (!found.ok) return found;
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  return success({ freqHz, matches: found.value.map((match) => judged(design, variant, match, freqHz, solver)) });
}

function planOf(match: BriefMatch, gainDb: number): Plan {
  const { response, alignment, order, cutoffHz, bandwidthHz, rippleDb, attenuationDb } = match;
  return { ...createPlan('match', response, alignment as AlignmentId, order, cutoffHz), bandwidthHz, rippleDb, attenuationDb, gainDb };
}

function judged(design: Design, variant: Variant, match: BriefMatch, freqHz: Float64Array, solver: AcSolver): Match {
  const [way] = variant.ways;
  const plan = planOf(match, way.plans.reduce((sum, p) => sum + p.gainDb, 0));
  const sections = sectionsOf(plan);
  const scaled = sections.map((s, i) => (i === 0 ? { ...s, gain: flatGainOf(plan) } : s));
  const pass = logGrid(match.passHz[0], match.passHz[1], PASS_POINTS);
  const delays = traceOf(pass, cascadeResponse(scaled, pass)).delayS.slice(1, -1);
  return {
    plan, name: alignmentById(plan.alignment).name, worstQ: sections.reduce((worst, s) => Math.max(worst, s.order === 2 ? s.q : 0.5), 0),
    delayRippleS: delays.reduce((m, v) => Math.max(m, v), -Infinity) - delays.reduce((m, v) => Math.min(m, v), Infinity),
    levelDb: levelsDb(cascadeResponse(scaled, freqHz)), figures: figuresOf(design, variant, plan, pass, solver),
  };
}

function figuresOf(design: Design, variant: Variant, plan: Plan, pass: Float64Array, solver: AcSolver): Match['figures'] {
  let count = 0;
  const way = arrangeStages({ ...variant.ways[0], plans: [plan], stages: [], outputResistor: null }, () => `match-${count++}`);
  const built = compile(design, { ...variant, ways: [way] }, AS_BUILT);
  if (!built.ok) return built;
  const solved = solver.sweep(built.value.circuit, pass, [built.value.ways[0].output]);
  if (!solved.ok) return solved;
  const scaled = sectionsOf(plan).map((s, i) => (i === 0 ? { ...s, gain: flatGainOf(plan) } : s));
  const { stages } = built.value.ways[0];
  return {
    partCount: stages.reduce((sum, s) => sum + s.parts.length, 0), opAmps: stages.reduce((sum, s) => sum + s.opAmps, 0),
    realPartsDb: worstInBand(levelsDb(solved.value[0]), levelsDb(cascadeResponse(scaled, pass)), plan.gainDb),
  };
}
