import { seriesCrossover } from '@/core/topology/loudspeaker/series-crossover';
import { arrangeStages, createDriverWay, createNetwork, createPlan } from '@/core/design/create';
import type {
  Coupling,
  Design,
  Listening,
  PartChoice,
  Plan,
  Preferences,
  Stage,
  Variant,
  Way,
} from '@/core/design/schema';
import { ordersIn } from '@/core/filter/plan-sections';
import { alignmentById } from '@/core/filter/alignments/index';
import { USUAL_LISTENING } from '@/core/jobs/loudspeaker/speaker-system';
import type { Driver } from '@/core/loudspeaker/driver';
import { PASSIVE_LADDER } from '@/core/topology/loudspeaker/passive-ladder-circuit';
import { currentVariantOf, currentWayOf, selectWay, type Edit } from './edits';
import { newId } from './new-id';

/** Changes of a crossover: its ways, drivers, listener's place, coils; written on a draft like all others. */

const wayIn = (draft: Design, id: string): Way | undefined => currentVariantOf(draft).ways.find((w) => w.id === id);

export const changeWay =
  (wayId: string, patch: Partial<Pick<Way, 'name' | 'polarity' | 'levelTrimDb' | 'position'>>): Edit =>
  (draft) => {
    Object.assign(wayIn(draft, wayId) ?? {}, patch);
  };

export const turnOver =
  (wayId: string): Edit =>
  (draft) => {
    const way = wayIn(draft, wayId);
    if (way) way.polarity = way.polarity === 1 ? -1 : 1;
  };

const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Brings a driver into the design, or its newer figures, and puts it at the end of a way. */
export const takeDriver =
  (wayId: string, driver: Driver): Edit =>
  (draft) => {
    const way = wayIn(draft, wayId);
    if (!way) return;
    draft.drivers = [...(draft.drivers ?? []).filter((d) => d.id !== driver.id), copied(driver)];
    way.load = { kind: 'driver', driver: driver.id, amplifier: way.load.kind === 'driver' ? way.load.amplifier : null };
    for (const stage of way.stages) if (stage.target.kind === 'plan') stage.target.ohm = driver.nominalOhm;
    forgetDrivers(draft);
  };

/** Drivers that no way of any variant has any more go. */
function forgetDrivers(draft: Design): void {
  const used = new Set(
    draft.variants.flatMap((v) => v.ways.flatMap(({ load }) => (load.kind === 'driver' ? [load.driver] : []))),
  );
  if (draft.drivers?.some((d) => !used.has(d.id))) draft.drivers = draft.drivers.filter((d) => used.has(d.id));
}

export const changeDriver =
  (driverId: string, patch: Partial<Omit<Driver, 'id'>>): Edit =>
  (draft) => {
    Object.assign(draft.drivers?.find((d) => d.id === driverId) ?? {}, copied(patch));
  };

/** The resistance that a way's ladder is made into. */
export const setLadderOhm =
  (stageId: string, ohm: number): Edit =>
  (draft) => {
    const stage = currentWayOf(draft).stages.find((s) => s.id === stageId);
    if (stage?.target.kind === 'plan') stage.target.ohm = ohm;
  };

/** What the sound of a way is to do: as its network's plan says (null), or a slope of its own. */
export const setAim =
  (wayId: string, patch: Partial<Pick<Plan, 'alignment' | 'order' | 'cutoffHz'>> | null): Edit =>
  (draft) => {
    const way = wayIn(draft, wayId);
    if (!way) return;
    if (patch === null) {
      delete way.aim;
      return;
    }
    const aim = way.aim ?? {
      ...copied(way.plans[0] ?? createPlan(newId(), 'lowpass', 'linkwitz-riley', 4, 2000)),
      id: newId(),
    };
    delete aim.topologies.whole;
    Object.assign(aim, patch);
    const alignment = alignmentById(aim.alignment);
    if (patch.alignment) aim.cutoffAt = alignment.defaultCutoffAt;
    const orders = ordersIn(aim.response, alignment);
    if (!orders.includes(aim.order))
      aim.order = [...orders].sort((a, b) => Math.abs(a - aim.order) - Math.abs(b - aim.order))[0];
    way.aim = aim;
  };

/** Moves where two neighbours meet: the sound's aim of both, and their networks by the same factor. */
export const moveCrossing =
  (lowerId: string, upperId: string, fromHz: number, toHz: number): Edit =>
  (draft) => {
    const factor = toHz / fromHz;
    for (const [id, response] of [
      [lowerId, 'lowpass'],
      [upperId, 'highpass'],
    ] as const) {
      const way = wayIn(draft, id);
      if (!way) continue;
      for (const plan of [...way.plans, ...(way.aim ? [way.aim] : [])])
        if (plan.response === response || way.plans.length === 1)
          plan.cutoffHz = Number((plan.cutoffHz * factor).toPrecision(6));
    }
  };

export const setListening =
  (patch: Partial<Listening>): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    variant.listening = { ...(variant.listening ?? USUAL_LISTENING), ...patch };
  };

/** Another way above those there are, with a ladder and a driver. */
export const addWay =
  (name: string, driver: Driver, response: 'lowpass' | 'highpass', cutoffHz: number): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    if (variant.ways.length >= 4) return;
    draft.drivers = [...(draft.drivers ?? []).filter((d) => d.id !== driver.id), copied(driver)];
    const way = createDriverWay(newId, name, driver, [createPlan(newId(), response, 'linkwitz-riley', 2, cutoffHz)]);
    variant.ways.push(way);
    selectWay(way.id)(draft);
  };

export const removeWay =
  (wayId: string): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    if (variant.ways.length < 2 || variant.ways.some((w) => w.from.kind === 'stage' && w.from.way === wayId)) return;
    variant.ways = variant.ways.filter((w) => w.id !== wayId);
    const there = new Set(variant.ways.flatMap((w) => w.stages.map((s) => s.id)));
    if (variant.couplings)
      variant.couplings = variant.couplings.filter((c) => there.has(c.first.stage) && there.has(c.second.stage));
    if (variant.currentWay === wayId) delete variant.currentWay;
    forgetDrivers(draft);
  };

/**
 * A way built of passive ladders between amplifier and driver, or of op-amp sections before an amplifier of its own.
 */
export const setActive =
  (wayId: string, active: boolean): Edit =>
  (draft) => {
    const way = wayIn(draft, wayId);
    if (!way || way.load.kind !== 'driver') return;
    way.load.amplifier = active ? { inputOhm: 22e3, gainDb: 26 } : null;
    for (const plan of way.plans) {
      if (active) delete plan.topologies.whole;
      else plan.topologies.whole = PASSIVE_LADDER;
    }
    way.stages = way.stages.filter(
      (s) => s.target.kind !== 'plan' && s.target.kind !== 'section' && (!active || s.target.kind !== 'network'),
    );
    const arranged = arrangeStages(copied(way), newId);
    way.stages = arranged.stages;
    const ohm = draft.drivers?.find((d) => way.load.kind === 'driver' && d.id === way.load.driver)?.nominalOhm;
    for (const stage of way.stages) if (stage.target.kind === 'plan' && ohm) stage.target.ohm = ohm;
  };

const bare = ({ first, second, notch }: Plan['topologies']): Plan['topologies'] => ({ first, second, notch });

/** Two ways in a row, each driver with parts across it, or each with a ladder of its own. */
export const setWiring =
  (wiring: 'parallel' | 'first order' | 'second order'): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    if (variant.ways.length !== 2) return;
    const [lower, upper] = variant.ways;
    const passive = (way: Way) => way.load.kind === 'driver' && !way.load.amplifier;
    if (!passive(lower) || !passive(upper)) return;
    const stays = (s: Stage) => s.target.kind === 'network' && s.topology !== seriesCrossover.id;
    if (wiring === 'parallel') {
      upper.from = { kind: 'source' };
      for (const way of [lower, upper]) {
        if (way.plans.length === 0 && way.aim) way.plans = [{ ...copied(way.aim), id: newId() }];
        for (const plan of way.plans) plan.topologies.whole = PASSIVE_LADDER;
        way.stages = arrangeStages({ ...copied(way), stages: copied(way.stages.filter(stays)) }, newId).stages;
      }
      return;
    }
    const crossHz = lower.plans[0]?.cutoffHz ?? lower.aim?.cutoffHz ?? 2500;
    const ohm = draft.drivers?.find((d) => lower.load.kind === 'driver' && d.id === lower.load.driver)?.nominalOhm ?? 8;
    const { stage } = createNetwork(seriesCrossover, newId, { form: wiring, parameters: { crossHz, ohm } });
    for (const way of [lower, upper]) {
      // The plan stays as what the sound is to do; the network is the series one.
      if (!way.aim && way.plans[0]) way.aim = { ...copied(way.plans[0]), topologies: bare(way.plans[0].topologies) };
      way.plans = [];
      way.stages = way.stages.filter(stays);
    }
    lower.stages.unshift(stage);
    upper.from = { kind: 'stage', way: lower.id, stage: stage.id, output: 'high' };
    selectWay(lower.id)(draft);
  };

/** Takes values that were fitted together, wherever their stages stand. */
export const takeFitted =
  (parts: readonly { readonly stage: string; readonly part: string; readonly value: number }[]): Edit =>
  (draft) => {
    for (const { stage: stageId, part, value } of parts) {
      const stage = currentVariantOf(draft)
        .ways.flatMap((w) => w.stages)
        .find((s) => s.id === stageId);
      if (stage) stage.parts[part] = { ...stage.parts[part], use: { kind: 'single', values: [value] } };
    }
  };

/** Puts a stage before a way's driver. */
export const addBeforeDriver =
  (wayId: string, stage: Stage): Edit =>
  (draft) => {
    wayIn(draft, wayId)?.stages.push({ ...copied(stage), id: newId() });
  };

export const setGrade =
  (stageId: string, part: string, grade: PartChoice['grade']): Edit =>
  (draft) => {
    const stage = currentVariantOf(draft)
      .ways.flatMap((w) => w.stages)
      .find((s) => s.id === stageId);
    if (!stage) return;
    const choice = { ...stage.parts[part] };
    if (grade === undefined) delete choice.grade;
    else choice.grade = grade;
    if (Object.keys(choice).length === 0) delete stage.parts[part];
    else stage.parts[part] = choice;
  };
export const setGrades =
  (patch: Partial<NonNullable<Preferences['grades']>>): Edit =>
  (draft) => {
    draft.preferences.grades = {
      inductor: 'air-1.0',
      capacitor: 'film',
      resistor: 'wirewound-10',
      ...draft.preferences.grades,
      ...patch,
    };
  };

export const addCoupling =
  (coupling: Omit<Coupling, 'id'>): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    variant.couplings = [...(variant.couplings ?? []), { id: newId(), ...coupling }];
  };
export const changeCoupling =
  (id: string, patch: Partial<Omit<Coupling, 'id'>>): Edit =>
  (draft) => {
    Object.assign(currentVariantOf(draft).couplings?.find((c) => c.id === id) ?? {}, patch);
  };
export const removeCoupling =
  (id: string): Edit =>
  (draft) => {
    const variant: Variant = currentVariantOf(draft);
    variant.couplings = variant.couplings?.filter((c) => c.id !== id);
  };
