import { useMemo } from 'react';
import type { JobAnswers } from '@/core/jobs/run-job';
import { circuitsOf } from './questions/circuits-of';
import { Question, useAnswer, type Asked, type Kind } from './questions/question';

/**
 * What a job says of the variant on the desk, asked anew when the hand has rested after an edit; null until it has said
 * it. What it said of another design, variant or circuit, or to another question, is not shown in its place.
 * @param asked what it wants to know besides, plain values; null: nothing is asked.
 */
export function useDesignJob<K extends Kind>(kind: K, asked: Asked<K> | null): JobAnswers[K] | null {
  const key = JSON.stringify(asked);
  const question = useMemo(
    () => new Question(kind, () => JSON.parse(key) as Asked<K> | null, { pace: 'rest', about: circuitsOf }),
    [kind, key],
  );
  return useAnswer(question);
}
