import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { bankTable, levelBank, snapBank, type BankRow } from '../../design/making/bank';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { CompileOptions } from '../../design/compiled/writing';
import type { Design, Variant } from '../../design/document/schema';
import { flatGainOf } from '../../design/stages/targets';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { decibels, fromDecibels } from '../../units/quantity';
import { readWay } from '../reading/read-way';

/** All bands of a bank over one another, their sum, and the table of their stages. */
const bankRequest = requestOf('bank', { ...ofVariant, grid: gridSchema });
export type BankRequest = z.infer<typeof bankRequest>;

export interface BankBand {
  readonly wayId: string;
  readonly name: string;
  readonly levelDb: Float64Array;
  readonly peakDb: number;
  readonly peakHz: number;
  /** What its stages, tuned apart, lose on one another and have made up, dB. */
  readonly makeUpDb: number;
}
export interface Bank {
  readonly freqHz: Float64Array;
  readonly bands: readonly BankBand[];
  /** Of all bands added as they come, each with its level trim and polarity, dB. */
  readonly sumDb: Float64Array;
  /** Highest peak over lowest, dB. */
  readonly unevenDb: number;
  /**
   * How peaks drift from the lowest band to the highest, dB: in all, and how much of it goes with ideal op-amps, with
   * exact parts, and without the levels fed in. Null for two bands or fewer.
   */
  readonly drift: {
    readonly db: number;
    readonly opAmpsDb: number;
    readonly partsDb: number;
    readonly levelsDb: number;
  } | null;
  readonly table: readonly BankRow[];
}

/** Fails as the design does, or with `no-such-variant`. */
export function runBank({ design, variantId, grid }: BankRequest, solver: AcSolver): Result<Bank> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const sum = new Float64Array(2 * freqHz.length);
  const bands: BankBand[] = [];
  for (const way of variant.ways) {
    const built = compile(design, { ...variant, ways: [way] }, AS_BUILT);
    if (!built.ok) return built;
    const solved = solver.sweep(built.value.circuit, freqHz, [built.value.ways[0].output]);
    if (!solved.ok) return solved;
    const response = solved.value[0].slice();
    const trim = fromDecibels(way.levelTrimDb) * way.polarity;
    response.forEach((v, i) => (sum[i] += trim * v));
    const levelDb = levelsDb(response).map((v) => v + way.levelTrimDb);
    const read = readWay(built.value, way, built.value.ways[0], solver, grid);
    if (!read.ok) return read;
    const peak = read.value.reader.highest();
    bands.push({
      wayId: way.id,
      name: way.name,
      levelDb,
      peakDb: peak.levelDb + way.levelTrimDb,
      peakHz: peak.freqHz,
      makeUpDb: way.plans.reduce((db, plan) => db + decibels(flatGainOf(plan)) - plan.gainDb, 0),
    });
  }
  const table = bankTable(variant, design);
  if (!table.ok) return table;
  const peaks = bands.map((b) => b.peakDb);
  return success({
    freqHz,
    bands,
    sumDb: levelsDb(sum),
    unevenDb: Math.max(...peaks) - Math.min(...peaks),
    drift: driftOf(design, variant, peaks, solver),
    table: table.value,
  });
}

const FEWEST_BANDS = 3;

/** Least-squares line through the peaks, from end to end, dB. */
function tilt(peaks: readonly number[]): number {
  const n = peaks.length;
  const mean = peaks.reduce((sum, p) => sum + p, 0) / n;
  const middle = (n - 1) / 2;
  return (
    ((n - 1) * peaks.reduce((sum, p, i) => sum + (i - middle) * (p - mean), 0)) /
    peaks.reduce((sum, _, i) => sum + (i - middle) ** 2, 0)
  );
}

/** What makes the peaks drift: each cause made ideal in turn, and what of the drift goes with it. */
function driftOf(design: Design, variant: Variant, peaks: readonly number[], solver: AcSolver): Bank['drift'] {
  if (peaks.length < FEWEST_BANDS) return null;
  const db = tilt(peaks);
  const without = (options: Partial<CompileOptions>): number => {
    const changed = variant.ways.map((way) => {
      const built = compile(design, { ...variant, ways: [way] }, { ...AS_BUILT, ...options });
      const read = built.ok ? readWay(built.value, way, built.value.ways[0], solver) : built;
      return read.ok ? read.value.reader.highest().levelDb + way.levelTrimDb : NaN;
    });
    return db - tilt(changed);
  };
  return {
    db,
    opAmpsDb: without({ devices: 'ideal' }),
    partsDb: without({ values: 'exact' }),
    levelsDb: tilt(variant.ways.map((way) => way.levelTrimDb)),
  };
}

/** Chooses all parts of a bank, or brings its bands to one level. */
const bankPartsRequest = requestOf('bank-parts', { ...ofVariant, act: z.enum(['snap', 'level']) });
export type BankPartsRequest = z.infer<typeof bankPartsRequest>;

function runBankParts({ design, variantId, act }: BankPartsRequest): Result<Variant> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  return act === 'snap' ? snapBank(variant, design) : levelBank(variant, design);
}

export const bankJob = defineJob(bankRequest, (request, { solver }) => runBank(request, solver));

export const bankPartsJob = defineJob(bankPartsRequest, (request) => runBankParts(request));
