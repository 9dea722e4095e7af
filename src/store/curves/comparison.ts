import { levelAt } from '@/core/analysis/curves/marks';
import { useMemo } from 'react';
import { currentVariantOf } from '../edits/edits';
import { keptStore } from './kept-curves';
import { DESK } from '../questions/live';
import { useCurveSources } from './use-shown';
import { shownTraces, type CurveSources, type ShownTrace } from './shown-traces';
import { TRACES, useView, viewStore, type TraceName, type ViewState } from '../view';
import { documentStore } from '../document';

/** Two curves and how far the first lies over the second. */
export interface Comparison {
  /** All that can be compared, the one as built first. */
  readonly curves: readonly ShownTrace[];
  readonly first: ShownTrace;
  readonly second: ShownTrace;
  /** Hz of the first, and dB; NaN where the second has nothing. */
  readonly freqHz: ArrayLike<number>;
  readonly differenceDb: Float64Array;
}

/** Compared with unless something else is chosen: the first of these that there is. */
const USUAL_SECOND = ['ideal', 'ghost', 'bare'];

/** Every trace there is a switch for, switched on. */
const ALL = Object.fromEntries(TRACES.map((name) => [name, true])) as Record<TraceName, true>;

/** Every curve that there is, whether it is shown or hidden. */
const comparable = ({ kept = [], ...sources }: CurveSources): ShownTrace[] =>
  shownTraces({
    ...sources,
    kept: kept.map((curve) => ({ ...curve, hidden: false })),
    shown: ALL,
    flipped: false,
  }).reverse();

/** The difference that is asked for; null where there is nothing to compare with. */
export function comparisonOf(sources: CurveSources, { first, second }: ViewState['compared']): Comparison | null {
  const curves = comparable(sources);
  const named = (key: string | null) => curves.find((c) => c.key === key);
  const one = named(first) ?? curves[0];
  const others = curves.filter((c) => c.key !== one.key);
  const two =
    (second !== one.key && named(second)) ||
    USUAL_SECOND.map((key) => others.find((c) => c.key === key)).find((c) => c !== undefined) ||
    others[0];
  if (!two) return null;
  return {
    curves,
    first: one,
    second: two,
    freqHz: one.freqHz,
    differenceDb: Float64Array.from(one.levelDb, (level, i) => level - levelAt(two.freqHz, two.levelDb, one.freqHz[i])),
  };
}

/** The difference that the view shows. */
export function useComparison(): Comparison | null {
  const sources = useCurveSources();
  const compared = useView((s) => s.compared);
  return useMemo(() => (sources ? comparisonOf(sources, compared) : null), [sources, compared]);
}

/** The same as it stands now, for what is not drawn. */
export function comparisonNow(): Comparison | null {
  const desk = DESK.current().value;
  const { design } = documentStore.getState();
  if (!desk || !design) return null;
  const { ghostVariant, compared } = viewStore.getState();
  return comparisonOf(
    {
      desk,
      measurements: design.measurements,
      kept: keptStore.getState().curves,
      ownName: currentVariantOf(design).name,
      ghostName: design.variants.find((v) => v.id === ghostVariant)?.name,
    },
    compared,
  );
}
