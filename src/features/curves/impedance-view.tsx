'use client';

import { PART_UNITS } from '@/core/topology/kit/part-units';
import { useMemo } from 'react';
import type { DeskPart, DeskResult } from '@/core/jobs/desk/desk-types';
import { logGrid } from '@/core/math/grid';
import { formatQuantity } from '@/core/units/quantity';
import { ChartFrame, usePlot } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useSelectedStage } from '@/store/use-selected-stage';
import { frequencyAxis, ohmAxis } from './axes';
import { CursorLayer } from './cursor';
import { meetsAt, sizeOf } from './part-impedance';

/**
 * Every part of the stage in hand as an impedance: the divider seen at work. Where two cross they share the voltage
 * evenly in size.
 */
export function ImpedanceView({ width, height }: { width: number; height: number }) {
  const desk = useAnswer(DESK) as DeskResult;
  const { facts } = useSelectedStage();
  const [from, to] = [desk.freqHz[0], desk.freqHz[desk.freqHz.length - 1]];
  const x = useMemo(() => frequencyAxis(from, to), [from, to]);
  const grid = useMemo(() => logGrid(from, to, 61), [from, to]);
  const parts = (facts?.parts ?? []).filter((p) => !p.leftOut);
  if (parts.length === 0) return null;
  const sizes = parts.flatMap((p) => [sizeOf(p, from), sizeOf(p, to)]).filter((v) => v > 0);
  const resistors = parts.filter((p) => p.kind === 'resistor').map((p) => p.chosen);
  // A decade or two about the resistors tells the story; the ends of a capacitor's line do not.
  const [low, high] =
    resistors.length > 0
      ? [Math.min(...resistors) / 100, Math.max(...resistors) * 100]
      : [Math.min(...sizes), Math.max(...sizes)];
  const y = ohmAxis(Math.max(low, Math.min(...sizes) / 1.01), Math.min(high, Math.max(...sizes) * 1.01));
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={y}
      title={`impedance of each part of ${facts?.name ?? ''}, ohm`}
      xUnit="Hz"
    >
      {parts.map((p) => (
        <Trace
          key={p.name}
          x={grid}
          y={grid.map((f) => sizeOf(p, f))}
          className={`part-${p.kind}`}
          testId={`impedance-${p.name}`}
        />
      ))}
      <PartNames parts={parts} from={from} to={to} />
      <CursorLayer />
    </ChartFrame>
  );
}

/** Names at the ends of the lines, and the places where lines cross. */
function PartNames({ parts, from, to }: { parts: readonly DeskPart[]; from: number; to: number }) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const inside = (x: number, y: number) =>
    x > area.x && x < area.x + area.width && y > area.y + 14 && y < area.y + area.height;
  const names = parts.map((p, i) => {
    // The first place from the left, a little apart from the last, where the line is inside.
    const f =
      Array.from({ length: 40 }, (_, k) => from * (to / from) ** ((k + 1) / 42)).find((g) =>
        inside(plot.x(g), plot.y(sizeOf(p, g))),
      ) ?? from;
    const at = f * (to / from) ** (0.03 + 0.055 * (i % 6));
    return {
      name: `${p.name} ${formatQuantity(p.chosen, PART_UNITS[p.kind], { digits: 3 })}`,
      x: plot.x(at),
      y: plot.y(sizeOf(p, at)),
    };
  });
  const crossings = parts.flatMap((a, i) =>
    parts.slice(i + 1).flatMap((b) => {
      const f = meetsAt(a, b);
      return f !== null && f > from && f < to && inside(plot.x(f), plot.y(sizeOf(a, f)))
        ? [{ key: `${a.name} ${b.name}`, f, ohm: sizeOf(a, f) }]
        : [];
    }),
  );
  return (
    <g className="marks" aria-hidden="true">
      {names.map(({ name, x, y }) => (
        <text key={name} x={x + 4} y={y - 5} className="part-label">
          {name}
        </text>
      ))}
      {crossings.map(({ key, f, ohm }) => (
        <g key={key} data-testid="impedance-crossing">
          <circle cx={plot.x(f)} cy={plot.y(ohm)} r={3} />
          {crossings.length <= 6 && (
            <text x={plot.x(f) + 8} y={plot.y(ohm) + 13}>
              {formatQuantity(f, 'frequency', { digits: 3 })}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
