'use client';

import { useMemo } from 'react';
import { powerSpectrum } from '@/core/analysis/sound/power-spectrum';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import { hertzAxis } from '@/ui/chart/small-chart';
import { linearTicks } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { useSize } from '@/ui/use-size';

const X = hertzAxis(20, 20e3);
const Y: Axis = { from: -90, to: 0, labelled: linearTicks(-90, 0, 6), format: (v) => `${v}`.replace('-', '−') };
const STYLES = ['asBuilt', 'ghost', 'measured', 'ideal'];

/** What is in what was heard, over the audio band. */
export function Spectrum({
  heard,
}: {
  heard: readonly { readonly name: string; readonly samples: Float32Array; readonly rateHz: number }[];
}) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const spectra = useMemo(() => heard.map((h) => powerSpectrum(h.samples, h.rateHz)), [heard]);
  return (
    <div ref={ref} className="spectrum">
      <ChartFrame width={width} height={170} x={X} y={Y} title="spectrum of what was heard, dB" xUnit="Hz">
        {spectra.map((s, i) => (
          <Trace
            key={heard[i].name}
            x={s.freqHz}
            y={s.levelDb}
            className={STYLES[i % STYLES.length]}
            testId={`spectrum-${i}`}
          />
        ))}
      </ChartFrame>
    </div>
  );
}
