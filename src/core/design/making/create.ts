import type { AlignmentId } from '../../filter/alignments/index';
import { alignmentById } from '../../filter/alignments/index';
import type { PlanResponse } from '../../filter/plan-sections';
import type { SectionTarget } from '../../filter/section';
import type { Driver } from '../../loudspeaker/driver';
import type { NetworkTopology, PartSpec } from '../../topology/kit/define-topology';
import {
  DESIGN_FORMAT,
  DESIGN_VERSION,
  type Control,
  type Design,
  type PartControl,
  type Plan,
  type Stage,
  type Variant,
  type Way,
} from '../document/schema';
import { PASSIVE_LADDER } from '../../topology/loudspeaker/passive-ladder-circuit';
import { sectionsOf } from '../stages/targets';

/** Makes ids; the interface passes random ones, tests and demo data count. */
export type MakeId = () => string;

/** Ids that count: the same on every machine and in every run. */
export function countingIds(prefix: string): MakeId {
  let n = 0;
  return () => `${prefix}-${++n}`;
}

/** Share of a pot's track that its wiper cannot leave at either end. */
const PART_OF_TRACK_LEFT = 0.001;

/** How far a control voltage moves what it moves, from end to end, until something else is said. */
const USUAL_OCTAVES = 8;

export const DEFAULT_DEVICE = 'jfet-audio-3mhz';

export function createPlan(
  id: string,
  response: PlanResponse,
  alignment: AlignmentId,
  order: number,
  cutoffHz: number,
): Plan {
  return {
    id,
    response,
    alignment,
    order,
    cutoffHz,
    bandwidthHz: cutoffHz / 2,
    rippleDb: 0.5,
    attenuationDb: 50,
    cutoffAt: alignmentById(alignment).defaultCutoffAt,
    gainDb: 0,
    stageOrder: 'low-q-first',
    topologies: usualTopologies(response),
  };
}

/** Circuits that a plan's sections are built of until something else is chosen. */
export function usualTopologies(response: PlanResponse): Plan['topologies'] {
  if (response === 'allpass')
    return { first: 'first-order-all-pass', second: 'band-pass-subtractor', notch: 'bainter' };
  return {
    first: 'first-order-buffered',
    second: response === 'bandpass' ? 'multiple-feedback-band-pass' : 'sallen-key-unity-gain',
    notch: 'bainter',
  };
}

/** Which of a plan's circuits builds a section. */
export const topologyFor = (
  { topologies }: Plan,
  { order, response }: Pick<SectionTarget, 'order' | 'response'>,
): string => (order === 1 ? topologies.first : response === 'notch' ? topologies.notch : topologies.second);

/**
 * Gives a way the stages its plans ask for: stages that already serve a section stay as they are (parts, device,
 * bypass), missing ones are made, those past the plan's end go. A stage retuned to its own target keeps the place of
 * the section it came from; stages added by hand follow.
 */
export function arrangeStages(way: Way, makeId: MakeId): Way {
  const added = way.stages.filter((stage) => placeOf(stage) === null);
  const planned = way.plans.map((plan) => {
    const current = way.stages.filter((s) => placeOf(s)?.plan === plan.id);
    if (plan.topologies.whole) return [current[0] ?? ladderStage(plan, makeId)];
    const sections = sectionsOf(plan);
    const stages = sections.map((section, i): Stage => {
      const standing = current.find((s) => placeOf(s)?.section === i);
      const topology = topologyFor(plan, section);
      if (standing) return standing;
      return {
        id: makeId(),
        topology,
        target: { kind: 'section', plan: plan.id, section: i },
        parts: {},
        device: DEFAULT_DEVICE,
        output: 'out',
        mode: 'normal',
        bypassed: false,
      };
    });
    if (plan.stageOrder === 'high-q-first') stages.reverse();
    if (plan.stageOrder === 'free') stages.sort((a, b) => rank(way, a) - rank(way, b));
    return stages;
  });
  const stages = [...planned.flat(), ...added];
  // A path put in order by hand stays in that order; what is new comes last.
  if (way.plans.every((plan) => plan.stageOrder === 'free')) stages.sort((a, b) => rank(way, a) - rank(way, b));
  return { ...way, stages };
}

/** What a passive network is made into until something else is said. */
const USUAL_DRIVER_OHM = 8;
const ladderStage = (plan: Plan, makeId: MakeId): Stage => ({
  id: makeId(),
  topology: PASSIVE_LADDER,
  target: { kind: 'plan', plan: plan.id, ohm: USUAL_DRIVER_OHM },
  parts: {},
  device: DEFAULT_DEVICE,
  output: 'out',
  mode: 'normal',
  bypassed: false,
});

/** The section of a plan that a stage stands for, retuned or not. */
export const placeOf = ({ target }: Stage): { plan: string; section: number } | null =>
  target.kind === 'section'
    ? target
    : target.kind === 'plan'
      ? { plan: target.plan, section: 0 }
      : target.kind === 'own'
        ? target.of
        : null;

const rank = (way: Way, stage: Stage): number => {
  const at = way.stages.indexOf(stage);
  return at < 0 ? Number.MAX_SAFE_INTEGER : at;
};

/**
 * A stage of its own with a circuit that asks for its own parameters, at what they start with unless given; and
 * controls for the pots it has of itself.
 */
export function createNetwork(
  topology: NetworkTopology,
  makeId: MakeId,
  given: { form?: string; parameters?: Readonly<Record<string, number>> } = {},
): { stage: Stage; controls: Control[] } {
  const mode = given.form ?? topology.modes[0];
  const parameters = Object.fromEntries(
    topology.parameters.map((p) => [p.name, given.parameters?.[p.name] ?? p.initial]),
  );
  const turned = topology.parts(mode).filter((spec) => spec.kind === 'potentiometer');
  const pots = turned.map((spec) => ownPot(spec, makeId(), parameters.trackOhm ?? 10e3));
  const steered = topology.parts(mode).filter((spec) => spec.kind === 'current');
  const currents = steered.map((spec) => ownCurrent(spec, makeId()));
  return {
    stage: {
      id: makeId(),
      topology: topology.id,
      target: { kind: 'network', parameters },
      parts: Object.fromEntries([...currents, ...pots].map(({ name, held }) => [name, { control: held }])),
      device: DEFAULT_DEVICE,
      output: 'out',
      mode,
      bypassed: false,
    },
    controls: [...pots, ...currents].map(({ control }) => control),
  };
}

/** A part that comes with what turns it. */
interface Turned {
  readonly name: string;
  readonly control: Control;
  readonly held: PartControl;
}
const titled = (role: string) => role[0].toUpperCase() + role.slice(1);

const ownPot = ({ name, role, turnedBy }: PartSpec, id: string, trackOhm: number): Turned => ({
  name,
  control: {
    id,
    name: titled(role),
    kind: turnedBy ?? 'pot',
    position: 0.5,
    taper: turnedBy ? 'linear' : 'log',
  },
  held: { kind: 'wiper', control: id, endOhm: PART_OF_TRACK_LEFT * trackOhm, mismatchPct: 0 },
});

const ownCurrent = ({ name, role }: PartSpec, id: string): Turned => ({
  name,
  control: { id, name: titled(role), kind: 'cv', position: 0.5, taper: 'linear' },
  held: { kind: 'exponential', control: id, octaves: USUAL_OCTAVES, scaleErrorPct: 0 },
});

export function createWay(id: string, plans: Plan[], makeId: MakeId): Way {
  const way: Way = {
    id,
    name: 'Way 1',
    from: { kind: 'source' },
    plans,
    stages: [],
    outputResistor: null,
    load: { kind: 'brief' },
    polarity: 1,
    levelTrimDb: 0,
  };
  return arrangeStages(way, makeId);
}

/** A way whose network stands between amplifier and driver: it has ladders and no op-amps. */
export const isPassive = ({ load }: Way): boolean => load.kind === 'driver' && load.amplifier === null;
/** A plan that one ladder of coils and capacitors is made for. */
export const asLadder = (plan: Plan): Plan => ({ ...plan, topologies: { ...plan.topologies, whole: PASSIVE_LADDER } });

function createVariant(id: string, name: string, label: string, ways: Way[]): Variant {
  return { id, name, label, ways, join: 'none', controls: [] };
}

/** What a driver's way starts as: a ladder for its plan between amplifier and driver. */
export function createDriverWay(
  makeId: MakeId,
  name: string,
  driver: Driver,
  plans: readonly Plan[],
  given: Partial<Way> = {},
): Way {
  const way: Way = {
    id: makeId(),
    name,
    from: { kind: 'source' },
    plans: plans.map(asLadder),
    stages: [],
    outputResistor: null,
    load: { kind: 'driver', driver: driver.id, amplifier: null },
    polarity: 1,
    levelTrimDb: 0,
    ...given,
  };
  const arranged = arrangeStages(way, makeId);
  return {
    ...arranged,
    stages: arranged.stages.map((stage) =>
      stage.target.kind === 'plan' ? { ...stage, target: { ...stage.target, ohm: driver.nominalOhm } } : stage,
    ),
  };
}

/** A new crossover: ways with their drivers, an amplifier, parts as loudspeaker builders buy them. */
export function createCrossover(
  title: string,
  ways: (makeId: MakeId) => Way[],
  drivers: readonly Driver[],
  makeId: MakeId,
): Design {
  const base = createDesign(title, () => [], makeId);
  return {
    ...base,
    family: 'loudspeaker',
    brief: {
      ...base.brief,
      signalVolts: 12,
      source: { name: 'Amplifier', ohm: 0.1 },
      load: { name: 'Driver', ohm: null },
    },
    variants: base.variants.map((v) => ({ ...v, ways: ways(makeId), join: 'acoustic' })),
    preferences: {
      ...base.preferences,
      resistorSeries: 'E12',
      capacitorSeries: 'E12',
      resistorTolerancePct: 5,
      capacitorTolerancePct: 5,
      grades: { inductor: 'air-1.0', capacitor: 'film', resistor: 'wirewound-10' },
    },
    drivers: [...drivers] as Design['drivers'],
  };
}

/** A new design: one way, one plan, a source and a load that are usual on a bench. */
export function createDesign(title: string, plans: (makeId: MakeId) => Plan[], makeId: MakeId): Design {
  const variantId = makeId();
  return {
    format: DESIGN_FORMAT,
    version: DESIGN_VERSION,
    id: makeId(),
    title,
    family: 'op-amp-filter',
    brief: {
      note: '',
      signalVolts: 1,
      supply: { kind: 'dual', volts: 12 },
      source: { name: 'Source', ohm: 100 },
      load: { name: 'Load', ohm: 10e3 },
      mask: [],
      nuisances: [],
    },
    variants: [createVariant(variantId, 'A', '', [createWay(makeId(), plans(makeId), makeId)])],
    currentVariant: variantId,
    measurements: [],
    log: [],
    preferences: {
      resistorSeries: 'E24',
      capacitorSeries: 'E6',
      resistorTolerancePct: 1,
      capacitorTolerancePct: 5,
      chooseFirst: 'capacitors',
      resistorSymbol: 'box',
      boards: 1,
    },
  };
}
