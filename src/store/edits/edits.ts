import { withUsualChain } from '@/core/design/making/control-chain';
import { createNetwork, DEFAULT_DEVICE, placeOf } from '@/core/design/making/create';
import { numberStages } from '@/core/design/stages/designators';
import type { FilterResponse } from '@/core/filter/section';
import type { Coupling, Design, Nuisance, Stage, Variant, Way } from '@/core/design/document/schema';
import { wayTargets } from '@/core/design/stages/targets';
import { topologyById } from '@/core/topology/index';
import { currentVariantIn, currentWayIn } from '@/core/design/document/current-way';
import { keptParts } from '@/core/design/stages/kept-parts';
import { formOf } from '@/core/design/stages/stage-design';
import { withTopology } from '@/core/design/making/with-topology';
import { decibels } from '@/core/units/quantity';
import { newId } from '../new-id';

/**
 * A change of the open design, written on a draft. Every edit the desk can make is one of these, so each can be undone,
 * tested and reached by key.
 */
export type Edit = (draft: Design) => void;

export const currentVariantOf = currentVariantIn;
/** The way that is being worked on. */
export const currentWayOf = (design: Design): Way => currentWayIn(currentVariantOf(design));
const wayOf = currentWayOf;
/** A way by its id, or the one that is being worked on. */
export const wayOr = (design: Design, wayId: string | undefined): Way =>
  currentVariantOf(design).ways.find((w) => w.id === wayId) ?? currentWayOf(design);

/** A stage of the way that is being worked on. */
export function stageOf(draft: Design, stageId: string): Stage | undefined {
  return wayOf(draft).stages.find((s) => s.id === stageId);
}

export const selectWay =
  (wayId: string): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    if (variant.ways.some((w) => w.id === wayId)) variant.currentWay = wayId;
  };

/** Puts a stage at another place on the path; the order is then the maker's own. */
export const moveStage =
  (from: number, to: number): Edit =>
  (draft) => {
    const way = wayOf(draft);
    if (from === to || !way.stages[from] || to < 0 || to >= way.stages.length) return;
    const [stage] = way.stages.splice(from, 1);
    way.stages.splice(to, 0, stage);
    for (const plan of way.plans) plan.stageOrder = 'free';
  };

export const toggleBypass =
  (stageId: string): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    if (stage) stage.bypassed = !stage.bypassed;
  };

/** Gives a stage a target of its own, starting from the one it had. */
export const retune =
  (stageId: string, patch: { freqHz?: number; q?: number; gainDb?: number; zeroHz?: number }): Edit =>
  (draft) => {
    const way = wayOf(draft);
    const at = way.stages.findIndex((s) => s.id === stageId);
    if (at < 0) return;
    const stage = way.stages[at];
    const target = wayTargets(way).targets[at];
    if (!target) return;
    if (stage.target.kind === 'section') {
      const { response, order, freqHz, q, gain, zeroHz } = target;
      stage.target = {
        kind: 'own',
        of: { plan: stage.target.plan, section: stage.target.section },
        response,
        order,
        freqHz,
        q,
        gainDb: decibels(gain),
        ...(zeroHz === undefined ? {} : { zeroHz }),
      };
    }
    Object.assign(stage.target, patch);
  };

/** Takes a retuned stage back to its section of the plan. */
export const followPlan =
  (stageId: string): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    if (stage?.target.kind === 'own' && stage.target.of) stage.target = { kind: 'section', ...stage.target.of };
  };

/** Another circuit for a stage. A circuit with parameters of its own keeps what both ask for by the same name. */
export const setTopology =
  (stageId: string, id: string): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const topology = topologyById(id);
    if (!stage || stage.topology === id) return;
    if (topology.role === 'section')
      Object.assign(stage, {
        topology: id,
        parts: keptParts(stage, formOf(wayOf(draft), stage), id, formOf(wayOf(draft), stage)),
      });
    else if (stage.target.kind === 'network') {
      const { parameters } = stage.target;
      const kept = Object.fromEntries(
        topology.parameters.flatMap(({ name, min, max }) =>
          parameters[name] >= min && parameters[name] <= max ? [[name, parameters[name]]] : [],
        ),
      );
      const bare = createNetwork(topology, newId, { parameters: kept });
      // What had a chain keeps having one.
      const made = stage.controlledBy ? withUsualChain(bare, draft, newId) : bare;
      delete stage.controlledBy;
      Object.assign(stage, {
        ...(made.stage.controlledBy ? { controlledBy: made.stage.controlledBy } : {}),
        topology: id,
        parts: { ...keptParts(stage, stage.mode, id, made.stage.mode), ...made.stage.parts },
        mode: made.stage.mode,
        target: made.stage.target,
      });
      currentVariantOf(draft).controls.push(...made.controls);
    }
    forgetControls(draft);
  };

/** Controls that turn nothing any more go. */
export function forgetControls(draft: Design): void {
  const variant = currentVariantOf(draft);
  const used = new Set(
    variant.ways.flatMap((way) =>
      way.stages.flatMap((s) => Object.values(s.parts).flatMap(({ control }) => (control ? [control.control] : []))),
    ),
  );
  if (variant.controls.some((c) => !used.has(c.id))) variant.controls = variant.controls.filter((c) => used.has(c.id));
}

export const addNuisance =
  (nuisance: Omit<Nuisance, 'id'>): Edit =>
  (draft) => {
    draft.brief.nuisances.push({ id: newId(), ...nuisance });
  };
export const changeNuisance =
  (id: string, patch: Partial<Omit<Nuisance, 'id'>>): Edit =>
  (draft) => {
    Object.assign(draft.brief.nuisances.find((n) => n.id === id) ?? {}, patch);
  };
export const removeNuisance =
  (id: string): Edit =>
  (draft) => {
    draft.brief.nuisances = draft.brief.nuisances.filter((n) => n.id !== id);
  };

/** Builds every planned stage that a circuit can serve with it, now and when stages are added. */
export const setAllTopologies =
  (topology: string): Edit =>
  (draft) => {
    const variant = currentVariantOf(draft);
    Object.assign(variant, withTopology(JSON.parse(JSON.stringify(variant)) as Variant, topology));
  };

/** Aims a stage's parts so that the real op-amp brings it where it belongs; null takes that back. */
export const predistort =
  (stageId: string, factors: { freq: number; q: number } | null): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    if (!stage) return;
    if (factors) stage.predistortion = factors;
    else delete stage.predistortion;
  };

/** Puts the stages of the path in an order of one’s own. */
export const orderStages =
  (ids: readonly string[]): Edit =>
  (draft) => {
    const way = wayOf(draft);
    way.stages = ids
      .flatMap((id) => way.stages.filter((s) => s.id === id))
      .concat(way.stages.filter((s) => !ids.includes(s.id)));
    for (const plan of way.plans) plan.stageOrder = 'free';
  };

/**
 * After every edit: stages that are new have their numbers, and those that are gone are in no batch and no pair of
 * coils.
 */
export function tidy(draft: Design): void {
  const variant = currentVariantOf(draft);
  numberStages(variant);
  const there = new Set(variant.ways.flatMap((way) => way.stages.map((s) => s.id)));
  const stands = ({ first, second }: Coupling) => there.has(first.stage) && there.has(second.stage);
  if (variant.couplings?.some((c) => !stands(c))) variant.couplings = variant.couplings.filter(stands);
  if (!variant.batches) return;
  if (variant.batches.every((b) => b.parts.every((p) => there.has(p.stage)))) return;
  variant.batches = variant.batches
    .map((b) => ({ ...b, parts: b.parts.filter((p) => there.has(p.stage)) }))
    .filter((b) => b.parts.length > 0);
}

/** An op-amp that drives what follows, and changes nothing. */
export const bufferStage = (): Stage =>
  ownStage('buffer', { kind: 'own', of: null, response: 'lowpass', order: 0, freqHz: 1000, q: 0.5, gainDb: 0 });

export const insertBuffer =
  (joint: number): Edit =>
  (draft) => {
    wayOf(draft).stages.splice(joint, 0, bufferStage());
  };

/** Adds a stage of its own at the end: a section at a frequency. */
export const addStage =
  (response: FilterResponse, freqHz: number, topologyId = 'sallen-key-unity-gain'): Edit =>
  (draft) => {
    const topology = topologyById(topologyId);
    if (topology.role !== 'section') return;
    wayOf(draft).stages.push(
      ownStage(topologyId, {
        kind: 'own',
        of: null,
        response,
        order: topology.order,
        freqHz,
        q: Math.SQRT1_2,
        gainDb: 0,
      }),
    );
  };

/** A stage that stands on no plan. */
export const ownStage = (topology: string, target: Stage['target']): Stage => ({
  id: newId(),
  topology,
  target,
  parts: {},
  device: DEFAULT_DEVICE,
  output: 'out',
  mode: 'normal',
  bypassed: false,
});

export const duplicateStage =
  (stageId: string): Edit =>
  (draft) => {
    const way = wayOf(draft);
    const at = way.stages.findIndex((s) => s.id === stageId);
    if (at < 0) return;
    const target = wayTargets(way).targets[at];
    const copy: Stage = { ...JSON.parse(JSON.stringify(way.stages[at])), id: newId() };
    if (target)
      copy.target = {
        kind: 'own',
        of: null,
        response: target.response,
        order: target.order,
        freqHz: target.freqHz,
        q: target.q,
        gainDb: decibels(target.gain),
        ...(target.zeroHz === undefined ? {} : { zeroHz: target.zeroHz }),
      };
    way.stages.splice(at + 1, 0, copy);
  };

/** Takes a plan and its stages out of a way. */
export function dropPlan(way: Way, planId: string): void {
  way.plans = way.plans.filter((p) => p.id !== planId);
  way.stages = way.stages.filter((s) => placeOf(s)?.plan !== planId);
}

/** Removes a stage; a section of a plan goes with its plan, since what is left of one would be another filter. */
export const removeStage =
  (stageId: string): Edit =>
  (draft) => {
    const way = wayOf(draft);
    const stage = way.stages.find((s) => s.id === stageId);
    const place = stage && placeOf(stage);
    if (place) dropPlan(way, place.plan);
    else way.stages = way.stages.filter((s) => s.id !== stageId);
    forgetControls(draft);
  };

export const setOutputResistor =
  (ohm: number | null): Edit =>
  (draft) => {
    const way = wayOf(draft);
    way.outputResistor = ohm === null ? null : { ...way.outputResistor, ohm };
  };
