'use client';

import type { Stage } from '@/core/design/document/schema';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { useDesign } from './document';
import { currentWayOf } from './edits/edits';
import { DESK } from './questions/live';
import { useAnswer } from './questions/question';
import { useView } from './view';

/** The stage in hand: the selected one, or the path's first. Facts are null until its results are there. */
export function useSelectedStage(): { stage: Stage | null; facts: DeskStage | null } {
  const selected = useView((s) => s.selectedStage);
  const stages = useDesign((d) => currentWayOf(d).stages);
  const desk = useAnswer(DESK);
  const stage = stages.find((s) => s.id === selected) ?? stages[0] ?? null;
  return { stage, facts: desk?.stages.find((s) => s.id === stage?.id) ?? null };
}
