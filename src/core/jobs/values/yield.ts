import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema, type Grid } from '../define-job';
import { sampledExtremes } from '../../analysis/curves/curve-reader';
import { levelsDb } from '../../analysis/curves/response';
import { valueDraws } from '../../analysis/tolerance/spread';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Design, Way } from '../../design/document/schema';
import { limitSpan } from '../../filter/brief-mask';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { smallSignalWith } from '../reading/built-variant';
import { judgeLimit } from '../desk/desk';
import { askedLevelDb, idealResponse } from '../reading/ideal-response';
import type { JobContext } from '../job-context';
import { nullOf } from './nulls';
import { notSteady, readWay, referenceOfDraw, type WayReading } from '../reading/read-way';

/** What share of builds meets the brief with parts of one grade or another, and what the grades cost. */
const yieldRequest = requestOf('yield', { ...ofVariant, runs: z.number(), seed: z.number(), grid: gridSchema });
export type YieldRequest = z.infer<typeof yieldRequest>;

/**
 * What a build is judged by: the limits that are asked for; of a path with nulls and no limits, their depth where they
 * are meant to be; of any other, that it stays within a decibel of the ideal in the pass band.
 */
export type YieldCriterion = 'limits' | 'null-depth' | 'within-1-db';

export interface Yield {
  readonly criterion: YieldCriterion;
  /** Builds that were drawn of every grade. */
  readonly runs: number;
  readonly grades: readonly GradeYield[];
}

export interface GradeYield {
  readonly resistorPct: number;
  readonly capacitorPct: number;
  /** Share of builds that are good. */
  readonly share: number;
  /** How far the share of all builds may lie from that of those drawn: 19 of 20 lie nearer. */
  readonly shareWithin: number;
  /** Price of all parts against that of the cheapest grade, as such grades typically go. */
  readonly costRatio: number;
}

/** Grades as they are sold, cheapest first, and what a part of each typically costs against the cheapest. */
const RESISTOR_GRADES = [
  { pct: 5, cost: 1 },
  { pct: 1, cost: 1.3 },
  { pct: 0.1, cost: 12 },
];
const CAPACITOR_GRADES = [
  { pct: 10, cost: 4 },
  { pct: 5, cost: 6 },
  { pct: 2.5, cost: 12 },
  { pct: 1, cost: 30 },
];
const WITHIN_DB = 1;
/** A null of a build is good from this depth on, dB under the pass band. */
export const NULL_DEPTH_DB = 30;

/** Of a path that is judged by its nulls, the rest is read on so many points. */
const BESIDE_NULLS = 13;

/** What makes a build good, and the frequencies (Hz, rising) that it is to be known at. */
function judgeOfBuilds(
  design: Design,
  way: Way,
  { ways }: Compilation,
  read: WayReading,
  grid: Grid,
  solver: AcSolver,
): { criterion: YieldCriterion; freqHz: Float64Array; meets: (levelDb: Float64Array) => boolean } {
  const { mask } = design.brief;
  if (mask.length > 0) {
    // Where limits begin and end there are points of their own.
    const edges = mask.flatMap((limit) => limitSpan(limit, mask)).filter((f) => f > 0 && f < Infinity);
    const freqHz = Float64Array.from([...read.reader.freqHz, ...edges]).sort();
    const meets = (level: Float64Array): boolean => {
      const pass = referenceOfDraw(read, freqHz, level);
      const curve = sampledExtremes(freqHz, level);
      return mask.every((limit) => judgeLimit(limit, mask, curve, pass).met);
    };
    return { criterion: 'limits', freqHz, meets };
  }
  // The nulls beside a pass band (elliptic) are its means, not what it is for.
  const isForNulls = way.plans.every(({ response }) => response === 'bandstop');
  const nullsHz = isForNulls ? ways[0].stages.flatMap((stage) => nullOf(stage) ?? []) : [];
  if (nullsHz.length > 0) {
    const beside = [...logGrid(grid.fromHz, grid.toHz, BESIDE_NULLS), read.reference.freqHz];
    const freqHz = Float64Array.from([...beside, ...nullsHz]).sort();
    const meets = (level: Float64Array): boolean => {
      const pass = referenceOfDraw(read, freqHz, level);
      return nullsHz.every((f) => level[freqHz.indexOf(f)] <= pass - NULL_DEPTH_DB);
    };
    return { criterion: 'null-depth', freqHz, meets };
  }
  const { freqHz } = read.reader;
  const idealDb = levelsDb(idealResponse(design, way, ways[0].stages, freqHz, solver));
  const asked = askedLevelDb(way, idealDb);
  const meets = (level: Float64Array): boolean =>
    level.every((db, i) => idealDb[i] < asked - 3 || Math.abs(db - idealDb[i]) <= WITHIN_DB);
  return { criterion: 'within-1-db', freqHz, meets };
}

/** Fails with `no-such-variant`, as the design does, or with `cancelled`. */
async function runYield(
  { design, variantId, runs, seed, grid }: YieldRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Yield>> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const { circuit, parts, ways } = built.value;
  const read = readWay(built.value, variant.ways[0], ways[0], solver, grid);
  if (!read.ok) return read;
  if (!read.value.stability.stable) return notSteady(read.value.stability);
  const { criterion, freqHz, meets } = judgeOfBuilds(design, variant.ways[0], built.value, read.value, grid, solver);
  const kindOf = new Map(
    ways[0].stages.flatMap((s) => s.parts.map((p) => [`${s.stage.id} ${p.spec.name}`, p.spec.kind] as const)),
  );
  const counts = { resistor: 0, capacitor: 0 };
  for (const s of ways[0].stages)
    if (!s.stage.bypassed)
      for (const p of s.parts) if (p.spec.kind === 'resistor' || p.spec.kind === 'capacitor') counts[p.spec.kind]++;
  const costOf = (r: number, c: number) => counts.resistor * r + counts.capacitor * c;
  const cheapest = costOf(RESISTOR_GRADES[0].cost, CAPACITOR_GRADES[0].cost);
  const grades: GradeYield[] = [];
  for (const resistor of RESISTOR_GRADES)
    for (const capacitor of CAPACITOR_GRADES) {
      const varying = parts.map((p) => ({
        ...p,
        tolerancePct:
          kindOf.get(`${p.stageId} ${p.part}`) === 'capacitor'
            ? capacitor.pct
            : kindOf.get(`${p.stageId} ${p.part}`) === 'resistor' || p.stageId === null
              ? resistor.pct
              : p.tolerancePct,
      }));
      const draw = valueDraws(circuit.values, varying, seed);
      const values = new Float64Array(circuit.values.length);
      let good = 0;
      for (let run = 0; run < runs; run++) {
        const drawn = smallSignalWith(built.value, draw(values));
        const solved = drawn.ok ? solver.sweep(drawn.value, freqHz, [ways[0].output]) : drawn;
        if (!solved.ok) return solved;
        if (meets(levelsDb(solved.value[0]))) good++;
      }
      grades.push({
        resistorPct: resistor.pct,
        capacitorPct: capacitor.pct,
        share: good / runs,
        shareWithin: shareWithin(good, runs),
        costRatio: costOf(resistor.cost, capacitor.cost) / cheapest,
      });
      context.progress(grades.length / (RESISTOR_GRADES.length * CAPACITOR_GRADES.length));
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: grades.length });
    }
  return success({ criterion, runs, grades });
}

/** Two-sided, for 19 of 20. */
const Z = 1.96;
/** Half the width of the score interval of a share (E. B. Wilson, J. Amer. Statist. Assoc. 22, 1927, p. 209). */
const shareWithin = (good: number, of: number): number =>
  (Z / (1 + Z ** 2 / of)) * Math.sqrt(((good / of) * (1 - good / of)) / of + Z ** 2 / (4 * of ** 2));

/** Grades that nothing cheaper equals in yield, cheapest first. */
export function worthwhileGrades(grades: readonly GradeYield[]): GradeYield[] {
  const sorted = [...grades].sort((a, b) => a.costRatio - b.costRatio || b.share - a.share);
  return sorted.filter((g, i) => sorted.slice(0, i).every((cheaper) => cheaper.share < g.share - 0.005));
}

export const yieldJob = defineJob(yieldRequest, (request, { solver, context }) => runYield(request, solver, context));
