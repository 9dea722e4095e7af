import { alignmentById } from '../../filter/alignments/index';
import { gainOfSections, planSections, type SectionsRequest } from '../../filter/plan-sections';
import type { SectionTarget } from '../../filter/section';
import type { GainRange } from '../../topology/kit/define-topology';
import { topologyById } from '../../topology/index';
import { fromDecibels } from '../../units/quantity';
import type { Plan, Stage, Way } from '../document/schema';

/** The sections of a plan, unity gain each, lowest Q first. */
export function sectionsOf(plan: Plan): SectionTarget[] {
  return planSections(requestOf(plan));
}

const requestOf = (plan: Plan): SectionsRequest => ({ ...plan, alignment: alignmentById(plan.alignment) });

/**
 * What the flat-part gains of a plan's sections are to multiply to, as a ratio, so that its pass band peaks at the gain
 * asked for.
 */
export function flatGainOf(plan: Plan): number {
  return fromDecibels(plan.gainDb) * gainOfSections(requestOf(plan));
}

export interface WayTargets {
  /** One per stage, in the way's order; null for circuits with parameters of their own. */
  readonly targets: readonly (SectionTarget | null)[];
  /** Gain (ratio) asked for and not to be had from these circuits; 1 when all is well. */
  readonly shortfall: number;
}

/**
 * What each stage has to do. A plan's gain is spread over its stages: each first gives what it gives of itself; what is
 * missing goes to the earliest stage that can give it (early gain is quiet gain), what is too much is taken at the
 * stage with the most, by its input divider.
 */
export function wayTargets(way: Way): WayTargets {
  const bare = way.stages.map((stage) => bareTarget(way, stage));
  let shortfall = 1;
  for (const plan of way.plans) {
    const members = way.stages
      .map((stage, i) => ({ stage, i }))
      .filter(({ stage }) => stage.target.kind === 'section' && stage.target.plan === plan.id);
    if (members.length === 0) continue;
    const ranges = members.map(({ stage, i }) => gainRangeOf(stage, bare[i] as SectionTarget));
    const gains = startingGains(plan, ranges);
    let missing = flatGainOf(plan) / gains.reduce((product, g) => product * g, 1);
    const order = members.map((_, k) => k);
    if (missing < 1) order.sort((a, b) => gains[b] - gains[a]);
    for (const k of order) {
      if (Math.abs(missing - 1) < 1e-12) break;
      const next = Math.min(ranges[k].max, Math.max(ranges[k].min, gains[k] * missing));
      missing *= gains[k] / next;
      gains[k] = next;
    }
    shortfall *= Math.abs(missing - 1) < 1e-9 ? 1 : missing;
    members.forEach(({ i }, k) => (bare[i] = { ...(bare[i] as SectionTarget), gain: gains[k] }));
  }
  return { targets: bare, shortfall };
}

/**
 * Each gives what it gives of itself; sections of a band-pass, which lose on one another, share alike what there is to
 * make up.
 */
function startingGains(plan: Plan, ranges: readonly GainRange[]): number[] {
  if (plan.response !== 'bandpass') return ranges.map((range) => range.natural);
  const each = flatGainOf(plan) ** (1 / ranges.length);
  return ranges.map((range) => Math.min(range.max, Math.max(range.min, each)));
}

function gainRangeOf({ topology: id }: Stage, target: SectionTarget): GainRange {
  const topology = topologyById(id);
  return topology.role === 'section' ? topology.gainRange(target) : { min: 1, natural: 1, max: 1 };
}

function bareTarget(way: Way, { target }: Stage): SectionTarget | null {
  if (target.kind !== 'own' && target.kind !== 'section') return null;
  if (target.kind === 'own')
    return {
      response: target.response,
      order: target.order,
      freqHz: target.freqHz,
      q: target.q,
      gain: fromDecibels(target.gainDb),
      ...(target.zeroHz === undefined ? {} : { zeroHz: target.zeroHz }),
    };
  const plan = way.plans.find((p) => p.id === target.plan);
  const section = plan && sectionsOf(plan)[target.section];
  if (!section) throw new Error(`stage names section ${target.section} of plan ${target.plan}, which is not there`);
  return section;
}

/**
 * The ideal that a way's sections are judged by: its plans' sections with the gain asked for, and the targets of stages
 * retuned to their own; nothing of what is bypassed. Networks come on top.
 */
export function idealTargets(way: Way): SectionTarget[] {
  const retuned = way.stages.flatMap((stage) =>
    stage.target.kind === 'own' && !stage.bypassed ? [bareTarget(way, stage) as SectionTarget] : [],
  );
  const planned = way.plans.flatMap((plan) => {
    const standing = new Set(
      way.stages.flatMap((s) =>
        s.target.kind === 'section' && s.target.plan === plan.id && !s.bypassed ? [s.target.section] : [],
      ),
    );
    // A section that was retuned stands in the list of the retuned; the plan's gain is left with the rest.
    return sectionsOf(plan)
      .filter((_, i) => standing.has(i))
      .map((section, i) => (i === 0 ? { ...section, gain: flatGainOf(plan) } : section));
  });
  return [...planned, ...retuned];
}

/** Plans of which any stage stands on the path and counts. */
export const plansStanding = ({ plans, stages }: Way): Plan[] =>
  plans.filter((plan) =>
    stages.some(
      ({ target, bypassed }) =>
        !bypassed && (target.kind === 'section' || target.kind === 'plan') && target.plan === plan.id,
    ),
  );
