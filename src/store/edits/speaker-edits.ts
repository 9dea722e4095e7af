import { seriesCrossover } from '@/core/topology/loudspeaker/series-crossover';
import { LINE } from '@/core/catalogue/new-crossover';
import { layOutWays, standsWith, type WaysWanted } from '@/core/catalogue/lay-out-ways';
import { arrangeStages, asLadder, createNetwork, createPlan, isPassive } from '@/core/design/making/create';
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
} from '@/core/design/document/schema';
import { ordersIn } from '@/core/filter/plan-sections';
import { alignmentById } from '@/core/filter/alignments/index';
import { USUAL_LISTENING } from '@/core/design/document/usual-listening';
import type { Driver } from '@/core/loudspeaker/driver';
import { volumePot } from '@/core/topology/network/volume-pot';
import { fromDecibels } from '@/core/units/quantity';
import { driverPad } from '@/core/topology/loudspeaker/driver-pad';
import { PASSIVE_LADDER } from '@/core/topology/loudspeaker/passive-ladder-circuit';
import { bufferStage, currentVariantOf, currentWayOf, forgetControls, selectWay, type Edit } from './edits';
import { newId } from '../new-id';

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
    const { house, ...rest } = { ...(variant.listening ?? USUAL_LISTENING), ...patch };
    variant.listening = house ? { ...rest, house } : rest;
  };

/**
 * So many ways, laid out at once: plans, crossings and drivers; what is there keeps its driver, its slope and what was
 * put in by hand.
 */
export const setWays =
  (wanted: WaysWanted): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    const laid = layOutWays(copied({ ways: variant.ways }), copied(draft.drivers ?? []), wanted, newId);
    draft.drivers = [
      ...(draft.drivers ?? []),
      ...laid.drivers.filter((d) => !draft.drivers?.some((there) => there.id === d.id)).map(copied),
    ];
    variant.ways = laid.ways;
    forgetWays(draft);
  };

/** What ways that are gone had to themselves goes with them: controls, drivers, being worked on. */
function forgetWays(draft: Design): void {
  const variant = currentVariantOf(draft);
  if (!variant.ways.some((w) => w.id === variant.currentWay)) delete variant.currentWay;
  forgetControls(draft);
  forgetDrivers(draft);
}

export const removeWay =
  (wayId: string): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    if (variant.ways.length < 2 || variant.ways.some((w) => w.from.kind === 'stage' && w.from.way === wayId)) return;
    variant.ways = variant.ways.filter((w) => w.id !== wayId);
    forgetWays(draft);
  };

/** All ways fed alike. */
export const setAllActive =
  (active: boolean): Edit =>
  (draft) => {
    if (active) setWiring('parallel')(draft);
    for (const way of currentVariantOf(draft).ways) if (isPassive(way) === active) setActive(way.id, active)(draft);
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
    way.stages = way.stages.filter((s) => standsWith(s, active));
    const arranged = arrangeStages(copied(way), newId);
    way.stages = arranged.stages;
    const ohm = draft.drivers?.find((d) => way.load.kind === 'driver' && d.id === way.load.driver)?.nominalOhm;
    for (const stage of way.stages) if (stage.target.kind === 'plan' && ohm) stage.target.ohm = ohm;
    feedAsUsual(draft);
    forgetWays(draft);
  };

/** V RMS that an amplifier gives, and what it comes from, ohm. */
const AMPLIFIER = { signalVolts: 12, source: { name: 'Amplifier', ohm: 0.1 } };
/** A level between these is one that the maker may have meant for either. */
const BETWEEN_VOLTS = 3;

/** Ways that all have amplifiers of their own are fed a line level, those that all hang on one an amplifier's. */
function feedAsUsual(draft: Design): void {
  const { ways } = currentVariantOf(draft);
  const line = ways.every((w) => w.load.kind === 'driver' && w.load.amplifier !== null);
  if (line && draft.brief.signalVolts > BETWEEN_VOLTS) Object.assign(draft.brief, copied(LINE));
  if (ways.every(isPassive) && draft.brief.signalVolts < BETWEEN_VOLTS) Object.assign(draft.brief, copied(AMPLIFIER));
}

/** What a network is made for where nothing is known. */
const USUAL_DRIVER_OHM = 8;
const USUAL_CROSSING_HZ = 2500;
const bare = ({ first, second, notch }: Plan['topologies']): Plan['topologies'] => ({ first, second, notch });

/**
 * Drivers in a row, each with parts across it, or each with a ladder of its own. Of three or more, each network's upper
 * driver is the network of those above it.
 */
export const setWiring =
  (wiring: 'parallel' | 'first order' | 'second order'): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    const { ways } = variant;
    if (ways.length < 2 || !ways.every(isPassive)) return;
    const crossings = ways.slice(1).map((upper, k) => crossingOf(ways[k], upper));
    for (const way of ways) {
      way.from = { kind: 'source' };
      way.stages = way.stages.filter((s) => s.topology !== seriesCrossover.id);
    }
    if (wiring === 'parallel') {
      ways.forEach((way, w) => {
        if (way.plans.length === 0) way.plans = plansBetween(way, crossings[w - 1], crossings[w]);
        way.plans = way.plans.map(asLadder);
        way.stages = arrangeStages(copied(way), newId).stages;
      });
      forgetWays(draft);
      return;
    }
    ways.forEach((way, w) => {
      // The plan stays as what the sound is to do; the network is the series one.
      if (!way.aim && way.plans.length === 1)
        way.aim = { ...copied(way.plans[0]), topologies: bare(way.plans[0].topologies) };
      way.plans = [];
      way.stages = way.stages.filter((s) => s.target.kind !== 'plan' && s.target.kind !== 'section');
      if (w > 0) way.from = { kind: 'stage', way: ways[w - 1].id, stage: ways[w - 1].stages[0].id, output: 'high' };
      if (w === ways.length - 1) return;
      const ohm =
        draft.drivers?.find((d) => way.load.kind === 'driver' && d.id === way.load.driver)?.nominalOhm ??
        USUAL_DRIVER_OHM;
      const parameters = { crossHz: crossings[w], ohm };
      way.stages.unshift(createNetwork(seriesCrossover, newId, { form: wiring, parameters }).stage);
    });
    selectWay(ways[0].id)(draft);
    forgetWays(draft);
  };

/** Where two neighbours cross: as their plans, their targets or the series network between them have it, Hz. */
function crossingOf(lower: Way, upper: Way): number {
  const series = lower.stages.find((s) => s.topology === seriesCrossover.id);
  const edge = ({ plans, aim }: Way, response: Plan['response']) =>
    [...plans, ...(aim ? [aim] : [])].find((p) => p.response === response)?.cutoffHz;
  return (
    (series?.target.kind === 'network' ? series.target.parameters.crossHz : undefined) ??
    edge(lower, 'lowpass') ??
    edge(upper, 'highpass') ??
    USUAL_CROSSING_HZ
  );
}

/** Plans for a way's edges: as its target has them where it has one. */
function plansBetween(way: Way, belowHz: number | undefined, aboveHz: number | undefined): Plan[] {
  const { alignment, order } = way.aim ?? { alignment: 'linkwitz-riley' as const, order: 2 };
  return [
    ...(belowHz === undefined ? [] : [createPlan(newId(), 'highpass', alignment, order, belowHz)]),
    ...(aboveHz === undefined ? [] : [createPlan(newId(), 'lowpass', alignment, order, aboveHz)]),
  ];
}

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

/**
 * Brings all ways to the level that the quietest can have: by a trimmer, a pot and a buffer behind it, where a way has
 * an amplifier of its own, by a pad before its driver where it has none.
 */
export const levelWays =
  (able: readonly { readonly wayId: string; readonly ableDb: number | null }[]): Edit =>
  (draft) => {
    const lowest = Math.min(...able.flatMap((a) => a.ableDb ?? []));
    for (const { wayId, ableDb } of able) {
      const way = wayIn(draft, wayId);
      if (!way || ableDb === null) continue;
      const lossDb = Number((ableDb - lowest).toFixed(1));
      if (isPassive(way)) padTo(draft, way, lossDb);
      else trimTo(draft, way, lossDb);
    }
  };

/** A difference that nobody hears is no pad's worth, dB. */
const LEAST_PAD_DB = 0.3;

/** What a level trimmer's track is, as a rule: op-amps drive it, and noise is still little. */
const TRIMMER_OHM = 10e3;

/** Turns a way's level trimmer to so much loss; puts one in, with its buffer, where there is none. */
function trimTo(draft: Design, way: Way, lossDb: number): void {
  const variant = currentVariantOf(draft);
  const position = fromDecibels(-lossDb);
  const trimmer = way.stages.find((s) => s.topology === volumePot.id && !s.bypassed);
  const turnedBy = trimmer?.parts.P1?.control?.control;
  const control = variant.controls.find((c) => c.id === turnedBy);
  if (control) {
    Object.assign(control, { position, taper: 'linear' });
    return;
  }
  if (lossDb < LEAST_PAD_DB) return;
  const { stage, controls } = createNetwork(volumePot, newId, { parameters: { trackOhm: TRIMMER_OHM } });
  way.stages.push(stage, bufferStage());
  variant.controls.push(
    ...controls.map((c) => ({ ...c, name: `Level, ${way.name}`.slice(0, 60), position, taper: 'linear' as const })),
  );
}

function padTo(draft: Design, way: Way, lossDb: number): void {
  const pad = way.stages.find((s) => s.topology === driverPad.id && !s.bypassed);
  if (lossDb < LEAST_PAD_DB) {
    way.stages = way.stages.filter((s) => s !== pad);
    return;
  }
  const ohm = draft.drivers?.find((d) => way.load.kind === 'driver' && d.id === way.load.driver)?.nominalOhm;
  if (!pad)
    way.stages.push(createNetwork(driverPad, newId, { parameters: { lossDb, ohm: ohm ?? USUAL_DRIVER_OHM } }).stage);
  else if (pad.target.kind === 'network') {
    pad.target.parameters.lossDb = lossDb;
    pad.parts = {};
  }
}

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
