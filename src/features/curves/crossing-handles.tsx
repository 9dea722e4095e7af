'use client';

import { useRef } from 'react';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { edit } from '@/store/document';
import { ACOUSTICS } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { moveCrossing } from '@/store/edits/speaker-edits';
import { FrequencyHandle } from './frequency-handle';

/** Where two ways meet, to be taken by the hand: both plans move with it. */
export function CrossingHandles() {
  const crossings = useLiveAnswer(ACOUSTICS, (a) => a.crossings);
  const plot = usePlot();
  /** Where the plans stood last: results are a moment behind the hand. */
  const planned = useRef(0);
  if (!plot || !crossings) return null;
  return crossings.map(({ lower, upper, lowerName, upperName, freqHz, levelDb, belowSumDb }) => {
    const [at, below] = [formatQuantity(freqHz, 'frequency', { digits: 3 }), formatSigned(-belowSumDb, 'decibel', 1)];
    return (
      <FrequencyHandle
        key={upper}
        at={[plot.x(freqHz), plot.y(levelDb)]}
        testId="handle-crossing"
        name={`Crossover of ${lowerName} and ${upperName}`}
        freqHz={freqHz}
        words={`${at}, each ${below} against the sum`}
        caption={`${at}, ${below}`}
        onTake={() => (planned.current = freqHz)}
        onDrag={(wanted) => {
          edit(moveCrossing(lower, upper, planned.current, wanted));
          planned.current = wanted;
        }}
        onStep={(factor) => edit(moveCrossing(lower, upper, 1, factor))}
      />
    );
  });
}
