import { useEffect, useState } from 'react';
import type { Design } from '@/core/design/schema';
import { withoutRecord } from '@/core/design/without-record';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import { startJob, type RunningJob } from '@/workers/job-client';
import { useDesign } from './document';
import { currentVariantOf } from './edits';

/** Kinds of jobs that are asked of a variant of a design. */
type Kind = Extract<JobRequest, { design: unknown; variantId: string }>['kind'];
type Asked<K extends Kind> = Omit<Extract<JobRequest, { kind: K }>, 'kind' | 'design' | 'variantId'>;

const REST_MS = 220;

/**
 * What a job says of the variant on the desk, asked anew when the hand has rested after an edit; null until it has said
 * it. What it said of another design, variant or circuit, or to another question, is not shown in its place.
 * @param asked what it wants to know besides, plain values; null: nothing is asked.
 */
export function useDesignJob<K extends Kind>(kind: K, asked: Asked<K> | null): JobAnswers[K] | null {
  const design = useDesign((d) => d);
  const [answer, setAnswer] = useState<{ readonly of: string; readonly value: JobAnswers[K] } | null>(null);
  const key = JSON.stringify(asked);
  const of = `${kind} ${key} ${shapeOf(design)}`;
  useEffect(() => {
    const besides = JSON.parse(key) as Asked<K> | null;
    if (besides === null) return;
    let job: RunningJob<JobAnswers[K]> | null = null;
    let gone = false;
    const timer = setTimeout(() => {
      job = startJob<K>({
        kind,
        design: withoutRecord(design),
        variantId: design.currentVariant,
        ...besides,
      } as unknown as Extract<JobRequest, { kind: K }>);
      void job.answer.then((said) => !gone && setAnswer(said.ok ? { of, value: said.value } : null));
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
      job?.cancel();
    };
  }, [design, kind, key, of]);
  return answer?.of === of ? answer.value : null;
}

/** Which circuit is on the desk, whatever its values: design, variant, and every stage with its circuit and form. */
const shapeOf = (design: Design): string =>
  `${design.id} ${design.currentVariant} ${currentVariantOf(design)
    .ways.flatMap((w) => w.stages.map((s) => `${s.id} ${s.topology} ${s.mode} ${s.bypassed}`))
    .join()}`;
