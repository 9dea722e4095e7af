import type * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { CurveReader } from '../../analysis/curves/curve-reader';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { arrangeStages, countingIds, createPlan } from '../../design/making/create';
import type { Design, MaskLimit, Plan, Variant } from '../../design/document/schema';
import { flatGainOf, sectionsOf } from '../../design/stages/targets';
import { alignmentById, type AlignmentId } from '../../filter/alignments/index';
import { matchBrief, type BriefMatch } from '../../filter/brief-mask';
import { cascadeResponse, type SectionTarget } from '../../filter/section';
import { logGrid } from '../../math/grid';
import { failure, success, type Failure, type Result } from '../../result';
import { judgeLimit } from './desk';
import { polesOfSections, worstPassBandError } from '../reading/pass-band-error';
import { readWay } from '../reading/read-way';
import { traceOf } from '../reading/trace';

/** What would meet the brief: the smallest order of every alignment, built and compared. */
const matchRequest = requestOf('match', { ...ofVariant, grid: gridSchema });
export type MatchRequest = z.infer<typeof matchRequest>;

export interface Match {
  readonly plan: Plan;
  readonly name: string;
  /** Room left at the tightest limit, dB, of the ideal. */
  readonly marginDb: number;
  readonly worstQ: number;
  /** Largest less smallest group delay in the pass band, s. */
  readonly delayRippleS: number;
  /** Of the ideal, dB, over the result's grid. */
  readonly levelDb: Float64Array;
  readonly figures:
    | {
        readonly partCount: number;
        readonly opAmps: number;
        /** Worst pass-band error of the built circuit, dB. */
        readonly realPartsDb: number;
        /** Margin that the built circuit leaves at its tightest limit, dB; null where it oscillates. */
        readonly realMarginDb: number | null;
      }
    | Failure;
}
export interface Matches {
  readonly freqHz: Float64Array;
  readonly matches: readonly Match[];
}

const PASS_POINTS = 121;
/** A limit that is just met is met, dB. */
const MET_DB = 1e-3;

/** Fails as `matchBrief` does, or with `no-such-variant`. */
function runMatch({ design, variantId, grid }: MatchRequest, solver: AcSolver): Result<Matches> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const found = matchBrief(design.brief.mask);
  if (!found.ok) return found;
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const all = found.value.map((match) => judged(design, variant, match, freqHz, solver));
  // What is offered has been held against every limit, however it was found.
  return success({ freqHz, matches: all.filter((m) => m.marginDb > -MET_DB) });
}

function planOf(match: BriefMatch, gainDb: number): Plan {
  const { response, alignment, order, cutoffHz, bandwidthHz, rippleDb, attenuationDb } = match;
  return {
    ...createPlan('match', response, alignment as AlignmentId, order, cutoffHz),
    bandwidthHz,
    rippleDb,
    attenuationDb,
    gainDb,
  };
}

function judged(design: Design, variant: Variant, match: BriefMatch, freqHz: Float64Array, solver: AcSolver): Match {
  const [way] = variant.ways;
  const plan = planOf(
    match,
    way.plans.reduce((sum, p) => sum + p.gainDb, 0),
  );
  const sections = sectionsOf(plan);
  const scaled = sections.map((s, i) => (i === 0 ? { ...s, gain: flatGainOf(plan) } : s));
  const pass = logGrid(match.passHz[0], match.passHz[1], PASS_POINTS);
  const delays = traceOf(pass, cascadeResponse(scaled, pass)).delayS.slice(1, -1);
  return {
    plan,
    name: alignmentById(plan.alignment).name,
    marginDb: marginOf(design.brief.mask, scaled, plan.gainDb),
    worstQ: sections.reduce((worst, s) => Math.max(worst, s.order === 2 ? s.q : 0.5), 0),
    delayRippleS:
      delays.reduce((m, v) => Math.max(m, v), -Infinity) - delays.reduce((m, v) => Math.min(m, v), Infinity),
    levelDb: levelsDb(cascadeResponse(scaled, freqHz)),
    figures: figuresOf(design, variant, plan, solver),
  };
}

/** How far beyond corners and limits a plan is read, as a factor. */
const BEYOND = 100;

/** Room at the tightest limit, on the sections themselves. */
function marginOf(mask: readonly MaskLimit[], sections: readonly SectionTarget[], gainDb: number): number {
  const corners = [...sections.map((s) => s.freqHz), ...mask.map((l) => l.freqHz)];
  const reader = new CurveReader((freqHz) => cascadeResponse(sections, freqHz), polesOfSections(sections), {
    fromHz: Math.min(...corners) / BEYOND,
    toHz: Math.max(...corners) * BEYOND,
  });
  return Math.min(...mask.map((limit) => judgeLimit(limit, mask, reader, gainDb).byDb));
}

function figuresOf(design: Design, variant: Variant, plan: Plan, solver: AcSolver): Match['figures'] {
  const way = arrangeStages(
    { ...variant.ways[0], plans: [plan], stages: [], outputResistor: null },
    countingIds('match'),
  );
  const built = compile(design, { ...variant, ways: [way] }, AS_BUILT);
  if (!built.ok) return built;
  const read = readWay(built.value, way, built.value.ways[0], solver);
  if (!read.ok) return read;
  const { reader, natural, reference, stability } = read.value;
  const { mask } = design.brief;
  const scaled = sectionsOf(plan).map((s, i) => (i === 0 ? { ...s, gain: flatGainOf(plan) } : s));
  const { stages } = built.value.ways[0];
  return {
    partCount: stages.reduce((sum, s) => sum + s.parts.length, 0),
    opAmps: stages.reduce((sum, s) => sum + s.opAmps, 0),
    realPartsDb: worstPassBandError(
      { responseOf: reader.responseOf, natural },
      { responseOf: (freqHz) => cascadeResponse(scaled, freqHz), natural: polesOfSections(scaled) },
      plan.gainDb,
      reader.span,
    ),
    realMarginDb: stability.stable
      ? Math.min(...mask.map((limit) => judgeLimit(limit, mask, reader, reference.levelDb).byDb))
      : null,
  };
}

export const matchJob = defineJob(matchRequest, (request, { solver }) => runMatch(request, solver));
