import { useMemo } from 'react';
import type { Holder } from '@/core/jobs/values/part-moves';
import { HELD_BY } from '../questions/live';
import { useLiveAnswer } from '../questions/question';

/** Parts that are named as holding a level. */
const MOST_NAMED = 3;
/** dB per per cent: a part that moves it less holds nothing. */
const LEAST_DB = 0.005;
const NONE: readonly Holder[] = [];

/** The parts that hold the level under the cursor, those that move it most first; none with no cursor. */
export function useHeldBy(): readonly Holder[] {
  const all = useLiveAnswer(HELD_BY);
  return useMemo(() => all?.filter((h) => Math.abs(h.dbPerPct) >= LEAST_DB).slice(0, MOST_NAMED) ?? NONE, [all]);
}
