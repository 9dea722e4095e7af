'use client';

import { failureWords } from '@/ui/words/failures';
import { ACOUSTICS, ANGLES, BAND, BANK, DECAY, DESK, FOUR_VIEWS, SHEET, TIME, TURN } from '@/store/questions/live';
import { useFailure, type Askable } from '@/store/questions/question';
import { useView, type CurveView } from '@/store/view';

/** What a view asks besides the desk's own question. */
const ASKED_BY: Partial<Record<CurveView, readonly Askable[]>> = {
  response: [BAND, BANK, TURN],
  step: [TIME],
  wave: [TIME],
  four: [FOUR_VIEWS],
  ways: [ACOUSTICS],
  load: [ACOUSTICS],
  angles: [ANGLES],
  decay: [DECAY],
  sheet: [SHEET],
};
const NONE: readonly Askable[] = [];
const THE_DESK = [DESK];

/** Why something of the view in front is missing, in a sentence. */
export function CurveFailures() {
  const view = useView((s) => s.curveView);
  const failure = useFailure(ASKED_BY[view] ?? NONE);
  const desk = useFailure(THE_DESK);
  // The desk's own failure is said above; what fails for the same reason says no more.
  if (!failure || failure.code === desk?.code) return null;
  return (
    <p className="failure curve-failure" role="alert">
      {failureWords(failure)}
    </p>
  );
}
