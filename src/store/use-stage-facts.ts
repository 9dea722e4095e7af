'use client';

import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { ACOUSTICS, DESK } from './questions/live';
import { useAnswer } from './questions/question';

/** What the results say of a stage: of the way in hand, or of any way of a crossover. */
export function useStageFacts(id: string): DeskStage | undefined {
  const own = useAnswer(DESK, (d) => d.stages.find((f) => f.id === id));
  const ofAny = useAnswer(ACOUSTICS, (a) => a.ways.flatMap((w) => w.stages).find((f) => f.id === id));
  return own ?? ofAny ?? undefined;
}
