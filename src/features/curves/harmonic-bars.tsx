'use client';

import { tenth } from '@/ui/chart/tenth';
import { useMemo } from 'react';
import type { FourViews } from '@/core/jobs/network/four-views';
import { decibels } from '@/core/units/quantity';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';

const FLOOR_DB = -60;
const minus = (v: number) => `${v}`.replace('-', '−');

/** Harmonics before, as outlines, and after, filled; dB re 1 V. */
export function HarmonicBars({
  harmonics,
  width,
  height,
}: {
  harmonics: FourViews['harmonics'];
  width: number;
  height: number;
}) {
  const { before, after, ghost } = harmonics;
  const x = useMemo(
    (): Axis => ({
      from: 0,
      to: before.length + 1,
      labelled: [1, 3, 5, 7, 9, 11, 13, 15].filter((k) => k <= before.length),
      format: String,
    }),
    [before.length],
  );
  // Room above the highest for what the axes are.
  const top = Math.max(10, ...[...before, ...after].map((v) => 10 * Math.ceil((decibels(Math.max(v, 1e-6)) + 6) / 10)));
  const y = useMemo(
    (): Axis => ({
      from: FLOOR_DB,
      to: top,
      labelled: [-60, -40, -20, 0, 20, 40].filter((v) => v <= top),
      format: minus,
    }),
    [top],
  );
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={y}
      title={`harmonics, dB re 1 V: before, after${ghost ? ', ghost as a line' : ''}`}
      xUnit="× f"
    >
      <Bars before={before} after={after} ghost={ghost} />
    </ChartFrame>
  );
}

function Bars({ before, after, ghost }: FourViews['harmonics']) {
  const plot = usePlot();
  if (!plot) return null;
  const wide = Math.min(16, (plot.area.width / (before.length + 1)) * 0.6);
  const bar = (size: number, k: number, className: string) => {
    const level = decibels(size);
    if (!(level > FLOOR_DB)) return null;
    const [x, y] = [plot.x(k + 1) - wide / 2, plot.y(level)];
    return <rect x={x} y={y} width={wide} height={Math.max(0, plot.y(FLOOR_DB) - y)} className={className} />;
  };
  return (
    <g aria-hidden="true" data-testid="harmonics">
      {Array.from(before, (size, k) => (
        <g key={k}>
          {bar(after[k], k, 'harmonic after')}
          {bar(size, k, 'harmonic before')}
          {ghost && decibels(ghost[k]) > FLOOR_DB && (
            <path
              d={`M${tenth(plot.x(k + 1) - wide / 2 - 3)} ` + `${tenth(plot.y(decibels(ghost[k])))}h${tenth(wide + 6)}`}
              className="harmonic-ghost"
            />
          )}
        </g>
      ))}
    </g>
  );
}
