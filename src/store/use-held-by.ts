import { useEffect, useMemo } from 'react';
import type { Holder } from '@/core/jobs/values/part-moves';
import { HELD_BY } from './questions/live';
import { useAnswer } from './questions/question';
import { setView } from './view';

/** Parts that are named as holding a level. */
const MOST_NAMED = 3;
/** dB per per cent: a part that moves it less holds nothing. */
const LEAST_DB = 0.005;
const NONE: readonly Holder[] = [];

/** The parts that hold the level under the cursor, those that move it most first; none with no cursor. */
export function useHeldBy(): readonly Holder[] {
  const all = useAnswer(HELD_BY);
  return useMemo(() => all?.filter((h) => Math.abs(h.dbPerPct) >= LEAST_DB).slice(0, MOST_NAMED) ?? NONE, [all]);
}

/** Of one stage, the parts that its drawing lights up: those pointed at or in hand, or that hold the cursor's level. */
export function useLitParts(stageId: string | undefined, pointed: readonly string[]): readonly string[] {
  const holders = useHeldBy();
  // What was pointed at is gone with its drawing.
  useEffect(() => () => setView({ pointedPart: null }), []);
  return useMemo(
    () => (pointed.length > 0 ? pointed : holders.filter((h) => h.stageId === stageId).map((h) => h.part)),
    [pointed, holders, stageId],
  );
}
