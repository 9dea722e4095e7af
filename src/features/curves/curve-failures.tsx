'use client';

import type { JobRequest } from '@/core/jobs/run-job';
import { failureWords } from '@/ui/words';
import { useResults } from '@/store/results';
import { useView, type CurveView } from '@/store/view';

type Kind = JobRequest['kind'];

/** What a view asks besides the desk's own question. */
const ASKED_BY: Partial<Record<CurveView, readonly Kind[]>> = {
  response: ['band', 'bank', 'turn'],
  step: ['time'],
  wave: ['time'],
  four: ['four-views'],
  ways: ['acoustics'],
  load: ['acoustics'],
  angles: ['angles'],
  decay: ['decay'],
};

/** Why something of the view in front is missing, in a sentence. */
export function CurveFailures() {
  const view = useView((s) => s.curveView);
  const failures = useResults((s) => s.failures);
  const desk = useResults((s) => s.deskFailure);
  const found = (ASKED_BY[view] ?? []).flatMap((kind) => failures[kind] ?? []);
  // The desk's own failure is said above; what fails for the same reason says no more.
  const more = found.filter((failure) => failure.code !== desk?.code);
  if (more.length === 0) return null;
  return (
    <p className="failure curve-failure" role="alert">
      {failureWords(more[0])}
    </p>
  );
}
