'use client';

import { Select } from 'antd';
import { useMemo, useState } from 'react';
import { spectrogram } from '@/core/analysis/sound/spectrogram';
import { formatFixed } from '@/core/units/quantity';
import { ChartFrame } from '@/ui/chart/chart-frame';
import { LevelMap } from '@/ui/chart/level-map';
import { hertzAxis } from '@/ui/chart/small-chart';
import { linearTicks } from '@/ui/chart/ticks';
import { useSize } from '@/ui/use-size';

const X = hertzAxis(40, 16e3);
const BANDS = [-6, -12, -18, -24, -30, -36, -42, -48, -54];

/** What was heard as it went on: frequency across, time up, level as depth. */
export function SpectrogramView({
  heard,
}: {
  heard: readonly { readonly name: string; readonly samples: Float32Array; readonly rateHz: number }[];
}) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const [at, setAt] = useState(0);
  const shown = heard[Math.min(at, heard.length - 1)];
  const map = useMemo(() => spectrogram(shown.samples, shown.rateHz), [shown]);
  const rows = useMemo(() => map.rows.map(({ atS, levelDb }) => ({ at: atS, levelDb })), [map]);
  const seconds = shown.samples.length / shown.rateHz;
  return (
    <div ref={ref} className="spectrum">
      {heard.length > 1 && (
        <Select
          size="small"
          aria-label="Whose spectrogram"
          value={Math.min(at, heard.length - 1)}
          options={heard.map((h, value) => ({ value, label: h.name }))}
          popupMatchSelectWidth={false}
          onChange={setAt}
        />
      )}
      <ChartFrame
        width={width}
        height={230}
        x={X}
        y={{ from: 0, to: seconds, labelled: linearTicks(0, seconds, 4), format: (v) => formatFixed(v, 1) }}
        title="as it went on, s"
        xUnit="Hz"
      >
        <LevelMap freqHz={map.freqHz} rows={rows} bands={BANDS} testId="spectrogram" />
      </ChartFrame>
    </div>
  );
}
