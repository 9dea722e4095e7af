'use client';

import { useId } from 'react';
import { usePlot, type PlotScales } from './chart-frame';
import { pathOf } from './path-of';
import { tenth } from './tenth';

/** Clips what it holds to the plot area. */
export function Clipped({ children }: { children: (plot: PlotScales, clip: string) => React.ReactNode }) {
  const plot = usePlot();
  const id = useId();
  if (!plot) return null;
  return (
    <>
      <clipPath id={id}>
        <rect x={plot.area.x} y={plot.area.y} width={plot.area.width} height={plot.area.height} />
      </clipPath>
      {children(plot, `url(#${id})`)}
    </>
  );
}

export interface TraceProps {
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
  readonly className: string;
  readonly testId?: string;
}

/** One curve, one path. Its class gives colour, weight and dash. */
export function Trace({ x, y, className, testId }: TraceProps) {
  return (
    <Clipped>
      {(plot, clip) => (
        <path d={pathOf(plot, x, y)} clipPath={clip} className={`trace ${className}`} data-testid={testId} />
      )}
    </Clipped>
  );
}

/** A line through points in their own order: x may go back and forth. */
export function Loop({ x, y, className, testId }: TraceProps) {
  return (
    <Clipped>
      {(plot, clip) => (
        <path
          d={Array.from(x, (v, i) => `${i === 0 ? 'M' : 'L'}${tenth(plot.x(v))} ${tenth(plot.y(y[i]))}`).join('')}
          clipPath={clip}
          className={`trace ${className}`}
          data-testid={testId}
        />
      )}
    </Clipped>
  );
}

/** The area between two curves over the same x. */
export function Band({
  x,
  low,
  high,
  className,
}: {
  x: ArrayLike<number>;
  low: ArrayLike<number>;
  high: ArrayLike<number>;
  className: string;
}) {
  return (
    <Clipped>
      {(plot, clip) => {
        const top = pathOf(plot, x, high);
        const bottom = pathOf(plot, Array.from(x).reverse(), Array.from(low).reverse()).replace(/^M/, 'L');
        return <path d={`${top}${bottom}Z`} clipPath={clip} className={className} />;
      }}
    </Clipped>
  );
}
