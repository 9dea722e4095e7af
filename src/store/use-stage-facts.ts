'use client';

import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { useResults } from './results';

/** What the results say of a stage: of the way in hand, or of any way of a crossover. */
export const useStageFacts = (id: string): DeskStage | undefined =>
  useResults(
    (s) =>
      s.deskToRead?.stages.find((f) => f.id === id) ??
      s.acoustics?.ways.flatMap((w) => w.stages).find((f) => f.id === id),
  );
