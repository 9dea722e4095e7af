import { z } from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { sampledExtremes } from '../../analysis/curves/curve-reader';
import { levelsDb } from '../../analysis/curves/response';
import { valueDraws } from '../../analysis/tolerance/spread';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { limitSpan } from '../../filter/brief-mask';
import { failure, success, type Result } from '../../result';
import { smallSignalWith } from '../reading/built-variant';
import { judgeLimit } from '../desk/desk';
import { askedLevelDb, idealResponse } from '../reading/ideal-response';
import type { JobContext } from '../job-context';
import { notSteady, readWay, referenceOfDraw } from '../reading/read-way';

/** What share of builds meets the brief with parts of one grade or another, and what the grades cost. */
const yieldRequest = requestOf('yield', { ...ofVariant, runs: z.number(), seed: z.number(), grid: gridSchema });
export type YieldRequest = z.infer<typeof yieldRequest>;

export interface GradeYield {
  readonly resistorPct: number;
  readonly capacitorPct: number;
  /**
   * Share of builds that meet every limit; with none asked for, that stay within a decibel of the ideal in the pass
   * band.
   */
  readonly share: number;
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

/** Fails with `no-such-variant`, as the design does, or with `cancelled`. */
async function runYield(
  { design, variantId, runs, seed, grid }: YieldRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<readonly GradeYield[]>> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const { circuit, parts, ways } = built.value;
  const read = readWay(built.value, variant.ways[0], ways[0], solver, grid);
  if (!read.ok) return read;
  if (!read.value.stability.stable) return notSteady(read.value.stability);
  // Where limits begin and end there are points of their own.
  const edges = design.brief.mask
    .flatMap((limit) => limitSpan(limit, design.brief.mask))
    .filter((f) => f > 0 && f < Infinity);
  const freqHz = Float64Array.from([...read.value.reader.freqHz, ...edges]).sort();
  const idealDb = levelsDb(idealResponse(design, variant.ways[0], ways[0].stages, freqHz, solver));
  const asked = askedLevelDb(variant.ways[0], idealDb);
  const kindOf = new Map(
    ways[0].stages.flatMap((s) => s.parts.map((p) => [`${s.stage.id} ${p.spec.name}`, p.spec.kind] as const)),
  );
  const counts = { resistor: 0, capacitor: 0 };
  for (const s of ways[0].stages)
    if (!s.stage.bypassed)
      for (const p of s.parts) if (p.spec.kind === 'resistor' || p.spec.kind === 'capacitor') counts[p.spec.kind]++;
  const costOf = (r: number, c: number) => counts.resistor * r + counts.capacitor * c;
  const cheapest = costOf(RESISTOR_GRADES[0].cost, CAPACITOR_GRADES[0].cost);
  const meets = (level: Float64Array): boolean => {
    const curve = sampledExtremes(freqHz, level);
    const pass = referenceOfDraw(read.value, freqHz, level);
    if (design.brief.mask.length > 0)
      return design.brief.mask.every((limit) => judgeLimit(limit, design.brief.mask, curve, pass).met);
    return level.every((db, i) => idealDb[i] < asked - 3 || Math.abs(db - idealDb[i]) <= WITHIN_DB);
  };
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
        costRatio: costOf(resistor.cost, capacitor.cost) / cheapest,
      });
      context.progress(grades.length / (RESISTOR_GRADES.length * CAPACITOR_GRADES.length));
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: grades.length });
    }
  return success(grades);
}

/** Grades that nothing cheaper equals in yield, cheapest first. */
export function worthwhileGrades(grades: readonly GradeYield[]): GradeYield[] {
  const sorted = [...grades].sort((a, b) => a.costRatio - b.costRatio || b.share - a.share);
  return sorted.filter((g, i) => sorted.slice(0, i).every((cheaper) => cheaper.share < g.share - 0.005));
}

export const yieldJob = defineJob(yieldRequest, (request, { solver, context }) => runYield(request, solver, context));
