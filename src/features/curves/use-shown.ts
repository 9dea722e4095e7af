'use client';

import { useMemo } from 'react';
import { useDesign } from '@/store/document';
import { useResults } from '@/store/results';
import { useView } from '@/store/view';
import { freshSpread, shownTraces, type ShownTrace } from './trace-list';

export function useShownTraces(): ShownTrace[] {
  const design = useDesign((d) => d);
  const desk = useResults((s) => s.desk);
  const shown = useView((s) => s.shown);
  const ghostVariant = useView((s) => s.ghostVariant);
  const flipped = useView((s) => s.flipped);
  return useMemo(() => (desk ? shownTraces({ design, desk, shown, ghostVariant, flipped }) : []), [design, desk, shown, ghostVariant, flipped]);
}

export function useFreshSpread() {
  const design = useDesign((d) => d);
  const spread = useResults((s) => s.spread);
  return useMemo(() => freshSpread(spread, design), [spread, design]);
}
