import { leastBetween } from '../../math/search';
import { nearestPair } from '../../parts/pairs';
import { nearestPreferred, neighbours, stepPreferred } from '../../parts/preferred';
import type { PartValues } from '../../topology/kit/part';
import type { PartChoice, Preferences } from '../document/schema';
import { seriesFor, valuesOf, type DesignedPart, type DesignedStage } from '../stages/stage-design';

/** Ways to look for values of a stage's parts, each from one set or choice to better ones. */

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

/** How many of the best are kept of a set of capacitors. */
const KEPT_OF_SET = 3;
/** How far from its computed value a capacitor is tried, as a factor: in a set of so many of them. */
const REACH = [1, 10, 10, 3, 1.6];
/**
 * Values on either side that a resistor is tried at; with more free parts than this, they are improved one after
 * another.
 */
const ALL_TOGETHER = 6;
/** How many values along its series a part is moved, alone or against another, and how often all are gone over. */
const MOVES = [-2, -1, 1, 2];
const IMPROVING_PASSES = 4;
/**
 * With more parts than this none is moved against another; and no stage's choice is improved by more tries than this.
 */
const PAIRED_UP_TO = 10;
const MOST_TRIES = 1500;
/** dB: nearer than this no one can tell. */
export const GOOD_ENOUGH = 0.002;

/** What the maker typed or holds is no one else's to choose. */
export const isHeld = ({ pinned, use }: PartChoice): boolean => pinned === true || use?.typed === true;

export const isFree = ({ spec, choice, wiper }: DesignedPart): boolean =>
  !spec.given &&
  !isHeld(choice) &&
  !choice.control &&
  !choice.leftOut &&
  wiper === undefined &&
  spec.kind !== 'potentiometer';

/** A stage and what values make of it, dB. */
export interface Evaluated {
  readonly designed: DesignedStage;
  errorDb(values: PartValues): number;
}

export const byError = (a: StageSnap, b: StageSnap): number => a.errorDb - b.errorDb;

/** One part after another, and one against another, moved along their series while that helps. */
export function improved(
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

/**
 * Near the computed capacitors, every one of them at its own value and at those either side; from those at hand, the
 * nearest few.
 */
export function capacitorSets(
  designed: DesignedStage,
  preferences: Preferences,
  { capacitors }: SnapOptions,
  most: number,
): PartValues[] {
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
    sets = sets.flatMap((set) => choicesOf(exact).map((value) => ({ ...set, [spec.name]: value }))).slice(0, most);
  return sets;
}

export const single = (value: number): Use => ({ kind: 'single', values: [value] });

export function evaluate(
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
export function bestSingles(evaluated: Evaluated, set: PartValues, preferences: Preferences): StageSnap[] {
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
export function withOneMorePair(evaluated: Evaluated, snap: StageSnap, preferences: Preferences): StageSnap | null {
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
