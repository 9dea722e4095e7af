import { useEffect, useRef, useState } from 'react';
import type { Variant } from '@/core/design/document/schema';
import type { Heard } from '@/core/jobs/sound/heard';
import type { ListenRequest } from '@/core/jobs/sound/listen';
import { SoundAsItComes, stopSound } from '@/ui/audio';
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
  // What there is to hear of the one that is being rendered, and what plays it.
  const soFar = useRef<Heard | null>(null);
  const stream = useRef<SoundAsItComes | null>(null);
  const [hearing, setHearing] = useState(false);
  useEffect(
    () => () => {
      running.current?.cancel();
      stopSound();
    },
    [],
  );
  const give = ({ samples, rateHz }: Heard, whole: boolean) => stream.current?.give(samples, rateHz, whole);
  /** Begins to play what is being rendered, from its beginning; or leaves off. */
  const hear = (volume: number | null): void => {
    stopSound();
    stream.current = volume === null ? null : new SoundAsItComes(volume, () => setHearing(false));
    setHearing(volume !== null);
    if (soFar.current) give(soFar.current, false);
  };
  const render = async (request: ListenRequest): Promise<Heard | null> => {
    soFar.current = null;
    // What plays of the one before goes on to its end, and is silenced as it was.
    stream.current = null;
    const job = startJob<'listen'>(request, (share, heard) => {
      setProgress(share);
      if (!heard) return;
      soFar.current = heard;
      give(heard, false);
    });
    running.current = job;
    const answer = await job.answer;
    if (answer.ok) {
      // What was done before anything was told of it is heard all the same.
      give(soFar.current ?? answer.value, true);
      return answer.value;
    }
    if (stream.current) hear(null);
    if (answer.code !== 'cancelled') setFailed(failureWords(answer));
    return null;
  };
  const start = async (variants: readonly Variant[], requestFor: (which: Variant) => ListenRequest): Promise<void> => {
    setFailed(null);
    setRendered([]);
    setProgress(0);
    hear(null);
    const done: Rendered[] = [];
    for (const which of variants.slice(0, MOST_RENDERED)) {
      const heard = await render(requestFor(which));
      if (!heard) break;
      done.push({ variant: which.id, heard });
    }
    setProgress(null);
    setRendered(done);
  };
  const stop = () => {
    if (hearing) hear(null);
    running.current?.cancel();
  };
  return { progress, failed, rendered, hearing, setFailed, start, stop, hear };
}
