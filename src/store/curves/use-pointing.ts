import { useCallback, useEffect, useMemo } from 'react';
import { useHeldBy } from './use-held-by';
import { setView, useView } from '../view';

interface Pointing {
  /** Parts that are pointed at. */
  readonly pointed: readonly string[];
  /** Parts that the drawing lights up: those pointed at, the one in hand, or those that hold the cursor's level. */
  readonly lit: readonly string[];
  /** Points at parts; at none takes it back. */
  readonly point: (parts: readonly string[]) => void;
}

const NONE: readonly string[] = [];

/** Pointing at the parts of a stage, in its drawing or beside it. */
export function usePointing(stageId: string | undefined): Pointing {
  const pointed = useView((s) => (s.pointed && s.pointed.stageId === stageId ? s.pointed.parts : NONE));
  const picked = useView((s) => s.selectedPart);
  const holders = useHeldBy();
  // What was pointed at is gone with its drawing.
  useEffect(() => () => setView({ pointed: null }), [stageId]);
  const point = useCallback(
    (parts: readonly string[]) =>
      setView({ pointed: stageId !== undefined && parts.length > 0 ? { stageId, parts } : null }),
    [stageId],
  );
  const lit = useMemo(() => {
    if (pointed.length > 0) return pointed;
    if (picked !== null) return [picked];
    return holders.filter((h) => h.stageId === stageId).map((h) => h.part);
  }, [pointed, picked, holders, stageId]);
  return { pointed, lit, point };
}
