import { AUDIO_BAND, type Span } from '@/core/math/grid';
import { documentStore } from '../document';
import { gridFor } from '../questions/axis';
import { setView, viewStore } from '../view';

/** Hz: what can be shown at all. */
export const LOWEST_HZ = 1e-3;
export const HIGHEST_HZ = 1e9;
/** A range spans no less than this, as a ratio: a semitone and a half. */
export const LEAST_RATIO = 1.09;
/** Figures of a range: more are not read off an axis. */
const DIGITS = 5;

const rounded = (hz: number): number => Number(hz.toPrecision(DIGITS));

/** A range within what can be shown, keeping its width where one end runs into a limit. */
function within({ fromHz, toHz }: Span): Span {
  const ratio = Math.min(HIGHEST_HZ / LOWEST_HZ, Math.max(LEAST_RATIO, toHz / fromHz));
  const middle = Math.sqrt(fromHz * toHz);
  const from = Math.min(HIGHEST_HZ / ratio, Math.max(LOWEST_HZ, middle / Math.sqrt(ratio)));
  return { fromHz: rounded(from), toHz: rounded(from * ratio) };
}

/** The range with everything about a frequency drawn so much narrower (factor under 1) or wider. */
export const zoomed = ({ fromHz, toHz }: Span, factor: number, aboutHz: number): Span =>
  within({ fromHz: aboutHz * (fromHz / aboutHz) ** factor, toHz: aboutHz * (toHz / aboutHz) ** factor });

/** The range moved up by a share of its own width. */
export const panned = ({ fromHz, toHz }: Span, share: number): Span => {
  const by = (toHz / fromHz) ** share;
  return within({ fromHz: fromHz * by, toHz: toHz * by });
};

/** Frequencies that the curves are shown over now. */
export function rangeNow(): Span {
  const { design } = documentStore.getState();
  const { range } = viewStore.getState();
  if (range || !design) return range ?? AUDIO_BAND;
  const { fromHz, toHz } = gridFor(design);
  return { fromHz, toHz };
}

/** Shows the curves over a range; null: over what the design calls for. */
export const showRange = (range: Span | null): void => setView({ range: range && within(range) });

/** Zooms about a frequency, or about the cursor, or about the middle. */
export function zoomRange(factor: number, aboutHz?: number): void {
  const now = rangeNow();
  const { cursor } = viewStore.getState();
  const inside = cursor !== null && cursor >= now.fromHz && cursor <= now.toHz ? cursor : null;
  setView({ range: zoomed(now, factor, aboutHz ?? inside ?? Math.sqrt(now.fromHz * now.toHz)) });
}

export const panRange = (share: number): void => setView({ range: panned(rangeNow(), share) });
