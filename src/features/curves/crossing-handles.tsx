'use client';

import { useXAxisInverseScale } from 'recharts';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { formatQuantity } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { beginGesture, edit, endGesture } from '@/store/document';
import { useResults } from '@/store/results';
import { moveCrossing } from '@/store/speaker-edits';
import { setView } from '@/store/view';

/** Where two ways meet, to be taken by the hand: both plans move with it. */
export function CrossingHandles() {
  const crossings = useResults((s) => s.acoustics?.crossings);
  const plot = usePlot();
  const inverse = useXAxisInverseScale();
  const chartLeft = useRef(0);
  /** Where the plans stood last: results are a moment behind the hand. */
  const planned = useRef(0);
  if (!plot || !inverse || !crossings) return null;
  return crossings.map((crossing) => {
    const move = (event: PointerEvent<SVGGElement>) => {
      if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
      const wanted = Number(Number(inverse(event.clientX - chartLeft.current)).toPrecision(4));
      if (!(wanted > 0)) return;
      edit(moveCrossing(crossing.lower, crossing.upper, planned.current, wanted));
      planned.current = wanted;
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
      edit(moveCrossing(crossing.lower, crossing.upper, 1, 1.01 ** (way * (event.shiftKey ? 10 : 1))));
    };
    const [x, y] = [plot.x(crossing.freqHz), plot.y(crossing.levelDb)];
    const words = `${formatQuantity(crossing.freqHz, 'frequency', { digits: 3 })}, each −${crossing.belowSumDb.toFixed(1)} dB`;
    return (
      <g
        key={crossing.upper} className="handle" data-testid="handle-crossing" role="slider" tabIndex={0} aria-label={`Crossover of ${crossing.lowerName} and ${crossing.upperName}`} aria-valuenow={crossing.freqHz} aria-valuetext={words}
        onKeyDown={onKey} onPointerMove={move} onPointerUp={drop} onPointerCancel={drop}
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          chartLeft.current = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
          planned.current = crossing.freqHz;
          beginGesture();
          setView({ dragging: true });
        }}
      >
        <circle className="reach" cx={x} cy={y} r={14} />
        <circle className="knob" cx={x} cy={y} r={6} />
        <text x={x} y={y + 22} textAnchor="middle" className="handle-name">{words}</text>
      </g>
    );
  });
}
