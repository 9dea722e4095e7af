'use client';

import { useMemo } from 'react';
import type { TimeResult } from '@/core/jobs/desk/time';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import { Loop, Trace } from '@/ui/chart/trace-layer';
import { TIME } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useView, type TraceName } from '@/store/view';
import { timeAxis, voltAxis } from './axes';
import { CursorLayer } from './cursor';
import { HarmonicBars } from './harmonic-bars';

/** Of the height, that of the harmonics under a wave. */
const LOWER_SHARE = 0.34;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** What comes out, in the order it is painted in. */
const outputsOf = ({ ideal, bare, ghost, asBuilt }: TimeResult, shown: Readonly<Record<TraceName, boolean>>) =>
  (
    [
      ['ideal', ideal],
      ['bare', bare],
      ['ghost', ghost],
      ['asBuilt', asBuilt],
    ] as const
  ).flatMap(([name, volts]) => (volts && shown[name] ? [{ name, volts }] : []));

/** A step, or a wave once it has settled: against time with its harmonics under it, or against what goes in. */
export function TimeView({ width, height }: Size) {
  const time = useLiveAnswer(TIME);
  const axes = useView((s) => s.waveAxes);
  if (!time) return null;
  const { harmonics } = time;
  if (harmonics && axes === 'xy') return <InputOutput time={time} width={width} height={height} />;
  const lower = harmonics ? Math.round(height * LOWER_SHARE) : 0;
  return (
    <>
      <InTime time={time} width={width} height={height - lower} />
      {harmonics && <HarmonicBars harmonics={harmonics} width={width} height={lower} />}
    </>
  );
}

function InTime({ time, width, height }: Size & { time: TimeResult }) {
  const shown = useView((s) => s.shown);
  const outputs = outputsOf(time, shown);
  const x = timeAxis(time.timeS[time.timeS.length - 1]);
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={voltAxis([time.drive, time.asBuilt, ...outputs.map((o) => o.volts)])}
      title={time.harmonics ? 'source and output once it has settled, V' : 'source and output, V'}
      xUnit={x.unit}
    >
      <Trace x={time.timeS} y={time.drive} className="drive" testId="trace-drive" />
      {outputs.map(({ name, volts }) => (
        <Trace
          key={name}
          x={time.timeS}
          y={volts}
          className={name}
          testId={name === 'asBuilt' ? 'trace-time' : undefined}
        />
      ))}
      <CursorLayer zooms={false} />
    </ChartFrame>
  );
}

/** The output over the source: a line where nothing shifts, a loop where something does. */
function InputOutput({ time, width, height }: Size & { time: TimeResult }) {
  const shown = useView((s) => s.shown);
  const outputs = outputsOf(time, shown);
  const x = useMemo((): Axis => voltAxis([time.drive]), [time]);
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={voltAxis([time.asBuilt, ...outputs.map((o) => o.volts)])}
      title="output over source, V"
      xUnit="V"
    >
      {outputs.map(({ name, volts }) => (
        <Loop
          key={name}
          x={time.drive}
          y={volts}
          className={name}
          testId={name === 'asBuilt' ? 'trace-xy' : undefined}
        />
      ))}
    </ChartFrame>
  );
}
