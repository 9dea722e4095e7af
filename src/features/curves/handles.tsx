'use client';

import { PLAN_NAMES } from '@/core/filter/response-names';
import { usePlot } from '@/ui/chart/chart-frame';
import { edit, useDesign } from '@/store/document';
import { changePlan, currentWayOf } from '@/store/edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { isBand } from '@/core/filter/plan-sections';
import { formatQuantity } from '@/core/units/quantity';
import { FrequencyHandle } from './frequency-handle';

/** Cutoffs are on the curve, and can be taken by the hand or moved with the arrow keys. */
export function CutoffHandles() {
  const plans = useDesign((d) => currentWayOf(d).plans);
  const handles = useAnswer(DESK, (d) => d.handles);
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
