'use client';

import { useXAxisInverseScale } from 'recharts';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { PLAN_WORDS } from '@/ui/words';
import { usePlot } from '@/ui/chart/chart-frame';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { changePlan, currentWayOf } from '@/store/edits';
import { useResults } from '@/store/results';
import { setView } from '@/store/view';
import { isBand } from '@/core/filter/plan-sections';
import { formatQuantity } from '@/core/units/quantity';

/** Cutoffs are on the curve, and can be taken by the hand or moved with the arrow keys. */
export function CutoffHandles() {
  const plans = useDesign((d) => currentWayOf(d).plans);
  const handles = useResults((s) => s.desk?.handles);
  const plot = usePlot();
  const inverse = useXAxisInverseScale();
  /** Where the chart begins on the page: asked once a drag, since asking makes the browser lay the page out. */
  const chartLeft = useRef(0);
  if (!plot || !inverse) return null;
  return plans.map((plan) => {
    const levelDb = handles?.find((h) => h.planId === plan.id)?.levelDb;
    if (levelDb === undefined || !Number.isFinite(levelDb)) return null;
    const move = (event: PointerEvent<SVGGElement>) => {
      if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
      const wanted = Number(inverse(event.clientX - chartLeft.current));
      if (wanted > 0) edit(changePlan(plan.id, { cutoffHz: Number(wanted.toPrecision(4)) }));
    };
    const drop = (event: PointerEvent<SVGGElement>) => {
      if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
      event.currentTarget.releasePointerCapture(event.pointerId);
      endGesture();
      setView({ dragging: false });
    };
    const onKey = (event: KeyboardEvent) => {
      const way = event.key === 'ArrowRight' || event.key === 'ArrowUp' ? 1 : event.key === 'ArrowLeft' || event.key === 'ArrowDown' ? -1 : 0;
      if (way === 0) return;
      event.preventDefault();
      event.stopPropagation();
      edit(changePlan(plan.id, { cutoffHz: Number((plan.cutoffHz * 1.01 ** (way * (event.shiftKey ? 10 : 1))).toPrecision(4)) }));
    };
    const name = PLAN_WORDS[plan.response];
    return (
      <g
        key={plan.id} className="handle" data-testid={`handle-${plan.response}`} role="slider" tabIndex={0} aria-label={`${name} ${isBand(plan.response) ? 'centre' : 'cutoff'}`} aria-valuenow={plan.cutoffHz}
        aria-valuetext={formatQuantity(plan.cutoffHz, 'frequency')} onKeyDown={onKey} onPointerMove={move} onPointerUp={drop} onPointerCancel={drop}
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          chartLeft.current = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
          beginGesture();
          setView({ dragging: true });
        }}
      >
        <circle className="reach" cx={plot.x(plan.cutoffHz)} cy={plot.y(levelDb)} r={14} />
        <circle className="knob" cx={plot.x(plan.cutoffHz)} cy={plot.y(levelDb)} r={6} />
      </g>
    );
  });
}
