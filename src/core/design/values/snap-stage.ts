import type { AcSolver } from '../../analysis/ac/solver';
import type { SectionTarget } from '../../filter/section';
import type { PartValues } from '../../topology/kit/part';
import type { Control, Plan, Preferences, Stage } from '../document/schema';
import { designStage, valuesOf, type Bench, type DesignedPart, type DesignedStage } from '../stages/stage-design';
import { judgeOf, type Judge } from '../compiled/stage-error';
import {
  bestSingles,
  byError,
  capacitorSets,
  evaluate,
  GOOD_ENOUGH,
  improved,
  isFree,
  isHeld,
  single,
  withOneMorePair,
  type Evaluated,
  type SnapOptions,
  type StageSnap,
} from './stage-choices';

/** Sets of capacitors that are worked out around, those of them whose resistors are tried, and how many are kept. */
const MOST_SETS = 400;
const TRIED_SETS = 16;
const KEPT = 8;
const QUICK_SETS = 1;
/** How many choices of a stage are improved. */
const IMPROVED = 2;

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
  const design = (parts: Stage) => designStage(parts, target, bench, controls, plans);
  const around = design(bareOf(stage, 'pinned'));
  // Where the rest cannot be computed around what was typed, that stands as it is beside the rest as computed.
  const held = around.ok ? 'pinned' : 'left';
  const bare = around.ok ? around : design(bareOf(stage, held));
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
    const redone = design(withCapacitors(bareOf(stage, held), set));
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

/** Sets of capacitors that the stage can be worked out around, best first. */
function setsToTry(
  plain: Evaluated,
  redoneWith: (set: PartValues) => Redone | null,
  preferences: Preferences,
  options: SnapOptions,
): Redone[] {
  const most = options.quick ? QUICK_SETS : MOST_SETS;
  const wanted = capacitorSets(plain.designed, preferences, options, most);
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

/**
 * Resistors that a set of capacitors would ask for, and that nobody would put in: under 500 ohm or over 2 megohms where
 * the plain design is not.
 */
const SANE_OHM = [500, 2e6] as const;
const outOfReach = ({ spec, exact, choice }: DesignedPart): boolean =>
  spec.kind === 'resistor' && !spec.given && !isHeld(choice) && (exact < SANE_OHM[0] || exact > SANE_OHM[1]);

/** A stage without what was chosen before: what the maker typed stays, and the rest is computed around it, or not. */
const bareOf = (stage: Stage, typed: 'pinned' | 'left'): Stage => ({
  ...stage,
  parts: Object.fromEntries(
    Object.entries(stage.parts).map(([name, choice]) => {
      if (choice.control) return [name, choice];
      if (!isHeld(choice)) return [name, { ...choice, use: undefined }];
      return [name, typed === 'pinned' ? { ...choice, pinned: true } : choice];
    }),
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
