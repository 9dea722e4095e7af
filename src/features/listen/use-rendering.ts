import { useEffect, useRef, useState } from 'react';
import type { Variant } from '@/core/design/document/schema';
import type { Heard, ListenRequest } from '@/core/jobs/sound/listen';
import { stopSound } from '@/ui/audio';
import { failureWords } from '@/ui/words/failures';
import { startJob, type RunningJob } from '@/workers/job-client';

/** Variants that are rendered beside one another. */
const MOST_RENDERED = 4;

export interface Rendered {
  readonly variant: string;
  readonly heard: Heard;
}

/** Renders variants one after the other; what was rendered stays until the next are begun. */
export function useRendering() {
  const [progress, setProgress] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [rendered, setRendered] = useState<readonly Rendered[]>([]);
  const running = useRef<RunningJob<Heard> | null>(null);
  useEffect(
    () => () => {
      running.current?.cancel();
      stopSound();
    },
    [],
  );
  const render = async (request: ListenRequest): Promise<Heard | null> => {
    const job = startJob<'listen'>(request, setProgress);
    running.current = job;
    const answer = await job.answer;
    if (answer.ok) return answer.value;
    if (answer.code !== 'cancelled') setFailed(failureWords(answer));
    return null;
  };
  const start = async (variants: readonly Variant[], requestFor: (which: Variant) => ListenRequest): Promise<void> => {
    setFailed(null);
    setRendered([]);
    setProgress(0);
    const done: Rendered[] = [];
    for (const which of variants.slice(0, MOST_RENDERED)) {
      const heard = await render(requestFor(which));
      if (!heard) break;
      done.push({ variant: which.id, heard });
    }
    setProgress(null);
    setRendered(done);
  };
  return { progress, failed, rendered, setFailed, start, stop: () => running.current?.cancel() };
}
