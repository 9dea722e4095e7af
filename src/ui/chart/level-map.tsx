'use client';

import { useMemo } from 'react';
import { usePlot, type PlotScales } from '@/ui/chart/chart-frame';
import { Clipped } from '@/ui/chart/trace-layer';
import { tenth } from '@/ui/chart/tenth';
import { cellsByBand, type MapCell, type MapRow } from './map-bands';
import styles from './level-map.module.css';

/** px of the scale: one step, and where it stands. */
const STEP_PX = 15;
const SCALE_HEIGHT = 9;
const EDGE = 8;

const rectangle = ({ x, y }: PlotScales, { fromX, toX, fromY, toY }: MapCell): string =>
  `M${tenth(x(fromX))} ${tenth(y(toY))}H${tenth(x(toX))}V${tenth(y(fromY))}H${tenth(x(fromX))}z`;

/** Level as a depth of one colour over frequency and another axis, with its scale; the loudest is the deepest. */
export function LevelMap({
  freqHz,
  rows,
  bands,
  testId,
}: {
  freqHz: ArrayLike<number>;
  rows: readonly MapRow[];
  /** dB, falling: the lower edge of each step. */
  bands: readonly number[];
  testId: string;
}) {
  const cells = useMemo(() => cellsByBand(freqHz, rows, bands), [freqHz, rows, bands]);
  const depth = (band: number) => 1 - band / bands.length;
  return (
    <Clipped>
      {(plot, clip) => (
        <>
          <g clipPath={clip} data-testid={testId}>
            {cells.map((of, band) => (
              <path
                key={band}
                className={styles.band}
                fillOpacity={depth(band)}
                d={of.map((cell) => rectangle(plot, cell)).join('')}
              />
            ))}
          </g>
          <Scale bands={bands} depth={depth} />
        </>
      )}
    </Clipped>
  );
}

function Scale({ bands, depth }: { bands: readonly number[]; depth: (band: number) => number }) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const width = bands.length * STEP_PX;
  const [x, y] = [area.x + area.width - width - EDGE - 10, area.y + EDGE];
  return (
    <g className={styles.scale} aria-hidden="true">
      <rect className={styles.under} x={x - 6} y={y - 5} width={width + 22} height={SCALE_HEIGHT + 23} rx={3} />
      {bands.map((db, band) => (
        <rect
          key={db}
          className={styles.band}
          fillOpacity={depth(band)}
          x={x + band * STEP_PX}
          y={y}
          width={STEP_PX}
          height={SCALE_HEIGHT}
        />
      ))}
      {bands.map((db, band) =>
        band % 3 === 0 ? (
          <text key={db} x={x + (band + 1) * STEP_PX} y={y + SCALE_HEIGHT + 12} textAnchor="middle">
            {`${db}`.replace('-', '−')}
          </text>
        ) : null,
      )}
    </g>
  );
}
