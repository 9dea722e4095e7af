import { arrangeStages, createDriverWay, createPlan, isPassive, type MakeId } from '../design/making/create';
import type { Plan, Stage, Variant, Way } from '../design/document/schema';
import { demoDrivers } from '../loudspeaker/demo-drivers';
import type { Driver } from '../loudspeaker/driver';
import { findTopology } from '../topology/index';
import { seriesCrossover } from '../topology/loudspeaker/series-crossover';

/** How many ways share the band, and whether a subwoofer stands below them. */
export interface WaysWanted {
  readonly count: WayCount;
  readonly subwoofer: boolean;
  /** Each way before an amplifier of its own; absent: as the ways are. */
  readonly active?: boolean;
}
export const WAY_COUNTS = [1, 2, 3, 4] as const;
export type WayCount = (typeof WAY_COUNTS)[number];
/** So many ways in all, a subwoofer's with them. */
export const MOST_WAYS = 4;

/** What a way plays, and the driver it gets until the maker brings one. */
interface Role {
  readonly name: string;
  readonly kind: Driver['kind'];
  readonly driver: string;
}
const SUBWOOFER: Role = { name: 'Subwoofer', kind: 'woofer', driver: 'elm-260' };
const FULL_RANGE: Role = { name: 'Full range', kind: 'full-range', driver: 'hazel-100' };
const WOOFER: Role = { name: 'Woofer', kind: 'woofer', driver: 'alder-165' };
const BASS: Role = { name: 'Bass', kind: 'woofer', driver: 'elm-260' };
const MIDRANGE: Role = { name: 'Midrange', kind: 'midrange', driver: 'rowan-110' };
const TWEETER: Role = { name: 'Tweeter', kind: 'tweeter', driver: 'finch-25' };

/** Roles from the bass up and where neighbours cross, Hz, without a subwoofer. */
const LAYOUTS: Readonly<Record<WayCount, { roles: readonly Role[]; crossHz: readonly number[]; subHz: number }>> = {
  1: { roles: [FULL_RANGE], crossHz: [], subHz: 120 },
  2: { roles: [WOOFER, TWEETER], crossHz: [2500], subHz: 80 },
  3: { roles: [BASS, MIDRANGE, TWEETER], crossHz: [500, 3000], subHz: 80 },
  4: {
    roles: [BASS, { ...WOOFER, name: 'Lower midrange' }, { ...MIDRANGE, name: 'Upper midrange' }, TWEETER],
    crossHz: [150, 700, 3000],
    subHz: 80,
  },
};

const layoutOf = ({ count, subwoofer }: WaysWanted): { roles: readonly Role[]; crossHz: readonly number[] } => {
  const { roles, crossHz, subHz } = LAYOUTS[count];
  if (!subwoofer) return { roles, crossHz };
  // The bass above a subwoofer is a smaller driver than one that reaches down by itself.
  const above = roles.map((role) => (role === BASS ? { ...BASS, driver: WOOFER.driver } : role));
  return { roles: [SUBWOOFER, ...above], crossHz: [subHz, ...crossHz] };
};
const LAID_OUT_NAMES: readonly string[] = [SUBWOOFER, ...WAY_COUNTS.flatMap((n) => LAYOUTS[n].roles)].map(
  (r) => r.name,
);

/** What a variant's ways are: how many share the band, and whether the lowest is a subwoofer's. */
export function waysOf({ ways }: Pick<Variant, 'ways'>): WaysWanted {
  const subwoofer = ways[0]?.name === SUBWOOFER.name;
  const count = Math.max(1, Math.min(MOST_WAYS, ways.length - (subwoofer ? 1 : 0)));
  return { count: count as WayCount, subwoofer };
}

/** Slope of every edge. */
type Slope = Pick<Plan, 'alignment' | 'order'> & Partial<Pick<Plan, 'rippleDb' | 'cutoffAt'>>;
const USUAL_SLOPE: Slope = { alignment: 'linkwitz-riley', order: 2 };
/** Op-amp sections cost next to nothing: what one more pair of coils and capacitors would. */
const USUAL_ACTIVE_SLOPE: Slope = { alignment: 'linkwitz-riley', order: 4 };
type Amplifier = Extract<Way['load'], { kind: 'driver' }>['amplifier'];
/** Of a power amplifier with its own way. */
const USUAL_AMPLIFIER: Amplifier = { inputOhm: 22e3, gainDb: 26 };

const driverCalled = (id: string): Driver => demoDrivers().find((d) => d.id === id) as Driver;

/** Two slopes that cross half a turn apart want every second way turned over: orders 2, 6, 10 ... */
const alternates = (order: number): boolean => order % 4 === 2;

const planOf = (makeId: MakeId, slope: Slope, response: 'lowpass' | 'highpass', hz: number): Plan => {
  const plan = createPlan(makeId(), response, slope.alignment, slope.order, hz);
  return { ...plan, rippleDb: slope.rippleDb ?? plan.rippleDb, cutoffAt: slope.cutoffAt ?? plan.cutoffAt };
};

const driverIdOf = ({ load }: Way): string | null => (load.kind === 'driver' ? load.driver : null);
/** The first edge that there is; poles of the maker's own are of one edge and no pattern. */
const slopeOf = (ways: readonly Way[]): Slope | undefined =>
  ways
    .flatMap((w) => w.plans)
    .find((p) => (p.response === 'lowpass' || p.response === 'highpass') && p.alignment !== 'custom');
/**
 * Whether a circuit that was put in by hand can stand in a way: before an amplifier nothing that is made to carry a
 * driver's current, between amplifier and driver nothing else.
 */
export function standsWith({ topology, target }: Stage, active: boolean): boolean {
  if (target.kind === 'plan' || target.kind === 'section' || topology === seriesCrossover.id) return false;
  return target.kind === 'deck' || (findTopology(topology)?.family === 'loudspeaker') !== active;
}

/** Which of the ways there are takes each role: one of its name, or the lowest free one with its kind of driver. */
function taking(roles: readonly Role[], ways: readonly Way[], drivers: readonly Driver[]): (Way | undefined)[] {
  const free = new Set(ways);
  const take = (found: Way | undefined) => {
    if (found) free.delete(found);
    return found;
  };
  const named = roles.map((role) => take([...free].find((w) => w.name === role.name)));
  // One driver for everything is the lowest of those there are, until the maker brings another.
  if (roles.length === 1 && !named[0]) return [take(ways[0])];
  return roles.map(
    (role, r) =>
      named[r] ??
      (role.name === SUBWOOFER.name
        ? undefined
        : take([...free].find((w) => drivers.find((d) => d.id === driverIdOf(w))?.kind === role.kind))),
  );
}

/**
 * A variant's ways laid out anew: the lowest a low-pass, the highest a high-pass, those between both; drivers, circuits
 * put in by hand, slope and feed of what there is stay, and where two neighbours stay neighbours, their crossing does.
 * Each way is turned against its neighbours where its order asks for it.
 */
export function layOutWays(
  { ways }: Pick<Variant, 'ways'>,
  drivers: readonly Driver[],
  wanted: WaysWanted,
  makeId: MakeId,
): { ways: Way[]; drivers: Driver[] } {
  const { roles, crossHz } = layoutOf(wanted);
  const kept = taking(roles, ways, drivers);
  const active = wanted.active ?? (ways.length > 0 && !ways.every(isPassive));
  const slope = slopeOf(ways) ?? (active ? USUAL_ACTIVE_SLOPE : USUAL_SLOPE);
  const aimed = ways.flatMap((w) => (w.aim ? [w.aim] : []))[0];
  const crossings = crossHz.map((hz, k) => standingCrossing(ways, kept[k], kept[k + 1]) ?? hz);
  const { order } = aimed ?? slope;
  const brought: Driver[] = [];
  const laid = roles.map((role, r): Way => {
    const old = kept[r];
    const driver = drivers.find((d) => old && d.id === driverIdOf(old)) ?? driverCalled(role.driver);
    if (!brought.some((d) => d.id === driver.id)) brought.push(driver);
    const edges = (of: Slope): Plan[] => [
      ...(r > 0 ? [planOf(makeId, of, 'highpass', crossings[r - 1])] : []),
      ...(r < crossings.length ? [planOf(makeId, of, 'lowpass', crossings[r])] : []),
    ];
    const plans = edges(slope);
    // One slope of its own stands for one edge: a way between two has its plans' as its target.
    const aim = aimed && crossings.length > 0 && (r === 0 || r === crossings.length) ? edges(aimed)[0] : undefined;
    const given: Partial<Way> = {
      polarity: alternates(order) && r % 2 === 1 ? -1 : 1,
      ...(aim ? { aim } : {}),
      ...(old
        ? {
            id: old.id,
            name: LAID_OUT_NAMES.includes(old.name) ? role.name : old.name,
            levelTrimDb: old.levelTrimDb,
            ...(old.position ? { position: old.position } : {}),
          }
        : {}),
    };
    const amplifier = amplifierOf(old, wanted.active, active);
    const way = createDriverWay(makeId, role.name, driver, plans, given);
    const byHand = old?.stages.filter((s) => standsWith(s, amplifier !== null)) ?? [];
    return fed(way, driver, amplifier, byHand, makeId);
  });
  return { ways: laid, drivers: brought };
}

/** What feeds a way itself: as all are to be, as it was, or as a new one among the others. */
function amplifierOf(old: Way | undefined, wanted: boolean | undefined, others: boolean): Amplifier {
  const own = old?.load.kind === 'driver' ? old.load.amplifier : null;
  return (wanted ?? (old ? own !== null : others)) ? (own ?? USUAL_AMPLIFIER) : null;
}

/** A way as its feed has it: ladders between amplifier and driver, or sections before an amplifier of its own. */
function fed(way: Way, driver: Driver, amplifier: Amplifier, stages: Way['stages'], makeId: MakeId): Way {
  if (!amplifier) return { ...way, stages: [...way.stages, ...stages] };
  const plans = way.plans.map(({ topologies: { first, second, notch }, ...plan }) => ({
    ...plan,
    topologies: { first, second, notch },
  }));
  const load: Way['load'] = { kind: 'driver', driver: driver.id, amplifier };
  return arrangeStages({ ...way, plans, load, stages }, makeId);
}

/** Where two ways that are neighbours cross, Hz. */
function standingCrossing(ways: readonly Way[], lower: Way | undefined, upper: Way | undefined): number | undefined {
  if (!lower || !upper || ways.indexOf(upper) !== ways.indexOf(lower) + 1) return undefined;
  const of = (way: Way, response: Plan['response']) => way.plans.find((p) => p.response === response)?.cutoffHz;
  return of(lower, 'lowpass') ?? of(upper, 'highpass');
}

/** What is lost where a variant is laid out in fewer ways: each way with its driver and its circuits, in words. */
export function waysLost({ ways }: Pick<Variant, 'ways'>, drivers: readonly Driver[], wanted: WaysWanted): string[] {
  let n = 0;
  const laid = layOutWays({ ways: [...ways] }, [...drivers], wanted, () => `lost-${n++}`);
  const kept = new Set(laid.ways.map((w) => w.id));
  return ways
    .filter((w) => !kept.has(w.id))
    .map(({ name, load, stages }) => {
      const driver = load.kind === 'driver' ? drivers.find((d) => d.id === load.driver)?.name : undefined;
      const circuits = stages.length === 1 ? 'one circuit' : `${stages.length} circuits`;
      return `${name}${driver ? ` with ${driver}` : ''} and ${circuits}`;
    });
}
