'use client';

import { useRef, useState } from 'react';
import type { NotchOutlook } from '@/core/jobs/loudspeaker/notch-outlook';
import { formatQuantity } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { HUMP } from '@/store/questions/by-hand';
import { ACOUSTICS } from '@/store/questions/live';
import { useLongJob } from '@/store/questions/long-job';
import { askForNotch } from '@/store/questions/notch';
import { useLiveAnswer } from '@/store/questions/question';
import { useView } from '@/store/view';

import { FrequencyHandle } from './frequency-handle';

type Hump = NotchOutlook['hump'];
const [SHALLOWEST_DB, DEEPEST_DB] = [0.3, 20];
const STEP_DB = 0.1;

/** The hump that is looked at, taken by the hand: sideways where it is, down how much of it is to go. */
export function HumpHandle() {
  const found = useLongJob(HUMP).result;
  const onValues = useView((s) => s.task === 'values');
  const way = useLiveAnswer(ACOUSTICS, (a) => a.ways.find((w) => w.wayId === found?.asked.wayId));
  const freqHz = useLiveAnswer(ACOUSTICS, (a) => a.freqHz);
  const plot = usePlot();
  // What was asked for last stands under the hand at once; the answer follows.
  const [asked, setAsked] = useState<{ hump: Hump; of: typeof found } | null>(null);
  const taken = useRef<Hump | null>(null);
  if (!found || !onValues || !plot || !way || !freqHz) return null;
  const hump = asked?.of === found ? asked.hump : found.value.hump;
  const ask = (patch: Partial<Hump>) => {
    const next = { ...hump, ...patch };
    setAsked({ hump: next, of: found });
    void askForNotch({ ...found.asked, hump: next });
  };
  const deep = (db: number) => Number(Math.min(DEEPEST_DB, Math.max(SHALLOWEST_DB, db)).toFixed(1));
  const at = freqHz.findIndex((f) => f >= hump.centreHz);
  const perDb = Math.abs(plot.y(1) - plot.y(0));
  const words =
    `${formatQuantity(hump.centreHz, 'frequency', { digits: 3 })}, ` +
    `${formatQuantity(hump.depthDb, 'decibel', { digits: 2 })} down`;
  return (
    <FrequencyHandle
      at={[plot.x(hump.centreHz), plot.y(way.levelDb[Math.max(0, at)] - hump.depthDb)]}
      testId="handle-hump"
      name="The notch: sideways where, up and down how deep"
      freqHz={hump.centreHz}
      words={words}
      caption={words}
      onTake={() => (taken.current = hump)}
      onDrag={(centreHz, up) =>
        ask({ centreHz: Number(centreHz.toPrecision(3)), depthDb: deep((taken.current ?? hump).depthDb - up / perDb) })
      }
      onStep={(factor) => ask({ centreHz: Number((hump.centreHz * factor).toPrecision(3)) })}
      onLift={(steps) => ask({ depthDb: deep(hump.depthDb - steps * STEP_DB) })}
    />
  );
}
