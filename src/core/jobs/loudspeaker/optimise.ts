import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';
import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Design } from '../../design/document/schema';
import { seriesFor } from '../../design/stages/stage-design';
import { leastSquares } from '../../math/least-squares';
import { nearestPreferred, neighbours } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';
import type { PartKind } from '../../topology/kit/part';
import type { JobContext } from '../job-context';
import { NetworkJudge, type Judged, type Moved, type Outcome } from './network-judge';

export type { Outcome } from './network-judge';

const positive = z.number().positive();
const optimiseRequest = requestOf('optimise', {
  ...ofVariant,
  /** What may move, and between which values where the usual ones are not meant: ohm, farad, henry. */
  parts: z
    .array(z.object({ stage: z.string(), part: z.string(), low: positive.optional(), high: positive.optional() }))
    .readonly(),
  /** How much the slope of each way, the sum above and below the axis and the price count: 0 for not at all. */
  weights: z.object({ ways: z.number(), aside: z.number(), cost: z.number() }),
  /** Nothing is taken under the least load that the brief allows. */
  holdLoad: z.boolean(),
  /** Goes on looking for better ones until it is stopped. */
  untilStopped: z.boolean().optional(),
});
export type OptimiseRequest = z.infer<typeof optimiseRequest>;

/** One set of values that can be bought, in the order of the parts. */
export interface Choice extends Outcome {
  readonly values: readonly number[];
}
export interface Optimised {
  /** Values that can be bought, and what would be best if all could. Ohm, farad, henry. */
  readonly parts: readonly {
    readonly stage: string;
    readonly part: string;
    readonly kind: PartKind;
    readonly before: number;
    readonly best: number;
    readonly value: number;
  }[];
  /** As it was, best of all values, and best of those that can be bought. */
  readonly before: Outcome;
  readonly best: Outcome;
  readonly after: Outcome;
  /** Of all that was looked at and can be bought, what nothing else beats in error and price, cheapest first. */
  readonly frontier: readonly Choice[];
  /** How many sets of values were looked at. */
  readonly looked: number;
}

/** Steps of least squares from each start, and how many go on to the end. */
const STEPS_A_ROUND = 4;
const ROUNDS = 12;
/** A round that gains less than this share is the last. */
const WORTH_GOING_ON = 2e-3;
const STARTS = 5;
/** How far another start lies from the first: a factor either way. */
const STRAY = Math.log(1.8);
/** How far a part may go from where it starts, as a factor. */
const REACH = Math.log(8);
/** What is sane for a network between amplifier and driver, where the maker says nothing else. */
const USUAL_RANGE: Partial<Record<PartKind, readonly [low: number, high: number]>> = {
  inductor: [0.03e-3, 12e-3],
  capacitor: [0.33e-6, 330e-6],
  resistor: [0.33, 47],
};
/** Kicks that bring nothing better before the search has done what it can, and steps in a kick. */
const PATIENCE = 24;
/** Sets of values that are looked at before the search is over by itself. */
const MOST_LOOKED = 12_000;
const KICKED_PARTS = 3;
const MOST_FRONTIER = 12;
/** How much the price counts by turns beside what was asked: so the frontier is found on the way. */
const COST_TURNS = [0, 0, 0.3, 1];

/**
 * Moves all parts at once so that the sum, each way's slope and the sum beside the axis are nearest to what the plans
 * ask (least squares on decibels from several starts; the load's shortfall and the price added), then looks among the
 * values that can be bought: each part's neighbours alone and in pairs, then kicked away and down again (H. Lourenço et
 * al., Iterated Local Search, in Handbook of Metaheuristics, 2003). Tells the best so far with its progress. Fails as
 * the design does, with `nothing-to-move`, or `cancelled`.
 */
export async function runOptimise(
  { design, variantId, parts: wanted, weights, holdLoad, untilStopped = false }: OptimiseRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Optimised>> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const moved = movable(design, built.value, wanted);
  if (moved.length === 0) return failure('nothing-to-move');
  const judge = new NetworkJudge(design, variant, built.value, moved, weights, holdLoad, solver);
  const start = moved.map((m) => Math.log(m.part.chosen));
  const shelf = new Shelf(judge, moved);
  shelf.nearest(start);
  const before = judge.judge(start);
  const stopped = async (share: number, best: readonly number[]): Promise<boolean> => {
    context.progress(share, answer(moved, judge, shelf, before, best, 'so far'));
    await context.pause();
    return context.signal.aborted;
  };

  let best: readonly number[] = start;
  const random = randomFrom(moved.length);
  const starts = [start, ...Array.from({ length: STARTS - 1 }, () => start.map((s) => s + STRAY * (2 * random() - 1)))];
  let error = Infinity;
  for (const [k, from] of starts.entries()) {
    let x = from.map((v, i) => Math.min(moved[i].high, Math.max(moved[i].low, v)));
    let here = Infinity;
    for (let round = 0; round < ROUNDS; round++) {
      const fit = leastSquares((logs) => judge.residuals(logs), x, judge.count, {
        low: moved.map((m) => m.low),
        high: moved.map((m) => m.high),
        iterations: STEPS_A_ROUND,
        damping: round === 0 ? 1 : 0.1,
      });
      const gained = 1 - fit.error / here;
      if (fit.error < here) [x, here] = [fit.x, fit.error];
      if (here < error) [error, best] = [here, x];
      // The first is on show at once, with what can be bought nearest to it.
      if (k === 0) shelf.nearest(x);
      if (await stopped((0.5 * (k + (round + 1) / ROUNDS)) / starts.length, best)) return failure('cancelled');
      // A start that after one round is far behind leads nowhere better.
      if (gained < WORTH_GOING_ON || (k > 0 && round > 0 && here > 2 * error)) break;
    }
    shelf.descend(x, weights.cost);
  }
  shelf.descend(best, weights.cost);
  const enough = () => judge.looked > MOST_LOOKED;
  for (let [kick, idle] = [0, 0]; untilStopped || (idle < PATIENCE && !enough()); kick++, idle++) {
    const costWeight = weights.cost + COST_TURNS[kick % COST_TURNS.length];
    if (shelf.descend(shelf.kicked(random, costWeight), costWeight)) idle = -1;
    if (await stopped(0.5 + 0.5 * (1 - 1 / (1 + kick / PATIENCE)), best)) return failure('cancelled');
  }
  context.progress(1);
  return success(answer(moved, judge, shelf, before, best, 'done'));
}

function answer(
  moved: readonly Moved[],
  judge: NetworkJudge,
  shelf: Shelf,
  before: Judged,
  best: readonly number[],
  when: 'so far' | 'done',
): Optimised {
  // What is said of values is read off their own curves; of the leaders, that whose claims are best and bear the load.
  const claimed = (c: Judged): Judged => {
    const claim = judge.claim(c.logs);
    return { ...c, ...claim, shortfall: judge.bears(claim) ? 0 : Math.max(c.shortfall, LOAD_MISSED) };
  };
  // On the way the first few are enough: all are read once, at the end.
  const leaders = (when === 'done' ? shelf.leaders() : shelf.leaders().slice(0, 1)).map(claimed);
  const after = leaders.reduce<Judged>(
    (a, b) => (judge.score(b) < judge.score(a) ? b : a),
    leaders[0] ?? claimed(before),
  );
  const continuous = when === 'done' ? claimed(judge.judge(best)) : judge.judge(best);
  // Whatever can be bought is also a choice among all values.
  const ideal = judge.score(continuous) <= judge.score(after) ? continuous : after;
  return {
    parts: moved.map(({ stage, part }, i) => ({
      stage,
      part: part.spec.name,
      kind: part.spec.kind,
      before: part.chosen,
      best: Math.exp(ideal.logs[i]),
      value: exactly(after.logs[i]),
    })),
    before: outcomeOf(claimed(before)),
    best: outcomeOf(ideal),
    after: outcomeOf(after),
    frontier: (when === 'done' ? undominated(shelf.frontier().map(claimed)) : shelf.frontier()).map((c) => ({
      ...outcomeOf(c),
      values: c.logs.map(exactly),
    })),
    looked: judge.looked,
  };
}

/** A load that was to be held and is not, as a share: more than any sound is worth. */
const LOAD_MISSED = 0.01;

/** Of choices by price, those that bear the load and that nothing cheaper equals. */
const undominated = (choices: readonly Judged[]): Judged[] =>
  choices.filter((c, i) => c.shortfall === 0 && choices.slice(0, i).every((b) => b.shortfall > 0 || b.offDb > c.offDb));

const outcomeOf = ({ offDb, lowestOhm, price }: Judged): Outcome => ({ offDb, lowestOhm, price });
/** A value of a series has three figures: its logarithm's dirt goes. */
const exactly = (log: number): number => Number(Math.exp(log).toPrecision(6));

const FINE = 2 ** 24;
function randomFrom(seed: number): () => number {
  const generator = xoroshiro128plus(seed);
  return () => unsafeUniformIntDistribution(0, FINE - 1, generator) / FINE;
}

/** Sets of values that can be bought, each judged once. */
class Shelf {
  private readonly known = new Map<string, Judged>();
  private bestSoFar: Judged | null = null;
  private front: Judged[] = [];
  private first: Judged[] = [];

  constructor(
    private readonly judge: NetworkJudge,
    private readonly moved: readonly Moved[],
  ) {}

  /** The best few by the search's own grid, best first. */
  leaders = (): readonly Judged[] => this.first;
  frontier = (): readonly Judged[] => thinned(this.front);

  nearest(logs: readonly number[]): Judged {
    return this.at(
      this.moved.map(({ series, low, high }, i) => {
        const value = Math.exp(logs[i]);
        const near = Math.log(nearestPreferred(value, series));
        const { below, above } = neighbours(value, series);
        return near > high ? Math.log(below) : near < low ? Math.log(above) : near;
      }),
    );
  }

  /**
   * From the nearest values down: each part's neighbours, two steps either way, then two parts at once, until nothing
   * is better. Says whether the best of all, or what the frontier offers, got better by it.
   */
  descend(logs: readonly number[], costWeight: number): boolean {
    const before = this.bestSoFar && this.judge.score(this.bestSoFar);
    let here = this.nearest(logs);
    const worth = (c: Judged) => this.judge.score(c, costWeight);
    const tried = (next: readonly number[] | null): boolean => {
      const there = next && this.at(next);
      if (!there || worth(there) >= worth(here) * (1 - 1e-9)) return false;
      here = there;
      return true;
    };
    for (let better = true; better;) {
      better = false;
      for (let i = 0; i < this.moved.length; i++)
        for (const steps of [1, -1, 2, -2]) better = tried(this.moves(here.logs, [i, steps])) || better;
      if (better) continue;
      for (let i = 0; i < this.moved.length; i++)
        for (let j = 0; j < i; j++)
          for (const [a, b] of PAIRS) better = tried(this.moves(here.logs, [i, a], [j, b])) || better;
    }
    return before === null || this.judge.score(this.bestSoFar as Judged) < before * (1 - 1e-6);
  }

  /** The best, or one of the frontier where the price counts, with a few of its parts elsewhere. */
  kicked(random: () => number, costWeight: number): readonly number[] {
    const among = costWeight > 0 && this.front.length > 0 ? this.front : this.bestSoFar ? [this.bestSoFar] : [];
    let { logs } = among[Math.floor(random() * among.length)];
    for (let k = 0; k < KICKED_PARTS; k++) {
      const steps = (1 + Math.floor(random() * 3)) * (random() < 0.5 ? -1 : 1);
      logs = this.moves(logs, [Math.floor(random() * this.moved.length), steps]) ?? logs;
    }
    return logs;
  }

  /** Values with some parts so many steps of their series on; null where that is outside what they may be. */
  private moves(
    logs: readonly number[],
    ...steps: (readonly [part: number, steps: number])[]
  ): readonly number[] | null {
    const out = [...logs];
    for (const [i, count] of steps) {
      const { series, low, high } = this.moved[i];
      for (let k = 0; k < Math.abs(count); k++) {
        const here = Math.exp(out[i]);
        // The neighbours of a value that is of the series are found a little to either side of it.
        out[i] = Math.log(count > 0 ? neighbours(here * 1.001, series).above : neighbours(here * 0.999, series).below);
      }
      if (out[i] < low || out[i] > high) return null;
    }
    return out;
  }

  private at(logs: readonly number[]): Judged {
    const key = logs.map((v) => v.toFixed(4)).join(' ');
    const before = this.known.get(key);
    if (before) return before;
    const judged = this.judge.judge(logs);
    if (this.known.size < MOST_KNOWN) this.known.set(key, judged);
    if (!this.bestSoFar || this.judge.score(judged) < this.judge.score(this.bestSoFar)) this.bestSoFar = judged;
    this.lead(judged);
    this.offer(judged);
    return judged;
  }

  private lead(judged: Judged): void {
    const worth = (c: Judged) => this.judge.score(c);
    const last = this.first.at(-1);
    if (this.first.length === LEADERS && last && worth(judged) >= worth(last)) return;
    this.first = [...this.first, judged].sort((a, b) => worth(a) - worth(b)).slice(0, LEADERS);
  }

  private offer(judged: Judged): void {
    const beats = (a: Judged, b: Judged) => a.offDb <= b.offDb && a.price <= b.price;
    if (judged.shortfall > 0 || !Number.isFinite(judged.offDb) || this.front.some((c) => beats(c, judged))) return;
    this.front = [...this.front.filter((c) => !beats(judged, c)), judged].sort((a, b) => a.price - b.price);
  }
}

const MOST_KNOWN = 200_000;
/** So many of the best are read in full before one is named. */
const LEADERS = 8;
const PAIRS = [
  [1, 1],
  [1, -1],
  [-1, 1],
  [-1, -1],
] as const;

/** As many as can be read: the ends stay, and of the rest those that lie furthest from their neighbours. */
function thinned(front: readonly Judged[]): readonly Judged[] {
  const kept = [...front];
  while (kept.length > MOST_FRONTIER) {
    const gap = (k: number) => kept[k + 1].price - kept[k - 1].price;
    let least = 1;
    for (let k = 2; k < kept.length - 1; k++) if (gap(k) < gap(least)) least = k;
    kept.splice(least, 1);
  }
  return kept;
}

function movable(design: Design, built: Compilation, wanted: OptimiseRequest['parts']): Moved[] {
  const { structure } = built.circuit;
  return wanted.flatMap(({ stage, part: name, low, high }): Moved[] => {
    const part = built.ways
      .flatMap((w) => w.stages)
      .find((s) => s.stage.id === stage && !s.stage.bypassed)
      ?.parts.find((p) => p.spec.name === name);
    const slot = structure.slotOf(`${stage}.${name}`);
    if (!part || slot === undefined || part.choice.leftOut) return [];
    const usual = USUAL_RANGE[part.spec.kind] ?? [0, Infinity];
    const at = Math.log(part.chosen);
    return [
      {
        stage,
        part,
        slot,
        lossSlot: structure.slotOf(`${stage}.${name}.loss`) ?? null,
        series: seriesFor(part.spec.kind, design.preferences),
        // What stands there already is allowed, however odd.
        low: low === undefined ? Math.max(Math.min(at, Math.log(usual[0])), at - REACH) : Math.log(low),
        high: high === undefined ? Math.min(Math.max(at, Math.log(usual[1])), at + REACH) : Math.log(high),
      },
    ];
  });
}

export const optimiseJob = defineJob(optimiseRequest, (request, { solver, context }) =>
  runOptimise(request, solver, context),
);
