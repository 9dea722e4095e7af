import type { AcSolver } from '../../analysis/ac/solver';
import { leastBetween } from '../../math/search';
import { nearestPair } from '../../parts/pairs';
import { nearestPreferred, neighbours, stepPreferred } from '../../parts/preferred';
import type { PartValues } from '../../topology/kit/part';
import type { SectionTarget } from '../../filter/section';
import type { Control, PartChoice, Plan, Preferences, Stage } from '../document/schema';
import {
  designStage,
  seriesFor,
  valuesOf,
  type Bench,
  type DesignedPart,
  type DesignedStage,
} from '../stages/stage-design';
import { judgeOf, type Judge } from '../compiled/stage-error';

export type Use = NonNullable<PartChoice['use']>;

/** Values for a stage's free parts, chosen together. */
export interface StageSnap {
  readonly uses: Readonly<Record<string, Use>>;
  /** All values, those that were not free too. */
  readonly values: PartValues;
  /** Parts to buy: a pair is two. */
  readonly partCount: number;
  readonly pairs: number;
  /** Largest difference of level it makes to the stage by itself, dB. */
  readonly errorDb: number;
}

export interface SnapOptions {
  /** How many values may be made of two parts. */
  readonly mostPairs: number;
  /** Capacitors at hand (F); absent: any of the series. */
  readonly capacitors?: readonly number[];
  /**
   * Looks only at the sets of capacitors that are likeliest, and at every other kind of part by itself: for many stages
   * at once.
   */
  readonly quick?: boolean;
}

/**
 * Sets of capacitors that are looked into, of those the ones whose resistors are tried one by one, and how many of the
 * best are kept of each and of all.
 */
const MOST_SETS = 400;
const TRIED_SETS = 16;
const KEPT_OF_SET = 3;
const KEPT = 8;
const QUICK_SETS = 1;
/** How far from its computed value a capacitor is tried, as a factor: in a set of so many of them. */
const REACH = [1, 10, 10, 3, 1.6];
/**
 * Values on either side that a resistor is tried at; with more free parts than this, they are improved one after
 * another.
 */
const ALL_TOGETHER = 6;
/**
 * How many values along its series a part is moved, alone or against another, when a choice is improved; how often all
 * are gone over; and how many choices of a stage are.
 */
const MOVES = [-2, -1, 1, 2];
const IMPROVING_PASSES = 4;
const IMPROVED = 2;
/**
 * With more parts than this none is moved against another; and no stage's choice is improved by more tries than this.
 */
const PAIRED_UP_TO = 10;
const MOST_TRIES = 1500;
/** dB: nearer than this no one can tell. */
const GOOD_ENOUGH = 0.002;

const isFree = ({ spec, choice, wiper }: DesignedPart): boolean =>
  !spec.given &&
  !choice.pinned &&
  !choice.control &&
  !choice.leftOut &&
  wiper === undefined &&
  spec.kind !== 'potentiometer';

/**
 * Chooses all free parts of a stage together: sets of capacitors near the computed ones, for each the exact rest, then
 * every combination of the values either side of it; then, while it helps and is allowed, one value after another made
 * of two parts. The plain nearest values are among what is compared, so that the choice is never worse. For every
 * number of pairs, as long as one more helps, the best few, best first; the nearest values are always among those
 * without pairs.
 */
export function snapStage(
  stage: Stage,
  target: SectionTarget | null,
  bench: Bench,
  controls: readonly Control[],
  options: SnapOptions,
  solver: AcSolver,
  plans: readonly Plan[] = [],
): StageSnap[][] {
  const bare = designStage(forget(stage), target, bench, controls, plans);
  if (!bare.ok) return [];
  const judges = new Map<string, Judge>();
  /** A judge for stages that have the same parts; aims and exact values are the first one's. */
  const judged = (designed: DesignedStage): Evaluated => {
    const key = designed.parts.map((p) => p.spec.name).join(' ');
    const judge = judges.get(key) ?? judgeOf([designed], bench, solver);
    judges.set(key, judge);
    return { designed, errorDb: (values) => judge.errorDb([values]) };
  };
  const plain = judged(bare.value);
  const nearest = evaluate(
    plain,
    Object.fromEntries(plain.designed.parts.filter(isFree).map(({ spec, chosen }) => [spec.name, single(chosen)])),
    valuesOf(plain.designed, 'chosen'),
  );
  const redoneWith = (set: PartValues): Redone | null => {
    const redone = designStage(withCapacitors(forget(stage), set), target, bench, controls, plans);
    if (
      !redone.ok ||
      redone.value.parts.some((part, i) => outOfReach(part) && !outOfReach(bare.value.parts[i] ?? part))
    )
      return null;
    const evaluated = judged(redone.value);
    return { set, evaluated, error: evaluated.errorDb({ ...valuesOf(redone.value, 'chosen'), ...set }) };
  };
  const sets = setsToTry(plain, redoneWith, bench.preferences, options);
  if (sets.length === 0 && !options.capacitors) sets.push({ set: {}, evaluated: plain, error: nearest.errorDb });
  const tried = triedOf(sets, bench.preferences, options);
  const singles = tried
    .flatMap(({ snaps }) => snaps)
    .sort(byError)
    .slice(0, KEPT);
  // The nearest of the series may be what is not at hand.
  const first = options.capacitors && singles.length > 0 ? singles : [...singles, nearest];
  if (nearest.errorDb < first[0].errorDb && first.includes(nearest)) first.reverse();
  return [first, ...withPairs(first, tried, bench.preferences, options.mostPairs)];
}

/** A stage designed around some of its capacitors, and what its nearest values leave, dB. */
interface Redone {
  readonly set: PartValues;
  readonly evaluated: Evaluated;
  readonly error: number;
}
interface Tried {
  readonly evaluated: Evaluated;
  readonly snaps: readonly StageSnap[];
}
const byError = (a: StageSnap, b: StageSnap): number => a.errorDb - b.errorDb;

/** Sets of capacitors that the stage can be worked out around, best first. */
function setsToTry(
  plain: Evaluated,
  redoneWith: (set: PartValues) => Redone | null,
  preferences: Preferences,
  options: SnapOptions,
): Redone[] {
  const most = options.quick ? QUICK_SETS : MOST_SETS;
  const wanted = capacitorSets(plain.designed, preferences, options).slice(0, most);
  const whole = wanted.map(redoneWith).filter((s) => s !== null);
  // A circuit that cannot be worked out around all its capacitors may be around one of them; else it is chosen for as
  // it stands, all its parts alike.
  const [leading] = plain.designed.parts.filter((p) => p.spec.kind === 'capacitor' && isFree(p));
  const byOne =
    whole.length > 0 || !leading
      ? []
      : [...new Set(wanted.map((set) => set[leading.spec.name]))]
          .map((value) => redoneWith({ [leading.spec.name]: value }))
          .filter((s) => s !== null);
  return [...whole, ...byOne].sort((a, b) => a.error - b.error).slice(0, TRIED_SETS);
}

/** The best singles of every set; of the best sets improved, unless it is to be quick. */
function triedOf(sets: readonly Redone[], preferences: Preferences, options: SnapOptions): Tried[] {
  const tried = sets.map(({ set, evaluated }): Tried => ({
    evaluated,
    snaps: bestSingles(evaluated, set, preferences),
  }));
  if (options.quick) return tried;
  return tried
    .sort((a, b) => byError(a.snaps[0], b.snaps[0]))
    .map(({ evaluated, snaps }, k) =>
      k < IMPROVED
        ? { evaluated, snaps: [improved(evaluated, snaps[0], preferences, options), ...snaps].sort(byError) }
        : { evaluated, snaps },
    );
}

/** For one pair, two, and so on, as long as one more helps: the best few. */
function withPairs(
  singles: readonly StageSnap[],
  tried: readonly Tried[],
  preferences: Preferences,
  mostPairs: number,
): StageSnap[][] {
  const levels: StageSnap[][] = [];
  let best = singles[0].errorDb;
  const paired = tried.map(({ evaluated, snaps }) => ({ evaluated, snap: snaps[0] }));
  for (let pairs = 1; pairs <= mostPairs && best > GOOD_ENOUGH; pairs++) {
    for (const entry of paired) entry.snap = withOneMorePair(entry.evaluated, entry.snap, preferences) ?? entry.snap;
    const next = paired
      .map(({ snap }) => snap)
      .filter((s) => s.pairs === pairs)
      .sort(byError)
      .slice(0, KEPT);
    if (next.length === 0 || next[0].errorDb >= best - 1e-12) break;
    levels.push(next);
    best = next[0].errorDb;
  }
  return levels;
}

/** A stage and what values make of it, dB. */
interface Evaluated {
  readonly designed: DesignedStage;
  errorDb(values: PartValues): number;
}

/**
 * Resistors that a set of capacitors would ask for, and that nobody would put in: under 500 ohm or over 2 megohms where
 * the plain design is not.
 */
const SANE_OHM = [500, 2e6] as const;
const outOfReach = ({ spec, exact, choice }: DesignedPart): boolean =>
  spec.kind === 'resistor' && !spec.given && !choice.pinned && (exact < SANE_OHM[0] || exact > SANE_OHM[1]);

/** One part after another, and one against another, moved along their series while that helps. */
function improved(
  evaluated: Evaluated,
  start: StageSnap,
  preferences: Preferences,
  { capacitors }: SnapOptions,
): StageSnap {
  const { designed } = evaluated;
  const names = Object.keys(start.uses).filter(
    (name) => start.uses[name].values.length === 1 && !(capacitors && name.startsWith('C')),
  );
  const kindOf = new Map(designed.parts.map((p) => [p.spec.name, p.spec.kind]));
  const moved = (name: string, value: number, by: number): number =>
    stepPreferred(value, seriesFor(kindOf.get(name)!, preferences), by);
  let best = { values: start.values, error: start.errorDb };
  let left = MOST_TRIES;
  const consider = (change: PartValues) => {
    if (left-- <= 0) return;
    const values = { ...best.values, ...change };
    const error = evaluated.errorDb(values);
    if (error < best.error - 1e-12) best = { values, error };
  };
  for (let pass = 0; pass < IMPROVING_PASSES; pass++) {
    const before = best.error;
    names.forEach((a, i) => {
      for (const by of MOVES) consider({ [a]: moved(a, best.values[a], by) });
      if (names.length <= PAIRED_UP_TO)
        for (const b of names.slice(i + 1))
          for (const one of MOVES)
            for (const other of MOVES)
              consider({ [a]: moved(a, best.values[a], one), [b]: moved(b, best.values[b], other) });
    });
    if (best.error === before || best.error < GOOD_ENOUGH) break;
  }
  return evaluate(
    evaluated,
    Object.fromEntries(
      Object.entries(start.uses).map(([name, use]) => [name, names.includes(name) ? single(best.values[name]) : use]),
    ),
    best.values,
  );
}

/** What the maker typed but did not hold is free. */
const forget = (stage: Stage): Stage => ({
  ...stage,
  parts: Object.fromEntries(
    Object.entries(stage.parts).map(([name, choice]) => [
      name,
      choice.pinned || choice.control ? choice : { ...choice, use: undefined },
    ]),
  ),
});

const withCapacitors = (stage: Stage, set: PartValues): Stage => ({
  ...stage,
  parts: {
    ...stage.parts,
    ...Object.fromEntries(
      Object.entries(set).map(([name, value]) => [
        name,
        { ...stage.parts[name], use: { kind: 'single' as const, values: [value] }, pinned: true },
      ]),
    ),
  },
});

/**
 * Near the computed capacitors, every one of them at its own value and at those either side; from those at hand, the
 * nearest few.
 */
function capacitorSets(designed: DesignedStage, preferences: Preferences, { capacitors }: SnapOptions): PartValues[] {
  const free = designed.parts.filter((p) => p.spec.kind === 'capacitor' && isFree(p));
  const choicesOf = (wanted: number): number[] => {
    if (capacitors && capacitors.length > 0)
      return [...capacitors]
        .sort((a, b) => Math.abs(Math.log(a / wanted)) - Math.abs(Math.log(b / wanted)))
        .slice(0, 3);
    const series = seriesFor('capacitor', preferences);
    const reach = REACH[Math.min(free.length, REACH.length - 1)];
    const found = [nearestPreferred(wanted, series)];
    for (const by of [-1, 1])
      for (
        let at = stepPreferred(found[0], series, by);
        at >= wanted / reach && at <= wanted * reach;
        at = stepPreferred(at, series, by)
      )
        found.push(at);
    // At least the value on either side.
    const near =
      found.length > 1 ? found : [found[0], stepPreferred(found[0], series, -1), stepPreferred(found[0], series, 1)];
    return near.sort((a, b) => Math.abs(Math.log(a / wanted)) - Math.abs(Math.log(b / wanted)));
  };
  let sets: PartValues[] = [{}];
  for (const { spec, exact } of free)
    sets = sets.flatMap((set) => choicesOf(exact).map((value) => ({ ...set, [spec.name]: value }))).slice(0, MOST_SETS);
  return sets;
}

const single = (value: number): Use => ({ kind: 'single', values: [value] });

function evaluate(
  { designed, errorDb }: Evaluated,
  uses: Readonly<Record<string, Use>>,
  values: PartValues,
): StageSnap {
  const pairs = Object.values(uses).filter((u) => u.values.length > 1).length;
  return {
    uses,
    values,
    pairs,
    partCount: designed.parts.filter((p) => !p.spec.given && !p.choice.leftOut).length + pairs,
    errorDb: errorDb(values),
  };
}

/**
 * With capacitors as given: every combination of the free parts' values either side, or one after another where there
 * are too many. The best few.
 */
function bestSingles(evaluated: Evaluated, set: PartValues, preferences: Preferences): StageSnap[] {
  const { designed } = evaluated;
  const free = designed.parts.filter((p) => isFree(p) && !(p.spec.name in set));
  const sides = free.map(({ spec, exact }) => {
    const { below, above } = neighbours(exact, seriesFor(spec.kind, preferences));
    return below === above ? [below] : [below, above];
  });
  const start = { ...valuesOf(designed, 'chosen'), ...set };
  let best: { values: PartValues; error: number }[] = [{ values: start, error: evaluated.errorDb(start) }];
  const consider = (values: PartValues) => {
    const error = evaluated.errorDb(values);
    if (best.length === KEPT_OF_SET && error >= best[best.length - 1].error) return;
    best = [...best, { values, error }].sort((a, b) => a.error - b.error).slice(0, KEPT_OF_SET);
  };
  if (free.length <= ALL_TOGETHER) {
    const count = sides.reduce((n, s) => n * s.length, 1);
    for (let k = 0; k < count; k++) {
      let rest = k;
      consider({
        ...start,
        ...Object.fromEntries(
          free.map(({ spec }, i) => {
            const value = sides[i][rest % sides[i].length];
            rest = Math.floor(rest / sides[i].length);
            return [spec.name, value];
          }),
        ),
      });
    }
  } else
    for (let pass = 0; pass < 3; pass++)
      free.forEach(({ spec }, i) => sides[i].forEach((value) => consider({ ...best[0].values, [spec.name]: value })));
  return best.map(({ values }) =>
    evaluate(
      evaluated,
      Object.fromEntries(
        [...Object.keys(set), ...free.map(({ spec }) => spec.name)].map((name) => [name, single(values[name])]),
      ),
      values,
    ),
  );
}

/** The one more value, made of two parts, that helps most; null when none does. */
function withOneMorePair(evaluated: Evaluated, snap: StageSnap, preferences: Preferences): StageSnap | null {
  let best: StageSnap | null = null;
  for (const { spec } of evaluated.designed.parts) {
    const use = snap.uses[spec.name];
    if (!use || use.values.length > 1) continue;
    const pair = nearestPair(idealFor(evaluated, snap.values, spec.name), seriesFor(spec.kind, preferences), spec.kind);
    const next = evaluate(
      evaluated,
      { ...snap.uses, [spec.name]: { kind: pair.kind, values: [...pair.values] } },
      { ...snap.values, [spec.name]: pair.value },
    );
    if (next.errorDb < (best?.errorDb ?? snap.errorDb)) best = next;
  }
  return best;
}

/**
 * The value at which one part, the others as they are, leaves the smallest error: looked for twelve per cent to either
 * side.
 */
function idealFor(evaluated: Evaluated, values: PartValues, name: string): number {
  const at = (log: number) => evaluated.errorDb({ ...values, [name]: values[name] * Math.exp(log) });
  return values[name] * Math.exp(leastBetween(at, -0.12, 0.12, 30).at);
}
