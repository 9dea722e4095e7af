'use client';

import type { Measurement } from '@/core/design/document/schema';
import { useDesignJob } from '@/store/use-design-job';
import { decibelAxis, logAxis, SmallChart } from '@/ui/chart/small-chart';
import { tickHz } from '@/ui/chart/ticks';
import { Fold } from '@/ui/fold';

/** Times that are shown, ms after the sound. */
const SHOWN_MS = [0, 0.6, 1.3, 3];
const SHOWN_DB = 60;

/** What still sounds after the sound, of a curve that was measured. */
export function MeasuredDecay({ measurement }: { measurement: Measurement }) {
  return (
    <Fold name="Measured decay" title="Decay" outcome="what still sounds, milliseconds later">
      <Slices measurement={measurement} />
    </Fold>
  );
}

function Slices({ measurement: { freqHz, levelDb, phaseDeg } }: { measurement: Measurement }) {
  const decay = useDesignJob('measured-decay', phaseDeg ? { freqHz, levelDb, phaseDeg } : null);
  if (!decay) return <p className="reason quiet">{phaseDeg ? 'Working it out.' : 'Its phase was not measured.'}</p>;
  const lines = decay.slices
    .filter(({ ms }) => SHOWN_MS.includes(ms))
    .map(({ ms, levelDb: y }) => ({ name: ms === 0 ? 'at once' : `${ms}\u202fms later`, x: decay.freqHz, y }));
  return (
    <SmallChart
      testId="measured-decay"
      title="what still sounds, dB"
      xUnit="Hz"
      lines={lines}
      x={logAxis(decay.freqHz[0], decay.freqHz[decay.freqHz.length - 1], tickHz)}
      y={decibelAxis(
        lines.map((l) => l.y),
        SHOWN_DB,
      )}
    />
  );
}
