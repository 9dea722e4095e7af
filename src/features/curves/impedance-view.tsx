'use client';

import { PART_UNITS } from '@/core/topology/kit/part-units';
import { useMemo } from 'react';
import type { DeskPart, DeskResult } from '@/core/jobs/desk/desk-types';
import { logGrid } from '@/core/math/grid';
import { formatQuantity } from '@/core/units/quantity';
import { ChartFrame, usePlot } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { DESK } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useSelectedStage } from '@/store/use-selected-stage';
import { frequencyAxis, ohmAxis } from './axes';
import { CursorLayer } from './cursor';
import { placeLabels } from './label-places';
import { meetsAt, sizeOf } from './part-impedance';

/**
 * Every part of the stage in hand as an impedance: the divider seen at work. Where two cross they share the voltage
 * evenly in size.
 */
export function ImpedanceView({ width, height }: { width: number; height: number }) {
  const desk = useLiveAnswer(DESK) as DeskResult;
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

const LETTER_PX = 6.4;
const LABEL_PX = 13;
/** More meeting points than this are dots alone. */
const MOST_NAMED = 6;
/** Where along a line its name is looked for: so many places from the left. */
const PLACES = 24;

/** Names on the lines, and the frequencies where lines cross, each where nothing else stands. */
function PartNames({ parts, from, to }: { parts: readonly DeskPart[]; from: number; to: number }) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const inside = (x: number, y: number) =>
    x > area.x && x < area.x + area.width && y > area.y + 14 && y < area.y + area.height;
  const along = Array.from({ length: PLACES }, (_, k) => from * (to / from) ** ((k + 1) / (PLACES + 1)));
  const names = parts.map((p, i) => {
    const seen = along.filter((f) => inside(plot.x(f), plot.y(sizeOf(p, f))));
    // Not all at one end: each line's name a little further along than the one before.
    const at = seen[Math.min(seen.length - 1, 2 * (i % 8))] ?? from;
    return {
      key: p.name,
      text: `${p.name} ${formatQuantity(p.chosen, PART_UNITS[p.kind], { digits: 3 })}`,
      x: plot.x(at),
      y: plot.y(sizeOf(p, at)),
      className: 'part-label',
    };
  });
  const crossings = parts.flatMap((a, i) =>
    parts.slice(i + 1).flatMap((b) => {
      const f = meetsAt(a, b);
      if (f === null || f <= from || f >= to || !inside(plot.x(f), plot.y(sizeOf(a, f)))) return [];
      const text = formatQuantity(f, 'frequency', { digits: 3 });
      return [{ key: `${a.name} ${b.name}`, text, x: plot.x(f), y: plot.y(sizeOf(a, f)), className: '' }];
    }),
  );
  // Equal parts cross another at one place: that is one point with one name.
  const points = crossings.filter((c, i) => crossings.findIndex((d) => d.text === c.text && d.y === c.y) === i);
  const labels = [...(points.length <= MOST_NAMED ? points : []), ...names];
  const inked = (px: number) => {
    const f = from * (to / from) ** ((px - area.x) / area.width);
    return parts.map((p) => plot.y(sizeOf(p, f)));
  };
  const places = placeLabels(
    labels.map(({ key, text, x, y }) => ({ key, x, y, width: text.length * LETTER_PX, height: LABEL_PX })),
    area,
    inked,
  );
  return (
    <g className="marks" aria-hidden="true">
      {crossings.map(({ key, x, y }) => (
        <circle key={key} cx={x} cy={y} r={3} data-testid="impedance-crossing" />
      ))}
      {labels.map(({ key, text, className }, i) =>
        places[i].free ? (
          <text key={key} x={places[i].x} y={places[i].y + 4} className={className}>
            {text}
          </text>
        ) : null,
      )}
    </g>
  );
}
