import { levelAt } from '@/core/analysis/marks';
import { useMemo } from 'react';
import { useDesign } from './document';
import { currentVariantOf } from './edits';
import { keptStore } from './kept-curves';
import { DESK } from './questions/live';
import { useAnswer } from './questions/question';
import { shownTraces, type ShownTrace, type TraceSources } from './shown-traces';
import { useView, viewStore, type ViewState } from './view';
import { documentStore } from './document';

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
const USUAL_SECOND = ['ghost', 'bare', 'ideal'];

type Sources = Omit<TraceSources, 'shown' | 'flipped'>;

/** Every curve that there is, whether it is shown or hidden. */
function comparable({ kept = [], ...sources }: Sources): ShownTrace[] {
  const { shown } = viewStore.getInitialState();
  const all = {
    ...shown,
    asBuilt: true,
    ideal: true,
    ghost: true,
    bare: true,
    isolated: true,
    taps: true,
    measured: true,
  };
  const unhidden = kept.map((curve) => ({ ...curve, hidden: false }));
  return shownTraces({ ...sources, kept: unhidden, shown: { ...all, straight: true }, flipped: false }).reverse();
}

/** The difference that is asked for; null where there is nothing to compare with. */
export function comparisonOf(sources: Sources, { first, second }: ViewState['compared']): Comparison | null {
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
  const desk = useAnswer(DESK);
  const measurements = useDesign((d) => d.measurements);
  const kept = keptStore((s) => s.curves);
  const ghostVariant = useView((s) => s.ghostVariant);
  const ownName = useDesign((d) => currentVariantOf(d).name);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghostVariant)?.name);
  const compared = useView((s) => s.compared);
  return useMemo(
    () => (desk ? comparisonOf({ desk, measurements, kept, ownName, ghostName }, compared) : null),
    [desk, measurements, kept, ownName, ghostName, compared],
  );
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
