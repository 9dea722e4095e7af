'use client';

import { useMemo } from 'react';
import type { SpreadResult } from '@/core/jobs/spread';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { useResults } from '@/store/results';
import { useView } from '@/store/view';
import { shownTraces, spreadIsStale, type ShownTrace } from './trace-list';

/** Selectors here are narrow on purpose: a drag changes the design before its results are there, and must not draw the old curves again. */
export function useShownTraces(): ShownTrace[] {
  const desk = useResults((s) => s.desk);
  const shown = useView((s) => s.shown);
  const ghostVariant = useView((s) => s.ghostVariant);
  const flipped = useView((s) => s.flipped);
  const measurements = useDesign((d) => d.measurements);
  const ownName = useDesign((d) => currentVariantOf(d).name);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghostVariant)?.name);
  return useMemo(() => (desk ? shownTraces({ desk, measurements, ownName, ghostName, shown, flipped }) : []), [desk, measurements, ownName, ghostName, shown, flipped]);
}

/** The last spread of this design, and whether the design has moved on since. */
export function useFreshSpread(): { result: SpreadResult; stale: boolean } | null {
  const spread = useResults((s) => s.spread);
  const here = useDesign((d) => d.id === spread?.forDesign.id);
  const stale = useDesign((d) => spread !== null && spreadIsStale(spread.forDesign, d));
  return useMemo(() => (spread && here ? { result: spread.result, stale } : null), [spread, here, stale]);
}
