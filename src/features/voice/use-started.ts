import { useEffect, useRef, useState } from 'react';
import { withoutRecord } from '@/core/design/document/without-record';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import { useDesign } from '@/store/document';
import { failureWords } from '@/ui/words/failures';
import { startJob, type RunningJob } from '@/workers/job-client';

/** A job that is started by hand, with its progress and its answer. */
export function useStarted<K extends 'bend' | 'modulation' | 'song'>(kind: K) {
  const design = useDesign((d) => d);
  const [progress, setProgress] = useState<number | null>(null);
  const [answer, setAnswer] = useState<{ readonly value: JobAnswers[K]; readonly of: unknown } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const running = useRef<RunningJob<JobAnswers[K]> | null>(null);
  useEffect(() => () => running.current?.cancel(), []);
  const start = async (asked: object) => {
    setFailed(null);
    setProgress(0);
    const job = startJob<K>(
      { kind, design: withoutRecord(design), variantId: design.currentVariant, ...asked } as unknown as Extract<
        JobRequest,
        { kind: K }
      >,
      setProgress,
    );
    running.current = job;
    const said = await job.answer;
    setProgress(null);
    if (said.ok) setAnswer({ value: said.value, of: design.variants });
    else if (said.code !== 'cancelled') setFailed(failureWords(said));
  };
  return {
    progress,
    answer: answer?.value ?? null,
    stale: answer !== null && answer.of !== design.variants,
    failed,
    start,
    stop: () => running.current?.cancel(),
  };
}
