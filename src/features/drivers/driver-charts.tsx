'use client';

import { levelsDb } from '@/core/analysis/curves/response';
import type { Driver } from '@/core/loudspeaker/driver';
import { curveAt, driverResponse } from '@/core/loudspeaker/driver-response';
import { impedanceAt } from '@/core/loudspeaker/voice-coil';
import { logGrid } from '@/core/math/grid';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { useSize } from '@/ui/use-size';
import styles from './drivers.module.css';

const FREQ = logGrid(20, 20e3, 301);
const X: Axis = { from: 20, to: 20e3, log: true, ...logTicks(20, 20e3), format: tickHz };

/** A driver’s level and impedance, those of another behind them. */
export function DriverCharts({ driver, other }: { driver: Driver; other: Driver | undefined }) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const shown = [driver, ...(other ? [other] : [])];
  const levels = shown.map((d) => levelsDb(driverResponse(d, FREQ)));
  const sizes = shown.map((d) =>
    FREQ.map((f) => {
      const { re, im } = impedanceAt(d.impedance, f);
      return Math.hypot(re, im);
    }),
  );
  const top = 5 * Math.ceil((Math.max(...levels.map((l) => Math.max(...l))) + 2) / 5);
  const most = 4 * Math.ceil(Math.min(80, 1.1 * Math.max(...sizes.map((s) => Math.max(...s)))) / 4);
  const level: Axis = { from: top - 40, to: top, labelled: linearTicks(top - 40, top, 8), format: (v) => `${v}` };
  const ohm: Axis = { from: 0, to: most, labelled: linearTicks(0, most, 5), format: (v) => `${v}` };
  const measured = driver.measuredImpedance && curveAt({ ...driver.measuredImpedance, phaseDeg: null }, FREQ).levelDb;
  return (
    <div ref={ref} className={styles.driverCharts}>
      <ChartFrame width={width} height={250} x={X} y={level} title="level at 1 m for 2.83 V, dB" xUnit="Hz">
        {levels.map((l, i) => (
          <Trace key={shown[i].id} x={FREQ} y={l} className={i === 0 ? 'asBuilt' : 'ghost'} />
        ))}
      </ChartFrame>
      <ChartFrame
        width={width}
        height={200}
        x={X}
        y={ohm}
        title={measured ? 'impedance, ohm: measured, and the circuit fitted to it dotted' : 'impedance, ohm'}
        xUnit="Hz"
      >
        {measured && <Trace x={FREQ} y={measured} className="measured" />}
        {sizes.map((s, i) => (
          <Trace key={shown[i].id} x={FREQ} y={s} className={i === 0 ? (measured ? 'ideal' : 'asBuilt') : 'ghost'} />
        ))}
      </ChartFrame>
    </div>
  );
}
