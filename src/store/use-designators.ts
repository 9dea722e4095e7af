import { calledIn } from '@/core/design/stages/designators';
import { useMemo } from 'react';
import { ACOUSTICS, DESK } from './questions/live';
import { useAnswer } from './questions/question';

/**
 * What parts of the variant in front are called, by their stage and their name in its circuit: the same on drawings, in
 * tables, lists and on boards. A part that no answer knows yet goes by its name in the circuit.
 */
export function useDesignators(): (stageId: string, part: string) => string {
  const path = useAnswer(DESK, (d) => d.stages);
  const ways = useAnswer(ACOUSTICS, (a) => a.ways);
  return useMemo(() => {
    const stages = new Map([...(path ?? []), ...(ways ?? []).flatMap((w) => w.stages)].map((s) => [s.id, s]));
    return (stageId, part) => calledIn(stages.get(stageId), part);
  }, [path, ways]);
}
