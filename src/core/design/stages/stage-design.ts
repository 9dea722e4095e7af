import { cellOhmOf } from '../../circuit/elements/optocoupler';
import { findOpAmp, railVolts, type OpAmp } from '../../device/op-amps';
import { photocellValues, USUAL_PHOTOCELL } from '../../device/photocell';
import { RESPONSE_NAMES } from '../../filter/response-names';
import type { SectionTarget } from '../../filter/section';
import { together } from '../../parts/pairs';
import { nearestPreferred, neighbours, type SeriesId } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';
import {
  parametersOf,
  type NetworkTopology,
  type PartSpec,
  type SectionTopology,
  type Termination,
  type Topology,
} from '../../topology/kit/define-topology';
import type { Parameters } from '../../topology/kit/parameter';
import { CELL, SPAN, SUPPLY, wiperKey, type PartKind, type PartValues } from '../../topology/kit/part';
import { CURRENT } from '../../topology/voice/control/controlled';
import { DesignContext, type Side } from '../../topology/kit/design-context';
import { controlledAmps, controlledOhm, jackVolts, wiperShare } from './control-values';
import { stageTopology } from './stage-topology';
import { gradeById, lossOhm, type Grade } from '../../parts/grades';
import type { Control, Design, PartChoice, Plan, Preferences, Stage, Way } from '../document/schema';
import { wayTargets } from './targets';

/** One part of a stage: what would be exact, and what is taken. Ohm, farad or henry. */
export interface DesignedPart {
  readonly spec: PartSpec;
  readonly exact: number;
  /** On a control: what it comes to at the control's position. */
  readonly chosen: number;
  readonly choice: PartChoice;
  /** The maker typed the value, rather than the series giving it. */
  readonly typed: boolean;
  readonly tolerancePct: number;
  /** How it is made, and its series resistance (ohm) then. */
  readonly grade: Grade | undefined;
  readonly lossOhm: number;
  /** Of a pot: the wiper's share of the track from the low end. */
  readonly wiper?: number;
}

/** What stages are designed for: the maker's preferences and the supply. */
export type Bench = Pick<Design, 'preferences' | 'brief'>;

/** From rail to rail, V. */
export const supplyVolts = ({ brief }: Pick<Bench, 'brief'>): number => 2 * railVolts(brief);

interface Designed {
  readonly stage: Stage;
  readonly device: OpAmp | null;
  readonly parts: readonly DesignedPart[];
  /**
   * What the circuit’s values depend on besides its parts: the supply from rail to rail, V, a lit cell, ohm; by the
   * names that part values have them under.
   */
  readonly besides: Readonly<Record<'exact' | 'chosen', PartValues>>;
  /** What its end is to be terminated with. */
  readonly load: Termination;
  readonly opAmps: number;
  /** Frequencies (Hz) it is about; none for what is flat. */
  readonly cornersHz: readonly number[];
}
export interface DesignedSection extends Designed {
  readonly role: 'section';
  readonly topology: SectionTopology;
  readonly target: SectionTarget;
  /** What its parts are designed for: the target, or where it must be aimed for the real op-amp to hit it. */
  readonly aim: SectionTarget;
  readonly form: SectionTarget['response'];
}
export interface DesignedNetwork extends Designed {
  readonly role: 'network';
  readonly topology: NetworkTopology;
  readonly parameters: Parameters;
  readonly form: string;
}
export type DesignedStage = DesignedSection | DesignedNetwork;

/** Part values as topologies take them: with the wipers of pots, the supply and lit cells where they count. */
export function valuesOf(
  { parts, besides }: Pick<Designed, 'parts'> & Partial<Pick<Designed, 'besides'>>,
  which: 'exact' | 'chosen',
): PartValues {
  return {
    ...Object.fromEntries(
      parts.flatMap((part) => [
        [part.spec.name, part[which]],
        ...(part.wiper === undefined ? [] : [[wiperKey(part.spec.name), part.wiper]]),
      ]),
    ),
    ...besides?.[which],
  };
}

/**
 * A circuit as it was designed, with what is on a control where the control stands: the ideal that a turned knob is
 * held against. The same where nothing is.
 */
export function atControls(designed: DesignedNetwork): DesignedNetwork {
  if (!designed.parts.some((p) => p.choice.control)) return designed;
  return {
    ...designed,
    parts: designed.parts.map((p) => (p.choice.control ? { ...p, exact: p.chosen } : p)),
    besides: { ...designed.besides, exact: designed.besides.chosen },
  };
}

/** The value a choice of parts comes to: two in series or parallel combine by kind. */
export function choiceValue(choice: PartChoice, kind: PartKind): number | undefined {
  if (!choice.use) return undefined;
  const { kind: joined, values } = choice.use;
  if (values.length === 1 || joined === 'single') return values[0];
  return together(joined, kind, values[0], values[1]);
}

export function seriesFor(kind: PartKind, preferences: Preferences): SeriesId {
  return kind === 'resistor'
    ? preferences.resistorSeries
    : kind === 'potentiometer'
      ? 'E6'
      : preferences.capacitorSeries;
}

/** Tracks are made to this, per cent. */
const TRACK_TOLERANCE_PCT = 20;
const toleranceFor = (kind: PartKind, preferences: Preferences): number =>
  kind === 'resistor'
    ? preferences.resistorTolerancePct
    : kind === 'potentiometer'
      ? TRACK_TOLERANCE_PCT
      : preferences.capacitorTolerancePct;

/**
 * How a stage is called on the path: High-pass 1, Low-pass 2 … by its place among its like; circuits with questions of
 * their own by their name.
 */
export function stageName(
  way: Way,
  stage: Stage,
  targets: readonly (SectionTarget | null)[] = wayTargets(way).targets,
): string {
  const baseName = (other: Stage, target: SectionTarget | null) =>
    target === null
      ? stageTopology(other, way).shortName
      : target.order === 0
        ? 'Buffer'
        : RESPONSE_NAMES[target.response];
  const at = way.stages.indexOf(stage);
  const own = baseName(stage, targets[at]);
  const alike = way.stages.map((other, i) => baseName(other, targets[i]));
  const number = alike.slice(0, at + 1).filter((name) => name === own).length;
  const counted = targets[at] !== null && targets[at]?.order !== 0;
  return counted || alike.filter((name) => name === own).length > 1 ? `${own} ${number}` : own;
}

/**
 * Exact and chosen values of one stage; `target` is null for circuits with parameters of their own. Fails as its
 * topology's design does, with `stage` added to the data.
 */
export function designStage(
  stage: Stage,
  target: SectionTarget | null,
  bench: Bench,
  controls: readonly Control[] = [],
  plans: readonly Plan[] = [],
): Result<DesignedStage> {
  const topology = stageTopology(stage, { plans });
  const form = target?.response ?? stage.mode;
  const specs = new Map(specsOf(topology, form).map((spec) => [spec.name, spec]));
  const { preferences } = bench;
  const context = contextOf(stage, specs, bench);
  const build = (exact: PartValues) =>
    Object.entries(exact)
      .filter(([name]) => specs.has(name) || name !== CURRENT)
      .map(([name, value]) => designedPart(topology, specs, name, value, stage, preferences, controls));
  const failed = (exact: { code: string; data: object }) => failure(exact.code, { ...exact.data, stage: stage.id });
  const common = { stage, device: findOpAmp(stage.device, preferences.ownOpAmps) };
  if (topology.role === 'network') {
    if (target || !topology.modes.includes(stage.mode))
      return failure('wrong-order', { stage: stage.id, topology: topology.name, order: target?.order ?? 0 });
    const parameters = stage.target.kind === 'network' ? stage.target.parameters : {};
    const exact = topology.design(parameters, form, context);
    if (!exact.ok) return failed(exact);
    const parts = build(exact.value);
    const besides = besidesOf(topology, form, parts, bench);
    const cornersHz =
      topology.cornersHz ??
      parametersOf(topology, form)
        .filter((p) => p.kind === 'frequency')
        .map((p) => parameters[p.name]);
    return success({
      ...common,
      besides,
      role: 'network',
      topology,
      parameters,
      form,
      parts,
      load: topology.load(parameters),
      opAmps: topology.opAmps(form),
      cornersHz,
    });
  }
  if (!target || topology.order !== target.order)
    return failure('wrong-order', { stage: stage.id, topology: topology.name, order: target?.order ?? 0 });
  if (!topology.responses.includes(target.response))
    return failure('wrong-response', { stage: stage.id, topology: topology.name, response: target.response });
  const aim = aimOf(target, stage);
  const range = topology.gainRange(aim);
  const exact = topology.design({ ...aim, gain: Math.min(range.max, Math.max(range.min, target.gain)) }, context);
  if (!exact.ok) return failed(exact);
  const parts = build(exact.value);
  return success({
    ...common,
    besides: { exact: {}, chosen: {} },
    role: 'section',
    topology,
    target,
    aim,
    form: target.response,
    parts,
    load: topology.load,
    opAmps: topology.opAmps(target.response),
    cornersHz: target.order > 0 ? [target.freqHz] : [],
  });
}

const both = (values: PartValues) => ({ exact: values, chosen: values });

/** What a circuit rests on besides its parts. */
function besidesOf(
  { supplied, celled, controlAmps }: NetworkTopology,
  form: string,
  parts: readonly DesignedPart[],
  bench: Bench,
): Designed['besides'] {
  const lamp = celled ? parts.find((p) => p.spec.kind === 'current') : undefined;
  const { values } = photocellValues(bench.preferences.photocell ?? USUAL_PHOTOCELL);
  const of = (which: 'exact' | 'chosen'): PartValues => {
    const supply: PartValues = supplied ? { [SUPPLY]: supplyVolts(bench), [SPAN]: bench.brief.supply.volts } : {};
    const made: PartValues = controlAmps
      ? { [CURRENT]: controlAmps(form, valuesOf({ parts, besides: both(supply) }, which)) }
      : {};
    const amps = lamp?.[which] ?? made[CURRENT];
    return {
      ...supply,
      ...made,
      ...(celled && amps !== undefined ? { [CELL]: cellOhmOf(values, 1000 * amps) } : {}),
    };
  };
  return { exact: of('exact'), chosen: of('chosen') };
}

const aimOf = (target: SectionTarget, { predistortion }: Stage): SectionTarget =>
  predistortion && target.order > 0
    ? {
        ...target,
        freqHz: target.freqHz * predistortion.freq,
        q: target.order === 2 ? target.q * predistortion.q : target.q,
      }
    : target;

/** The form a stage's circuit is used in: the response of a section, the mode of a network. */
export const formOf = (way: Way, stage: Stage): string =>
  wayTargets(way).targets[way.stages.indexOf(stage)]?.response ?? stage.mode;

/** Parts of a circuit in a form: whatever its role, forms are strings to it. */
export const specsOf = (topology: Topology, form: string): readonly PartSpec[] =>
  (topology as { parts(form: string): readonly PartSpec[] }).parts(form);

function contextOf(stage: Stage, specs: ReadonlyMap<string, PartSpec>, { preferences, brief }: Bench): DesignContext {
  const pinned: Record<string, number> = {};
  for (const [name, choice] of Object.entries(stage.parts)) {
    const value = specs.has(name) ? choiceValue(choice, specs.get(name)!.kind) : undefined;
    if (choice.pinned && value !== undefined) pinned[name] = value;
  }
  return new DesignContext({
    chooseFirst: preferences.chooseFirst,
    supplyVolts: supplyVolts({ brief }),
    spanVolts: brief.supply.volts,
    photocell: preferences.photocell,
    pinned,
    pick: (kind, wanted, side) => pick(wanted, seriesFor(kind, preferences), side),
  });
}

function designedPart(
  topology: Topology,
  specs: ReadonlyMap<string, PartSpec>,
  name: string,
  exact: number,
  stage: Stage,
  preferences: Preferences,
  controls: readonly Control[],
): DesignedPart {
  const spec = specs.get(name);
  if (!spec) throw new Error(`${topology.id} designs ${name} but does not declare it`);
  const choice = stage.parts[name] ?? {};
  const typed = choiceValue(choice, spec.kind);
  const taken = typed ?? (spec.given ? exact : nearestPreferred(exact, seriesFor(spec.kind, preferences)));
  const held = choice.control;
  const grade = gradeById(
    choice.grade ??
      (spec.kind === 'potentiometer' || spec.kind === 'current' || spec.kind === 'voltage'
        ? undefined
        : preferences.grades?.[spec.kind]),
  );
  return {
    spec,
    exact,
    choice,
    typed: typed !== undefined,
    tolerancePct: choice.tolerancePct ?? toleranceFor(spec.kind, preferences),
    grade,
    lossOhm: lossOhm(spec.kind, taken, grade),
    chosen:
      spec.kind === 'current'
        ? held?.kind === 'exponential'
          ? controlledAmps(held, exact, controls)
          : taken
        : spec.kind === 'voltage'
          ? jackVolts(held, controls)
          : held && (held.kind === 'rheostat' || held.kind === 'switch') && spec.kind === 'resistor'
            ? controlledOhm(held, controls)
            : taken,
    ...(spec.kind === 'potentiometer' ? { wiper: wiperShare(held, taken, controls) } : {}),
  };
}

function pick(wanted: number, series: SeriesId, side: Side): number {
  if (side === 'nearest') return nearestPreferred(wanted, series);
  const { below, above } = neighbours(wanted, series);
  return side === 'up' ? above : below;
}

/** All stages of a way, in order; the first failure stops it. */
export function designWay(
  way: Way,
  bench: Bench,
  controls: readonly Control[],
): Result<{ stages: DesignedStage[]; shortfall: number }> {
  const { targets, shortfall } = wayTargets(way);
  const stages: DesignedStage[] = [];
  for (let i = 0; i < way.stages.length; i++) {
    const designed = designStage(way.stages[i], targets[i], bench, controls, way.plans);
    if (!designed.ok) return designed;
    stages.push(designed.value);
  }
  return success({ stages, shortfall });
}

/** Parts of a stage that a pot or a switch stands in for. */
export const turnedParts = ({ parts }: Pick<Stage, 'parts'>): ReadonlySet<string> =>
  new Set(
    Object.entries(parts).flatMap(([name, { control }]) =>
      control && control.kind !== 'wiper' && control.kind !== 'voltage' ? [name] : [],
    ),
  );
