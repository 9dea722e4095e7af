import { AcSolver } from '../../analysis/ac/solver';
import { success, type Result } from '../../result';
import type { Control, Stage, Way } from '../document/schema';
import type { PartValues } from '../../topology/kit/part';
import { judgeOf } from '../compiled/stage-error';
import { snapStage } from './snap-stage';
import { type SnapOptions, type StageSnap } from './stage-choices';
import { designWay, valuesOf, type Bench, type DesignedStage } from '../stages/stage-design';
import { wayTargets } from '../stages/targets';

/** A choice for some or all stages of a way, and what the whole way comes to with it. */
export interface WaySnap {
  readonly stages: readonly { readonly stageId: string; readonly snap: StageSnap }[];
  readonly partCount: number;
  readonly pairs: number;
  /**
   * How far the way is off what it is for once the choice is taken, dB: level in its pass band, what comes through
   * elsewhere beside the best, phase where it is for that.
   */
  readonly errorDb: number;
}

export interface WaySnaps {
  /** With the nearest value for every part. */
  readonly nearest: { readonly errorDb: number; readonly partCount: number };
  /** Fewest parts first. */
  readonly choices: readonly WaySnap[];
  /**
   * What the parts' tolerances leave uncertain of the level in the pass band, dB: more precision than a fifth of it is
   * wasted.
   */
  readonly toleranceDb: number;
}

/** How often every stage's choices are gone over for the sake of the whole. */
const PASSES = 3;

/** Chooses parts of a way's stages together, one stage or all. Fails as the design does. */
export function snapWay(
  way: Way,
  bench: Bench,
  controls: readonly Control[],
  options: SnapOptions & { readonly stageId: string | null },
  solver = new AcSolver(),
): Result<WaySnaps> {
  const designed = designWay(way, bench, controls);
  if (!designed.ok) return designed;
  const { stages } = designed.value;
  const { targets } = wayTargets(way);
  const wanted = way.stages
    .map((_, i) => i)
    .filter((i) => !way.stages[i].bypassed && (options.stageId === null || way.stages[i].id === options.stageId));
  const judge = wayJudge(stages, bench, solver);
  const nearestValues = stages.map((s) => valuesOf(s, 'chosen'));
  const perStage = wanted
    .map((i) => ({ i, levels: snapStage(way.stages[i], targets[i], bench, controls, options, solver, way.plans) }))
    .filter(({ levels }) => levels.length > 0);
  const countOf = (s: DesignedStage) => s.parts.filter((p) => !p.spec.given && !p.choice.leftOut).length;
  const restCount = stages.reduce((sum, s, i) => sum + (perStage.some((p) => p.i === i) ? 0 : countOf(s)), 0);
  const choices: WaySnap[] = [];
  const mostPairs = perStage.reduce((sum, { levels }) => sum + (levels.length - 1), 0);
  // Which stage is helped by a pair first: the one whose own error falls most. A choice for every number of pairs, so
  // that the maker sees what each buys.
  const level = perStage.map(() => 0);
  for (let pairs = 0; pairs <= mostPairs; pairs++) {
    if (pairs > 0) {
      const gains = perStage.map(({ levels }, k) =>
        levels[level[k] + 1] ? levels[level[k]][0].errorDb - levels[level[k] + 1][0].errorDb : -1,
      );
      const best = gains.indexOf(Math.max(...gains));
      if (gains[best] <= 0) break;
      level[best]++;
    }
    const taken = together(
      perStage.map(({ i, levels }, k) => ({ i, snaps: levels[level[k]] })),
      nearestValues,
      judge,
    );
    const standing = standsAs(way, taken, bench, controls, solver);
    choices.push({
      stages: taken.map(({ i, snap }) => ({ stageId: way.stages[i].id, snap })),
      pairs: taken.reduce((sum, t) => sum + t.snap.pairs, 0),
      partCount: restCount + taken.reduce((sum, t) => sum + t.snap.partCount, 0),
      errorDb: standing,
    });
  }
  const nearest = {
    errorDb: wayJudge(stages, bench, solver, true)(nearestValues),
    partCount: stages.reduce((sum, s) => sum + countOf(s), 0),
  };
  const worthwhile = choices.filter(
    (c, k) =>
      (options.capacitors !== undefined || c.errorDb <= nearest.errorDb + 1e-12) &&
      choices.slice(0, k).every((before) => c.errorDb < before.errorDb - 1e-4),
  );
  return success({ nearest, choices: worthwhile, toleranceDb: toleranceDb(stages, judge) });
}

type Judge = (values: readonly PartValues[]) => number;
interface Taken {
  readonly i: number;
  readonly snap: StageSnap;
}
const withSnaps = (values: readonly PartValues[], taken: readonly Taken[]): PartValues[] =>
  values.map((v, i) => taken.find((t) => t.i === i)?.snap.values ?? v);

/**
 * Of every stage's best few, those that are best together: what one stage misses another may make good. Gone over stage
 * by stage until nothing helps.
 */
function together(
  offers: readonly { readonly i: number; readonly snaps: readonly StageSnap[] }[],
  values: readonly PartValues[],
  judge: Judge,
): Taken[] {
  // From every stage's own best, and from the nearest values: what is best by itself need not be best together.
  const starts = [
    offers.map(({ i, snaps }): Taken => ({ i, snap: snaps[0] })),
    offers.map(({ i, snaps }): Taken => ({ i, snap: snaps[snaps.length - 1] })),
  ];
  let [taken, error] = starts
    .map((start) => [start, judge(withSnaps(values, start))] as const)
    .reduce((a, b) => (b[1] < a[1] ? b : a)) as [Taken[], number];
  for (let pass = 0; pass < PASSES; pass++) {
    const before = error;
    offers.forEach(({ i, snaps }, k) => {
      for (const snap of snaps) {
        const next = taken.map((t, n) => (n === k ? { i, snap } : t));
        const off = judge(withSnaps(values, next));
        if (off < error - 1e-12) [taken, error] = [next, off];
      }
    });
    if (error === before) break;
  }
  return taken;
}

/** What the way comes to once the choice is taken: designed anew with it, judged as it then stands. */
function standsAs(
  way: Way,
  taken: readonly Taken[],
  bench: Bench,
  controls: readonly Control[],
  solver: AcSolver,
): number {
  const chosen = {
    ...way,
    stages: way.stages.map((stage, i) => withUses(stage, taken.find((t) => t.i === i)?.snap.uses)),
  };
  const designed = designWay(chosen, bench, controls);
  if (!designed.ok) return Infinity;
  return wayJudge(designed.value.stages, bench, solver, true)(designed.value.stages.map((s) => valuesOf(s, 'chosen')));
}

/** A stage with what was chosen for its parts. */
export const withUses = (stage: Stage, uses: StageSnap['uses'] | undefined): Stage =>
  uses
    ? {
        ...stage,
        parts: {
          ...stage.parts,
          ...Object.fromEntries(
            Object.entries(uses).map(([name, use]) => [
              name,
              { ...stage.parts[name], use: { kind: use.kind, values: [...use.values] } },
            ]),
          ),
        },
      }
    : stage;

/** How far a way is off what it is for with given values for all its stages, dB. */
function wayJudge(stages: readonly DesignedStage[], bench: Bench, solver: AcSolver, closely = false): Judge {
  const counted = stages
    .map((s, i) => ({ s, i }))
    .filter(({ s }) => !s.stage.bypassed && (s.role === 'network' || s.target.order > 0));
  const judge = judgeOf(
    counted.map(({ s }) => s),
    bench,
    solver,
    closely,
  );
  return (values) => (counted.length === 0 ? 0 : judge.errorDb(counted.map(({ i }) => values[i])));
}

/** Each part at the end of its tolerance, one after another, added as independent errors are. */
function toleranceDb(stages: readonly DesignedStage[], judge: Judge): number {
  const exact = stages.map((s) => valuesOf(s, 'exact'));
  let square = 0;
  stages.forEach((s, i) => {
    for (const { spec, tolerancePct } of s.parts) {
      const moved = judge(
        exact.map((v, k) => (k === i ? { ...v, [spec.name]: v[spec.name] * (1 + tolerancePct / 100) } : v)),
      );
      square += moved * moved;
    }
  });
  return Math.sqrt(square);
}
