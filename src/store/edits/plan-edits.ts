import { alignmentById } from '@/core/filter/alignments/index';
import { custom as ownSections, orderOfSections } from '@/core/filter/alignments/custom';
import { ordersIn } from '@/core/filter/plan-sections';
import type { Plan, Way } from '@/core/design/document/schema';
import {
  arrangeStages,
  asLadder,
  createPlan,
  isPassive,
  placeOf,
  topologyFor,
  usualTopologies,
} from '@/core/design/making/create';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { wayTargets } from '@/core/design/stages/targets';
import { topologyById } from '@/core/topology/index';
import { newId } from '../new-id';
import { currentWayOf, dropPlan, type Edit } from './edits';

/** Stages that are the right ones already are left alone, so that nothing that shows them has to look again. */
function rearrange(way: Way): void {
  const { stages } = arrangeStages(way, newId);
  if (stages.length !== way.stages.length || stages.some((stage, i) => stage !== way.stages[i])) way.stages = stages;
}

/**
 * Changes a plan. A new alignment brings its own idea of the cutoff and the nearest order it has; a new response
 * forgets part choices that no longer fit.
 */
export const changePlan =
  (planId: string, patch: Partial<Omit<Plan, 'id'>>): Edit =>
  (draft) => {
    const way = currentWayOf(draft);
    const plan = way.plans.find((p) => p.id === planId);
    if (!plan) return;
    const before = { response: plan.response, order: plan.order, alignment: plan.alignment };
    Object.assign(plan, patch);
    const alignment = alignmentById(plan.alignment);
    if (patch.alignment && patch.alignment !== before.alignment) plan.cutoffAt = alignment.defaultCutoffAt;
    if (plan.alignment === ownSections.id)
      plan.custom =
        plan.custom && orderOfSections(plan.custom) === plan.order
          ? plan.custom
          : ownSections.prototype(plan.order, { ...plan, custom: undefined }).map((section) => ({ ...section }));
    const orders = ordersIn(plan.response, alignment);
    if (!orders.includes(plan.order))
      plan.order = [...orders].sort((a, b) => Math.abs(a - plan.order) - Math.abs(b - plan.order) || b - a)[0];
    if (plan.order !== before.order)
      way.stages = way.stages.filter(
        (s) => placeOf(s)?.plan !== planId || (placeOf(s)?.section ?? 0) < Math.ceil(plan.order / 2),
      );
    // A ladder is made anew for another order or response: its parts are others.
    if (plan.topologies.whole && (plan.order !== before.order || plan.response !== before.response))
      for (const stage of way.stages) if (placeOf(stage)?.plan === planId) stage.parts = {};
    if (!plan.topologies.whole && plan.order % 2 !== before.order % 2)
      way.stages = way.stages.filter((s) => placeOf(s)?.plan !== planId);
    if (plan.response !== before.response) {
      const usual = usualTopologies(plan.response);
      const { whole, first, second } = plan.topologies;
      plan.topologies = {
        ...(serves(second, plan.response) ? plan.topologies : usual),
        first: serves(first, plan.response) ? first : usual.first,
        // Between amplifier and driver it stays a ladder, whatever it passes.
        ...(whole ? { whole } : {}),
      };
    }
    rearrange(way);
    refit(way, planId, plan.response !== before.response);
  };

const serves = (id: string, response: Plan['response']): boolean => {
  const topology = topologyById(id);
  return (
    topology.role === 'section' &&
    (topology.responses as readonly string[]).includes(response === 'bandstop' ? 'notch' : response)
  );
};

/**
 * Stages of a plan whose circuit cannot do what their section has become get one that can, and forget part choices that
 * no longer fit.
 */
function refit(way: Way, planId: string, forget: boolean): void {
  const plan = way.plans.find((p) => p.id === planId);
  const { targets } = wayTargets(way);
  way.stages.forEach((stage, i) => {
    const target = targets[i];
    if (!plan || !target || placeOf(stage)?.plan !== planId) return;
    if (forget) stage.parts = {};
    const topology = stageTopology(stage, way);
    if (
      stage.target.kind !== 'section' ||
      (topology.role === 'section' && topology.order === target.order && topology.responses.includes(target.response))
    )
      return;
    Object.assign(stage, { topology: topologyFor(plan, target), parts: {} });
  });
}

/** Sections of the maker's own: the order follows from them. */
export const setCustom = (planId: string, sections: NonNullable<Plan['custom']>): Edit =>
  changePlan(planId, { custom: sections, order: Math.max(1, orderOfSections(sections)) });

export const addPlan =
  (response: Plan['response'], cutoffHz: number): Edit =>
  (draft) => {
    const way = currentWayOf(draft);
    const made = createPlan(newId(), response, 'butterworth', 2, cutoffHz);
    const plan = isPassive(way) ? asLadder(made) : made;
    if (response === 'highpass') way.plans.unshift(plan);
    else way.plans.push(plan);
    rearrange(way);
  };

export const removePlan =
  (planId: string): Edit =>
  (draft) =>
    dropPlan(currentWayOf(draft), planId);

/** Takes a plan in place of those there are; stages added by hand stay. */
export const takePlan =
  (plan: Plan): Edit =>
  (draft) => {
    const way = currentWayOf(draft);
    way.stages = way.stages.filter((s) => placeOf(s) === null);
    way.plans = [{ ...plan, id: newId() }];
    rearrange(way);
  };
