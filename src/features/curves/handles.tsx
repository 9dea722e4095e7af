'use client';

import { PLAN_NAMES } from '@/core/filter/response-names';
import { usePlot } from '@/ui/chart/chart-frame';
import { edit, useLiveDesign } from '@/store/document';
import { currentWayOf, retune } from '@/store/edits/edits';
import { changePlan } from '@/store/edits/plan-edits';
import { setParameter } from '@/store/edits/network-edits';
import { levelAt } from '@/core/analysis/curves/marks';
import type { Stage, Way } from '@/core/design/document/schema';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { parametersOf } from '@/core/topology/kit/define-topology';
import { DESK } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { isBand } from '@/core/filter/plan-sections';
import { formatQuantity } from '@/core/units/quantity';
import { FrequencyHandle } from './frequency-handle';

/** Cutoffs are on the curve, and can be taken by the hand or moved with the arrow keys. */
export function CutoffHandles() {
  const plans = useLiveDesign((d) => currentWayOf(d).plans);
  const handles = useLiveAnswer(DESK, (d) => d.handles);
  const plot = usePlot();
  if (!plot) return null;
  return plans.map(({ id, response, cutoffHz }) => {
    const levelDb = handles?.find((h) => h.planId === id)?.levelDb;
    if (levelDb === undefined || !Number.isFinite(levelDb)) return null;
    return (
      <FrequencyHandle
        key={id}
        at={[plot.x(cutoffHz), plot.y(levelDb)]}
        testId={`handle-${response}`}
        name={`${PLAN_NAMES[response]} ${isBand(response) ? 'centre' : 'cutoff'}`}
        freqHz={cutoffHz}
        words={formatQuantity(cutoffHz, 'frequency')}
        onDrag={(wanted) => edit(changePlan(id, { cutoffHz: wanted }))}
        onStep={(factor) => edit(changePlan(id, { cutoffHz: Number((cutoffHz * factor).toPrecision(4)) }))}
      />
    );
  });
}

/** Of a stage that has no plan: the frequencies it is tuned by. */
function ownFrequencies(stage: Stage, way: Way): readonly OwnFrequency[] {
  const { target } = stage;
  if (stage.bypassed) return [];
  const topology = stageTopology(stage, way);
  if (target.kind === 'own' && target.order > 0)
    return [
      {
        name: `${topology.shortName}, tuning`,
        freqHz: target.freqHz,
        range: [0, Infinity],
        tune: (freqHz) => edit(retune(stage.id, { freqHz })),
      },
    ];
  if (target.kind !== 'network' || topology.role !== 'network') return [];
  return parametersOf(topology, stage.mode)
    .filter((p) => p.kind === 'frequency')
    .map((p) => ({
      name: `${topology.shortName}, ${p.label}`,
      freqHz: target.parameters[p.name],
      range: [p.min, p.max],
      tune: (freqHz) => edit(setParameter(stage.id, p.name, freqHz)),
    }));
}

interface OwnFrequency {
  readonly name: string;
  readonly freqHz: number;
  readonly range: readonly [number, number];
  readonly tune: (freqHz: number) => void;
}

/** Circuits without a plan, a ladder or a wah, are taken by the frequencies that they are asked for. */
export function StageHandles() {
  const way = useLiveDesign(currentWayOf);
  const built = useLiveAnswer(DESK, (d) => d.asBuilt.levelDb);
  const freqHz = useLiveAnswer(DESK, (d) => d.freqHz);
  const plot = usePlot();
  if (!plot || !built || !freqHz) return null;
  return way.stages.flatMap((stage) =>
    ownFrequencies(stage, way).map(({ name, freqHz: at, range: [least, most], tune }) => {
      const levelDb = levelAt(freqHz, built, at);
      if (!Number.isFinite(levelDb)) return null;
      const within = (wanted: number) => tune(Number(Math.min(most, Math.max(least, wanted)).toPrecision(4)));
      return (
        <FrequencyHandle
          key={`${stage.id} ${name}`}
          at={[plot.x(at), plot.y(levelDb)]}
          testId="handle-stage"
          name={name}
          freqHz={at}
          words={formatQuantity(at, 'frequency')}
          onDrag={within}
          onStep={(factor) => within(at * factor)}
        />
      );
    }),
  );
}
