'use client';

import { useMemo } from 'react';
import { thinned } from '@/core/measure/thinned';
import { ChartFrame } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { useSize } from '@/ui/use-size';

/** Measured less predicted, in dB. */
export function DifferenceChart({
  freqHz,
  differenceDb,
  fromHz,
  toHz,
}: {
  freqHz: readonly number[];
  differenceDb: Float64Array;
  fromHz: number;
  toHz: number;
}) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const reach = 1.1 * differenceDb.reduce((most, v) => (Math.abs(v) < 20 ? Math.max(most, Math.abs(v)) : most), 1);
  const drawn = useMemo(
    () => thinned({ freqHz, levelDb: Array.from(differenceDb), phaseDeg: null }),
    [freqHz, differenceDb],
  );
  const ticks = linearTicks(-reach, reach, 4);
  const x = logTicks(fromHz, toHz);
  return (
    <div ref={ref} role="img" aria-label="Difference between measurement and prediction">
      <ChartFrame
        width={width}
        height={130}
        title="measured less as built, dB"
        x={{
          from: fromHz,
          to: toHz,
          log: true,
          labelled: x.labelled.filter((f) => Math.abs(Math.log10(f) % 1) < 1e-9),
          minor: [],
          format: tickHz,
        }}
        y={{ from: -reach, to: reach, labelled: ticks, format: (v) => (v > 0 ? `+${v}` : `${v}`.replace('-', '−')) }}
      >
        <Trace x={drawn.freqHz} y={drawn.levelDb} className="measured" />
      </ChartFrame>
    </div>
  );
}
