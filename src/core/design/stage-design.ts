import { opAmpById, type OpAmp } from '../device/op-amps';
import type { SectionTarget } from '../filter/section';
import { nearestPreferred, neighbours, type SeriesId } from '../parts/preferred';
import { failure, success, type Result } from '../result';
import type { PartSpec, Topology } from '../topology/define-topology';
import type { PartKind, PartValues } from '../topology/part';
import { DesignContext, type Side } from '../topology/design-context';
import { topologyById } from '../topology/index';
import type { PartChoice, Preferences, Stage, Way } from './schema';
import { wayTargets } from './targets';

/** One part of a stage: what would be exact, and what is taken. Ohm, farad or henry. */
export interface DesignedPart {
  readonly spec: PartSpec;
  readonly exact: number;
  readonly chosen: number;
  readonly choice: PartChoice;
  /** The maker typed the value, rather than the series giving it. */
  readonly typed: boolean;
  readonly tolerancePct: number;
}

export interface DesignedStage {
  readonly stage: Stage;
  readonly topology: Topology;
  readonly target: SectionTarget;
  readonly device: OpAmp | null;
  readonly parts: readonly DesignedPart[];
}

export const valuesOf = (designed: DesignedStage, which: 'exact' | 'chosen'): PartValues =>
  Object.fromEntries(designed.parts.map((part) => [part.spec.name, part[which]]));

/** The value a choice of parts comes to: two in series or parallel combine by kind. */
export function choiceValue(choice: PartChoice, kind: PartKind): number | undefined {
  if (!choice.use) return undefined;
  const { kind: joined, values } = choice.use;
  if (values.length === 1 || joined === 'single') return values[0];
  const adds = (joined === 'series') === (kind !== 'capacitor');
  return adds ? values[0] + values[1] : 1 / (1 / values[0] + 1 / values[1]);
}

export function seriesFor(kind: PartKind, preferences: Preferences): SeriesId {
  return kind === 'resistor' ? preferences.resistorSeries : preferences.capacitorSeries;
}

export const toleranceFor = (kind: PartKind, preferences: Preferences): number =>
  kind === 'resistor' ? preferences.resistorTolerancePct : preferences.capacitorTolerancePct;

/** How a stage is called on the path: High-pass 1, Low-pass 2 … by its place among its like. */
export function stageName(way: Way, stage: Stage, targets: readonly SectionTarget[] = wayTargets(way).targets): string {
  const at = way.stages.indexOf(stage);
  const same = targets.slice(0, at + 1).filter((t) => t.response === targets[at].response).length;
  return `${targets[at].response === 'lowpass' ? 'Low-pass' : 'High-pass'} ${same}`;
}

/** Exact and chosen values of one stage. Fails as its topology's design does, with `stage` added to the data. */
export function designStage(stage: Stage, target: SectionTarget, preferences: Preferences): Result<DesignedStage> {
  const topology = topologyById(stage.topology);
  if (topology.order !== target.order) return failure('wrong-order', { stage: stage.id, topology: topology.name, order: target.order });
  const range = topology.gainRange(target);
  const gain = Math.min(range.max, Math.max(range.min, target.gain));
  const specs = new Map(topology.parts(target.response).map((spec) => [spec.name, spec]));
  const pinned: Record<string, number> = {};
  for (const [name, choice] of Object.entries(stage.parts)) {
    const value = specs.has(name) ? choiceValue(choice, specs.get(name)!.kind) : undefined;
    if (choice.pinned && value !== undefined) pinned[name] = value;
  }
  const context = new DesignContext({
    chooseFirst: preferences.chooseFirst,
    pinned,
    pick: (kind, wanted, side) => pick(wanted, seriesFor(kind, preferences), side),
  });
  const exact = topology.design({ ...target, gain }, context);
  if (!exact.ok) return failure(exact.code, { ...exact.data, stage: stage.id });
  const parts = Object.entries(exact.value).map(([name, value]): DesignedPart => {
    const spec = specs.get(name);
    if (!spec) throw new Error(`${topology.id} designs ${name} but does not declare it`);
    const choice = stage.parts[name] ?? {};
    const typed = choiceValue(choice, spec.kind);
    return {
      spec, exact: value, choice, typed: typed !== undefined, chosen: typed ?? nearestPreferred(value, seriesFor(spec.kind, preferences)),
      tolerancePct: choice.tolerancePct ?? toleranceFor(spec.kind, preferences),
    };
  });
  return success({ stage, topology, target, device: opAmpById(stage.device), parts });
}

function pick(wanted: number, series: SeriesId, side: Side): number {
  if (side === 'nearest') return nearestPreferred(wanted, series);
  const { below, above } = neighbours(wanted, series);
  return side === 'up' ? above : below;
}

/** All stages of a way, in order; the first failure stops it. */
export function designWay(way: Way, preferences: Preferences): Result<{ stages: DesignedStage[]; shortfall: number }> {
  const { targets, shortfall } = wayTargets(way);
  const stages: DesignedStage[] = [];
  for (let i = 0; i < way.stages.length; i++) {
    const designed = designStage(way.stages[i], targets[i], preferences);
    if (!designed.ok) return designed;
    stages.push(designed.value);
  }
  return success({ stages, shortfall });
}
