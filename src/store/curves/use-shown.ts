'use client';

import { useMemo } from 'react';
import type { SpreadBand } from '@/core/jobs/values/spread';
import { useDesign } from '../document';
import { currentVariantOf } from '../edits/edits';
import { keptStore } from './kept-curves';
import { BAND, DESK } from '../questions/live';
import { useLiveAnswer } from '../questions/question';
import { SPREAD } from '../questions/by-hand';
import { useLongJob } from '../questions/long-job';
import { useView } from '../view';
import { shownTraces, type CurveSources, type ShownTrace } from './shown-traces';

/**
 * Everything that curves can be drawn of, shown or not; null until the desk has answered. Selectors here are narrow on
 * purpose: a drag changes the design before its results are there, and must not draw the old curves again.
 */
export function useCurveSources(): CurveSources | null {
  const desk = useLiveAnswer(DESK);
  const ghostVariant = useView((s) => s.ghostVariant);
  const measurements = useDesign((d) => d.measurements);
  const kept = keptStore((s) => s.curves);
  const ownName = useDesign((d) => currentVariantOf(d).name);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghostVariant)?.name);
  return useMemo(
    () => desk && { desk, measurements, kept, ownName, ghostName },
    [desk, measurements, kept, ownName, ghostName],
  );
}

/** The curves that are on show. */
export function useShownTraces(): ShownTrace[] {
  const sources = useCurveSources();
  const shown = useView((s) => s.shown);
  const flipped = useView((s) => s.flipped);
  return useMemo(() => (sources ? shownTraces({ ...sources, shown, flipped }) : []), [sources, shown, flipped]);
}

/**
 * The band that the parts' tolerances make: the last drawing of parts while the design is as it was then; after a
 * change the live band of fewer draws, and until that is there the old one, marked as stale.
 */
export function useSpreadBand(): { band: SpreadBand; stale: boolean } | null {
  const { result: spread, stale } = useLongJob(SPREAD);
  const live = useLiveAnswer(BAND);
  return useMemo(() => {
    if (!spread) return null;
    if (!stale) return { band: spread.value, stale: false };
    return live ? { band: live, stale: false } : { band: spread.value, stale: true };
  }, [spread, live, stale]);
}
