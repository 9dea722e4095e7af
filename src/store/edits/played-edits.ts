import { FIRST_SEQUENCE, MOST_MOVES, type Move, type Sequence } from '@/core/design/document/played';
import type { Design } from '@/core/design/document/schema';
import { currentVariantOf, type Edit } from './edits';

const playedIn = (draft: Design) =>
  (currentVariantOf(draft).played ??= { sequence: structuredClone(FIRST_SEQUENCE), moves: [] });

/** Another tempo, base or gate of the sequence that is played on the variant. */
export const changeSequence =
  (patch: Partial<Omit<Sequence, 'steps'>>): Edit =>
  (draft) => {
    Object.assign(playedIn(draft).sequence, patch);
  };

export const changeStep =
  (at: number, patch: Partial<Sequence['steps'][number]>): Edit =>
  (draft) => {
    const step = playedIn(draft).sequence.steps[at];
    if (step) Object.assign(step, patch);
  };

export const addMove =
  (move: Move): Edit =>
  (draft) => {
    const { moves } = playedIn(draft);
    if (moves.length < MOST_MOVES) moves.push(move);
  };

export const changeMove =
  (at: number, move: Move): Edit =>
  (draft) => {
    const { moves } = playedIn(draft);
    if (moves[at]) moves[at] = move;
  };

export const removeMove =
  (at: number): Edit =>
  (draft) => {
    playedIn(draft).moves.splice(at, 1);
  };
