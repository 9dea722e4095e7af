import { z } from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { levelsDb } from '../../analysis/response';
import type { AcSolver } from '../../analysis/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compile';
import type { Design, Variant } from '../../design/schema';
import { seriesFor, type DesignedPart } from '../../design/stage-design';
import { leastSquares } from '../../math/least-squares';
import { logGrid } from '../../math/grid';
import { lossOhm, priceOf } from '../../parts/grades';
import { nearestPreferred, neighbours } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';
import type { JobContext } from '../job-context';
import { acousticTarget, sumOf, USUAL_LISTENING, wayTransfer, type AcousticTarget } from './speaker-system';
import { timesResponse } from '../../math/complex';

const optimiseRequest = requestOf('optimise', {
  ...ofVariant,
  /** What may move. */
  parts: z
    .array(
      z.object({
        stage: z.string(),
        part: z.string(),
      }),
    )
    .readonly(),
  /** How much the slope of each way counts beside the sum, the least load, and the price: 0 for not at all. */
  weights: z.object({
    ways: z.number(),
    load: z.number(),
    cost: z.number(),
  }),
});
export type OptimiseRequest = z.infer<typeof optimiseRequest>;

export interface Optimised {
  /** Values that can be bought, and what would be best if all could. Ohm, farad, henry. */
  readonly parts: readonly {
    readonly stage: string;
    readonly part: string;
    readonly before: number;
    readonly best: number;
    readonly value: number;
  }[];
  /**
   * Largest distance from the target over the range that counts (dB), least load (ohm; null without one) and price: as
   * it was, best, and with values that can be bought.
   */
  readonly before: Outcome;
  readonly best: Outcome;
  readonly after: Outcome;
}
export interface Outcome {
  readonly offDb: number;
  readonly lowestOhm: number | null;
  readonly price: number;
}

const POINTS = 121;
const ROUNDS = 14;
const STEPS_A_ROUND = 4;
/** A round that gains less than this share is the last. */
const WORTH_GOING_ON = 2e-3;
/**
 * How far below the target a way's slope still counts, dB, and how far a part may go from where it starts, as a factor.
 */
const SLOPE_DB = 24;
const REACH = 8;
const LOAD_ROOM = 1.03;
const SNAP_ROUNDS = 6;
/** A point of the load below what is allowed weighs as so many decibels for each per cent of it. */
const LOAD_WEIGHT = 60;

/**
 * Moves all parts at once so that the sum, and each way's slope, are nearest to what the plans ask of the sound (least
 * squares on decibels, the load's shortfall and the price added), then to values that can be bought, trying each part's
 * neighbours in its series. Fails as the design does, with `nothing-to-move`, or `cancelled`.
 */
export async function runOptimise(
  { design, variantId, parts: wanted, weights }: OptimiseRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Optimised>> {
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  if (!variant) return failure('no-such-variant');
  const moved = movable(design, built.value, wanted);
  if (moved.length === 0) return failure('nothing-to-move');
  const judge = new Judge(design, variant, built.value, moved, weights, solver);
  const start = moved.map((m) => Math.log(m.part.chosen));
  const [low, high] = [start.map((s) => s - Math.log(REACH)), start.map((s) => s + Math.log(REACH))];
  let x = start;
  let error = judge.error(x);
  for (let round = 0; round < ROUNDS; round++) {
    const fit = leastSquares((logs) => judge.residuals(logs), x, judge.count, {
      low,
      high,
      iterations: STEPS_A_ROUND,
      damping: round === 0 ? 1 : 0.1,
    });
    context.progress((round + 1) / (ROUNDS + 2));
    await context.pause();
    if (context.signal.aborted) return failure('cancelled', { done: round });
    const gained = 1 - fit.error / error;
    if (fit.error < error) [x, error] = [fit.x, fit.error];
    if (gained < WORTH_GOING_ON) break;
  }
  const bought = judge.buy(x);
  context.progress(1);
  return success({
    parts: moved.map(({ stage, part }, i) => ({
      stage,
      part: part.spec.name,
      before: part.chosen,
      best: Math.exp(x[i]),
      value: Math.exp(bought[i]),
    })),
    before: judge.outcome(start),
    best: judge.outcome(x),
    after: judge.outcome(bought),
  });
}

interface Moved {
  readonly stage: string;
  readonly part: DesignedPart;
  readonly slot: number;
  readonly lossSlot: number | null;
  /** What the series of its kind has. */
  readonly series: ReturnType<typeof seriesFor>;
}

function movable(design: Design, built: Compilation, wanted: OptimiseRequest['parts']): Moved[] {
  const { structure } = built.circuit;
  return wanted.flatMap(({ stage, part: name }): Moved[] => {
    const part = built.ways
      .flatMap((w) => w.stages)
      .find((s) => s.stage.id === stage && !s.stage.bypassed)
      ?.parts.find((p) => p.spec.name === name);
    const slot = structure.slotOf(`${stage}.${name}`);
    if (!part || slot === undefined || part.choice.leftOut) return [];
    return [
      {
        stage,
        part,
        slot,
        lossSlot: structure.slotOf(`${stage}.${name}.loss`) ?? null,
        series: seriesFor(part.spec.kind, design.preferences),
      },
    ];
  });
}

/** Says how far a set of values (their logarithms) is from what is wanted. */
class Judge {
  readonly count: number;
  private readonly freqHz: Float64Array;
  private readonly target: AcousticTarget;
  private readonly transfers: readonly Float64Array[];
  private readonly values: Float64Array;
  private readonly outputs: readonly string[];
  private readonly lowestOhm: number;
  private readonly loaded: boolean;
  private readonly usualPrice: number;

  constructor(
    private readonly design: Design,
    variant: Variant,
    private readonly built: Compilation,
    private readonly moved: readonly Moved[],
    private readonly weights: OptimiseRequest['weights'],
    private readonly solver: AcSolver,
  ) {
    const listening = variant.listening ?? USUAL_LISTENING;
    this.freqHz = logGrid(listening.fromHz, listening.toHz, POINTS);
    this.target = acousticTarget(design, variant, this.freqHz);
    this.transfers = variant.ways.map((way) => wayTransfer(design, way, this.freqHz, listening));
    this.values = built.circuit.values.slice();
    this.outputs = built.ways.map((w) => w.output);
    this.lowestOhm = listening.lowestOhm;
    this.loaded = variant.ways.some((way) => way.load.kind === 'driver' && !way.load.amplifier);
    this.usualPrice = Math.max(1, this.price(moved.map((m) => Math.log(m.part.chosen))));
    this.count = POINTS * (1 + variant.ways.length + 1) + 1;
  }

  private circuitAt(logs: readonly number[]) {
    this.moved.forEach(({ part, slot, lossSlot }, i) => {
      const value = Math.exp(logs[i]);
      this.values[slot] = value;
      if (lossSlot !== null) this.values[lossSlot] = lossOhm(part.spec.kind, value, part.grade);
    });
    return { ...this.built.circuit, values: this.values };
  }

  private solve(
    logs: readonly number[],
  ): { sumDb: Float64Array; wayDb: Float64Array[]; ohm: Float64Array | null } | null {
    const circuit = this.circuitAt(logs);
    const solved = this.solver.sweep(circuit, this.freqHz, this.outputs);
    if (!solved.ok) return null;
    const pressures = solved.value.map((volts, w) => timesResponse(volts, this.transfers[w]));
    let ohm: Float64Array | null = null;
    if (this.loaded) {
      const currents = this.solver.branchCurrents(circuit, this.freqHz, ['Vin']);
      if (!currents.ok) return null;
      const [amps] = currents.value;
      ohm = this.freqHz.map((_, i) => {
        const square = amps[2 * i] ** 2 + amps[2 * i + 1] ** 2;
        return Math.hypot(-amps[2 * i] / square - this.design.brief.source.ohm, amps[2 * i + 1] / square);
      });
    }
    return { sumDb: levelsDb(sumOf(pressures)), wayDb: pressures.map((p) => levelsDb(p)), ohm };
  }

  residuals(logs: readonly number[]): Float64Array {
    const out = new Float64Array(this.count);
    const got = this.solve(logs);
    if (!got) return out.fill(1e3);
    const { sumDb, wayDb, ohm } = got;
    const { target, weights } = this;
    let next = 0;
    for (let i = 0; i < POINTS; i++) out[next++] = sumDb[i] - target.sumDb[i];
    wayDb.forEach((levels, w) => {
      for (let i = 0; i < POINTS; i++) {
        const wanted = target.ways[w][i];
        const counts = Math.max(0, Math.min(1, (wanted - target.levelDb + SLOPE_DB) / 12));
        // Below where it is heard, a way that falls faster than asked is no fault.
        out[next++] = weights.ways * counts * (levels[i] - wanted);
      }
    });
    for (let i = 0; i < POINTS; i++)
      out[next++] = ohm ? weights.load * LOAD_WEIGHT * Math.max(0, 1 - ohm[i] / (this.lowestOhm * LOAD_ROOM)) : 0;
    out[next] = weights.cost * 10 * (this.price(logs) / this.usualPrice);
    return out;
  }

  error(logs: readonly number[]): number {
    return this.residuals(logs).reduce((sum, r) => sum + r * r, 0);
  }

  private price(logs: readonly number[]): number {
    return this.moved.reduce((sum, { part }, i) => sum + (part.grade ? priceOf(Math.exp(logs[i]), part.grade) : 0), 0);
  }

  outcome(logs: readonly number[]): Outcome {
    const got = this.solve(logs);
    if (!got) return { offDb: NaN, lowestOhm: null, price: this.price(logs) };
    const offDb = got.sumDb.reduce((worst, level, i) => Math.max(worst, Math.abs(level - this.target.sumDb[i])), 0);
    return {
      offDb,
      lowestOhm: got.ohm ? got.ohm.reduce((least, z) => Math.min(least, z), Infinity) : null,
      price: this.price(logs),
    };
  }

  /** Values of the series: from the nearest, each part's neighbours tried in turn until none is better. */
  buy(logs: readonly number[]): number[] {
    const at = this.moved.map(({ series }, i) => Math.log(nearestPreferred(Math.exp(logs[i]), series)));
    let error = this.error(at);
    for (let round = 0; round < SNAP_ROUNDS; round++) {
      let better = false;
      this.moved.forEach(({ series }, i) => {
        const here = Math.exp(at[i]);
        // The neighbours of a value that is of the series are found a little to either side of it.
        for (const next of [neighbours(here * 1.001, series).above, neighbours(here * 0.999, series).below]) {
          const before = at[i];
          at[i] = Math.log(next);
          const tried = this.error(at);
          if (tried < error * (1 - 1e-6)) [error, better] = [tried, true];
          else at[i] = before;
        }
      });
      if (!better) break;
    }
    return at;
  }
}

export const optimiseJob = defineJob(optimiseRequest, (request, { solver, context }) =>
  runOptimise(request, solver, context),
);
