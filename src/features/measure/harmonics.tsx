'use client';

import type { Measurement } from '@/core/design/document/schema';
import { strongestHarmonic, WITHIN_DB } from '@/core/measure/harmonics';
import { thinned } from '@/core/measure/thinned';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { decibelAxis, logAxis, SmallChart, type Line } from '@/ui/chart/small-chart';
import { tickHz } from '@/ui/chart/ticks';
import { Fold } from '@/ui/fold';

const NAMES = ['2nd', '3rd', '4th', '5th'];
/** Levels are shown down to so far under the top, dB. */
const SHOWN_DB = 170;
/** Room over the curves for the chart's heading, dB. */
const HEADING_DB = 20;
/** What else came out of the same sweep: its noise, and the harmonics of every tone. */
export function NoiseAndHarmonics({ measurement }: { measurement: Measurement }) {
  const { freqHz, levelDb, noiseDb, harmonicsDb } = measurement;
  if (!noiseDb && !harmonicsDb) return null;
  const strongest = strongestHarmonic(measurement);
  const line = (name: string, values: readonly (number | null)[]): Line => {
    const told = freqHz.flatMap((f, i) => (values[i] === null ? [] : [{ f, db: values[i] }]));
    const few = thinned({ freqHz: told.map((t) => t.f), levelDb: told.map((t) => t.db), phaseDeg: null });
    return { name, x: few.freqHz, y: few.levelDb };
  };
  const lines = [
    line('level', levelDb),
    ...(noiseDb ? [line('noise', noiseDb)] : []),
    ...(harmonicsDb ?? []).slice(0, 2).map((all, h) => line(`${NAMES[h]} harmonic`, all)),
  ];
  const axis = decibelAxis(
    lines.map((l) => l.y),
    SHOWN_DB,
  );
  const outcome = strongest
    ? `${NAMES[strongest.order - 2]} harmonic ${formatFixed(strongest.db, 1)}\u202fdB at ` +
      formatQuantity(strongest.freqHz, 'frequency', { digits: 3 })
    : 'no harmonic stands out of the noise';
  return (
    <Fold name="Noise and harmonics" title="Noise and harmonics" outcome={outcome}>
      <SmallChart
        testId="harmonics"
        title="level, noise and harmonics of each tone, dB"
        xUnit="Hz"
        lines={lines}
        x={logAxis(freqHz[0], freqHz[freqHz.length - 1], tickHz)}
        y={{ ...axis, to: axis.to + HEADING_DB }}
      />
      <p className="reason quiet">
        {strongest
          ? `The strongest against its own tone: ${outcome}, of tones within ${WITHIN_DB}\u202fdB of the loudest.`
          : 'What there may be lies under the noise.'}
      </p>
    </Fold>
  );
}
