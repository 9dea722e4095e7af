import type { Stage, Variant, Way } from '../document/schema';
import type { MakeId } from './create';

type Fresh = (old: string) => string;

/** A copy with ids of its own throughout, so that two can live in one design or on one shelf. */
export function copyVariant(variant: Variant, id: string, name: string, label: string, makeId: MakeId): Variant {
  const names = new Map<string, string>();
  const fresh: Fresh = (old) => names.get(old) ?? names.set(old, makeId()).get(old)!;
  const { currentWay, played, couplings, batches } = variant;
  return {
    ...variant,
    id,
    name,
    label,
    ...(currentWay === undefined ? {} : { currentWay: fresh(currentWay) }),
    controls: variant.controls.map((control) => ({ ...control, id: fresh(control.id) })),
    ...(played && {
      played: { ...played, moves: played.moves.map((move) => ({ ...move, controlId: fresh(move.controlId) })) },
    }),
    ...(couplings && {
      couplings: couplings.map((c) => ({
        ...c,
        id: fresh(c.id),
        first: { ...c.first, stage: fresh(c.first.stage) },
        second: { ...c.second, stage: fresh(c.second.stage) },
      })),
    }),
    ...(batches && {
      batches: batches.map((batch) => ({
        ...batch,
        id: fresh(batch.id),
        parts: batch.parts.map((p) => ({ ...p, stage: fresh(p.stage) })),
      })),
    }),
    ways: variant.ways.map((way) => copiedWay(way, fresh)),
  };
}

const copiedWay = (way: Way, fresh: Fresh): Way => ({
  ...way,
  id: fresh(way.id),
  from: way.from.kind === 'source' ? way.from : { ...way.from, way: fresh(way.from.way), stage: fresh(way.from.stage) },
  plans: way.plans.map((plan) => ({ ...plan, id: fresh(plan.id) })),
  ...(way.aim && { aim: { ...way.aim, id: fresh(way.aim.id) } }),
  stages: way.stages.map((stage) => ({
    ...stage,
    id: fresh(stage.id),
    target: copiedTarget(stage.target, fresh),
    parts: Object.fromEntries(
      Object.entries(stage.parts).map(([part, choice]) => [
        part,
        choice.control ? { ...choice, control: { ...choice.control, control: fresh(choice.control.control) } } : choice,
      ]),
    ),
  })),
});

function copiedTarget(target: Stage['target'], fresh: Fresh): Stage['target'] {
  if (target.kind === 'section' || target.kind === 'plan') return { ...target, plan: fresh(target.plan) };
  return target.kind === 'own' && target.of ? { ...target, of: { ...target.of, plan: fresh(target.of.plan) } } : target;
}
