/**
 * Frequencies (Hz) spaced evenly in the logarithm from one end to the other, both ends exact.
 * The ends are pinned because exp(log 20) is 19.99….
 */
export function logGrid(fromHz: number, toHz: number, count: number): Float64Array {
  const grid = new Float64Array(count);
  const step = Math.log(toHz / fromHz) / (count - 1);
  for (let i = 0; i < count; i++) grid[i] = fromHz * Math.exp(i * step);
  grid[0] = fromHz;
  if (count > 1) grid[count - 1] = toHz;
  return grid;
}

/** The grid of a command line: so many points a decade, from the first frequency up to and including the last (Hz). */
export function decadeGrid(fromHz: number, toHz: number, pointsPerDecade: number): Float64Array {
  const spans = Math.max(1, Math.round(Math.log10(toHz / fromHz) * pointsPerDecade));
  return logGrid(fromHz, toHz, spans + 1);
}

/** From one frequency to another, Hz. */
export interface Span {
  readonly fromHz: number;
  readonly toHz: number;
}
/** What is heard. */
export const AUDIO_BAND: Span = { fromHz: 20, toHz: 20e3 };
