'use client';

import type { ReactNode } from 'react';
import { ChartFrame, type Axis } from './chart-frame';
import { linearTicks, logTicks, tickHz } from './ticks';
import { Trace } from './trace-layer';
import { useSize } from '../use-size';
import styles from './chart.module.css';

export interface Line {
  readonly name: string;
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
}

/** Styles of lines that are compared, in their order: colour, weight and dash differ. */
const STYLES = ['asBuilt', 'ghost', 'measured', 'ideal'];
const HEIGHT = 172;

/** A chart as wide as its panel, with a key where there is more than one line. */
export function SmallChart({
  lines,
  x,
  y,
  title,
  xUnit,
  height = HEIGHT,
  testId,
  children,
}: {
  lines: readonly Line[];
  x: Axis;
  y: Axis;
  title: string;
  xUnit?: string;
  height?: number;
  testId?: string;
  children?: ReactNode;
}) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  return (
    <>
      <div ref={ref} className="spectrum" style={{ minHeight: height }} data-testid={testId}>
        <ChartFrame width={width} height={height} x={x} y={y} title={title} xUnit={xUnit}>
          {lines.map((line, i) => (
            <Trace
              key={line.name}
              x={line.x}
              y={line.y}
              className={STYLES[i % STYLES.length]}
              testId={`${testId ?? 'chart'}-${i}`}
            />
          ))}
          {children}
        </ChartFrame>
      </div>
      {lines.length > 1 && (
        <p className={styles.smallKey}>
          {lines.map((line, i) => (
            <span key={line.name}>
              <svg width="22" height="8" aria-hidden="true">
                <path d="M0 4h22" className={`trace ${STYLES[i % STYLES.length]}`} />
              </svg>
              {line.name}
            </span>
          ))}
        </p>
      )}
    </>
  );
}

/** Decibels that all lines fit in, rounded to tens, at most so many under the top. */
export function decibelAxis(levels: readonly ArrayLike<number>[], most = 60): Axis {
  let [low, high] = [Infinity, -Infinity];
  for (const line of levels)
    for (let i = 0; i < line.length; i++)
      if (Number.isFinite(line[i])) [low, high] = [Math.min(low, line[i]), Math.max(high, line[i])];
  if (!Number.isFinite(low)) [low, high] = [-40, 0];
  const to = 10 * Math.ceil((high + 1) / 10);
  const from = Math.max(to - most, 10 * Math.floor((low - 1) / 10));
  return { from, to: Math.max(to, from + 10), labelled: linearTicks(from, Math.max(to, from + 10), 5), format: minus };
}
/** Decades and the ends: a small chart has no room for more. */
export function hertzAxis(from: number, to: number): Axis {
  const { labelled, minor } = logTicks(from, to);
  const clear = (f: number) => Math.log10(f / from) > CLEAR && Math.log10(to / f) > CLEAR;
  const kept = labelled.filter(
    (f) => f === from || f === to || (clear(f) && Math.abs(Math.log10(f) - Math.round(Math.log10(f))) < 1e-9),
  );
  return {
    from,
    to,
    log: true,
    labelled: kept,
    minor: [...minor, ...labelled.filter((f) => !kept.includes(f))],
    format: tickHz,
  };
}
/** Decades between two labels, at least. */
const CLEAR = 0.4;
/** A logarithmic axis with round ends (1, 2, 5) about what is to be seen. */
export function logAxis(low: number, high: number, format: (v: number) => string): Axis {
  const round = (v: number, up: boolean): number => {
    const decade = 10 ** Math.floor(Math.log10(v) + 1e-9);
    const steps = [1, 2, 5, 10].map((n) => n * decade);
    return (up ? steps.find((s) => s >= v * 0.999) : [...steps].reverse().find((s) => s <= v * 1.001)) ?? v;
  };
  const [from, to] = [round(low, false), round(high, true)];
  return { from, to: to > from ? to : 10 * from, log: true, ...logTicks(from, to > from ? to : 10 * from), format };
}
export const minus = (v: number): string => `${Number(v.toPrecision(3))}`.replace('-', '−');
