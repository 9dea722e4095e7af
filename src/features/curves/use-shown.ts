'use client';

import { useMemo } from 'react';
import type { SpreadBand } from '@/core/jobs/values/spread';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { changedSince, useResults } from '@/store/results';
import { useView } from '@/store/view';
import { shownTraces, type ShownTrace } from './trace-list';

/**
 * Selectors here are narrow on purpose: a drag changes the design before its results are there, and must not draw the
 * old curves again.
 */
export function useShownTraces(): ShownTrace[] {
  const desk = useResults((s) => s.desk);
  const shown = useView((s) => s.shown);
  const ghostVariant = useView((s) => s.ghostVariant);
  const flipped = useView((s) => s.flipped);
  const measurements = useDesign((d) => d.measurements);
  const ownName = useDesign((d) => currentVariantOf(d).name);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghostVariant)?.name);
  return useMemo(
    () => (desk ? shownTraces({ desk, measurements, ownName, ghostName, shown, flipped }) : []),
    [desk, measurements, ownName, ghostName, shown, flipped],
  );
}

/**
 * The band that the parts' tolerances make: the last drawing of parts while the design is as it was then; after a
 * change the live band of fewer draws, and until that is there the old one, marked as stale.
 */
export function useSpreadBand(): { band: SpreadBand; stale: boolean } | null {
  const spread = useResults((s) => s.spread);
  const live = useResults((s) => s.band);
  const here = useDesign((d) => d.id === spread?.forDesign.id);
  const stale = useDesign((d) => spread !== null && changedSince(spread.forDesign, d));
  return useMemo(() => {
    if (!spread || !here) return null;
    if (!stale) return { band: spread.result, stale: false };
    return live && live.forDesign.id === spread.forDesign.id
      ? { band: live.band, stale: false }
      : { band: spread.result, stale: true };
  }, [spread, live, here, stale]);
}
