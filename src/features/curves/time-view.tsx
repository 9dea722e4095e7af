'use client';

import { ChartFrame } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { TIME } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useView } from '@/store/view';
import { timeAxis, voltAxis } from './axes';
import { CursorLayer } from './cursor';

/** Output against time for a unit step or a square wave. */
export function TimeView({ width, height }: { width: number; height: number }) {
  const time = useAnswer(TIME);
  const view = useView((s) => s.curveView);
  const shown = useView((s) => s.shown);
  if (!time) return null;
  const x = timeAxis(time.timeS[time.timeS.length - 1]);
  const traces = [
    time.asBuilt,
    time.drive,
    ...(shown.ideal && time.ideal ? [time.ideal] : []),
    ...(shown.ghost && time.ghost ? [time.ghost] : []),
  ];
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={voltAxis(traces)}
      title={
        view === 'wave' ? 'output once it has settled, V for 1 V peak at the source' : 'output, V for 1 V at the source'
      }
      xUnit={x.unit}
    >
      <Trace x={time.timeS} y={time.drive} className="drive" />
      {shown.ideal && time.ideal && <Trace x={time.timeS} y={time.ideal} className="ideal" />}
      {shown.ghost && time.ghost && <Trace x={time.timeS} y={time.ghost} className="ghost" />}
      {shown.asBuilt && <Trace x={time.timeS} y={time.asBuilt} className="asBuilt" testId="trace-time" />}
      <CursorLayer zooms={false} />
    </ChartFrame>
  );
}
