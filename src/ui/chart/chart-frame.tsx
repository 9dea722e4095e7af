'use client';

import { tenth } from '@/ui/chart/tenth';
import { everyNth, ticksApart } from '@/ui/chart/ticks';
import { createContext, memo, useContext, useMemo, type ReactNode, type SyntheticEvent } from 'react';
import styles from './chart.module.css';
import { ComposedChart, Line, usePlotArea, XAxis, YAxis } from 'recharts';

export interface Axis {
  readonly from: number;
  readonly to: number;
  readonly log?: boolean;
  readonly labelled: readonly number[];
  readonly minor?: readonly number[];
  readonly format: (value: number) => string;
}

export interface ChartFrameProps {
  readonly width: number;
  readonly height: number;
  readonly x: Axis;
  readonly y: Axis;
  readonly title: string;
  /** Leave the x labels to the chart below. */
  readonly bareX?: boolean;
  readonly xUnit?: string;
  readonly children: ReactNode;
}

const LEFT = 50;
const RIGHT = 24;
const TOP = 10;
const X_LABELS = 22;

/**
 * Pointers that move are the layers' own business. What the frame would make of a mouse (it looks for the point under
 * it, and asks the page for its place) would draw the axes anew with every move.
 */
const toItself = (event: SyntheticEvent): void => event.stopPropagation();

/**
 * Frame, axes and grid of a chart. Curves are drawn by child layers, which keep their own state: dragging redraws a
 * path, never the frame.
 */
export const ChartFrame = memo(function ChartFrame({
  width,
  height,
  x,
  y,
  title,
  bareX = false,
  xUnit,
  children,
}: ChartFrameProps) {
  const axes = useMemo(() => ({ x, y }), [x, y]);
  const yTicks = useMemo(() => everyNth(y.labelled, height - TOP - (bareX ? 4 : X_LABELS)), [y, height, bareX]);
  const xTicks = useMemo(() => ticksApart(x, width - LEFT - RIGHT, xUnit), [x, width, xUnit]);
  if (width < 80 || height < 50) return null;
  return (
    <div className={styles.frame} onMouseMoveCapture={toItself} onTouchMoveCapture={toItself}>
      <ComposedChart
        width={width}
        height={height}
        data={[
          { x: x.from, y: y.from },
          { x: x.to, y: y.to },
        ]}
        margin={{ top: TOP, right: RIGHT, bottom: bareX ? 4 : 0, left: 0 }}
        accessibilityLayer={false}
      >
        <XAxis
          dataKey="x"
          type="number"
          scale={x.log ? 'log' : 'linear'}
          domain={[x.from, x.to]}
          ticks={xTicks}
          allowDataOverflow
          interval={0}
          height={bareX ? 1 : X_LABELS}
          tick={bareX ? false : { fill: 'var(--quiet)', fontSize: 11, fontFamily: 'var(--figures)' }}
          tickLine={false}
          axisLine={{ stroke: 'var(--hair)' }}
          tickFormatter={(value: number) =>
            value === x.labelled[x.labelled.length - 1] && xUnit ? `${x.format(value)} ${xUnit}` : x.format(value)
          }
        />
        <YAxis
          type="number"
          scale={y.log ? 'log' : 'linear'}
          domain={[y.from, y.to]}
          ticks={yTicks}
          allowDataOverflow
          interval={0}
          width={LEFT}
          tickLine={false}
          axisLine={false}
          tick={{ fill: 'var(--quiet)', fontSize: 11, fontFamily: 'var(--figures)' }}
          tickFormatter={y.format}
        />
        <Line dataKey="y" stroke="none" dot={false} isAnimationActive={false} legendType="none" />
        <AxesContext value={axes}>
          <GridLines x={x} y={y} />
          {children}
          <FrameTitle title={title} />
        </AxesContext>
      </ComposedChart>
    </div>
  );
});

export interface PlotScales {
  readonly x: (value: number) => number;
  readonly y: (value: number) => number;
  readonly area: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
}

/** Scales and plot area, for layers; null until the frame has been measured. */
export function usePlot(): PlotScales | null {
  const axes = useContext(AxesContext);
  const area = usePlotArea();
  return useMemo(
    () =>
      axes && area
        ? { x: scaleOf(axes.x, area.x, area.width), y: scaleOf(axes.y, area.y + area.height, -area.height), area }
        : null,
    [axes, area],
  );
}

const AxesContext = createContext<{ readonly x: Axis; readonly y: Axis } | null>(null);

/** A straight line in the value or its logarithm: thousands of points a frame go through here. */
function scaleOf(axis: Axis, start: number, length: number): (value: number) => number {
  if (axis.log) {
    const slope = length / Math.log(axis.to / axis.from);
    const low = Math.log(axis.from);
    return (value) => start + (Math.log(value) - low) * slope;
  }
  const slope = length / (axis.to - axis.from);
  return (value) => start + (value - axis.from) * slope;
}

const GridLines = memo(function GridLines({ x, y }: { x: Axis; y: Axis }) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const vertical = (values: readonly number[]) =>
    values.map((v) => `M${tenth(plot.x(v))} ${area.y}v${area.height}`).join('');
  const horizontal = (values: readonly number[]) =>
    values.map((v) => `M${area.x} ${tenth(plot.y(v))}h${area.width}`).join('');
  return (
    <g aria-hidden="true">
      <path d={vertical(x.minor ?? [])} stroke="var(--grid)" fill="none" />
      <path
        d={vertical(x.labelled) + horizontal(y.labelled)}
        stroke="var(--grid-strong)"
        strokeWidth={0.8}
        fill="none"
      />
      <rect x={area.x} y={area.y} width={area.width} height={area.height} fill="none" stroke="var(--hair)" />
    </g>
  );
});

function FrameTitle({ title }: { title: string }) {
  const plot = usePlot();
  if (!plot) return null;
  return (
    <text x={plot.area.x + 7} y={plot.area.y + 14} className="frame-title" aria-hidden="true">
      {title}
    </text>
  );
}
