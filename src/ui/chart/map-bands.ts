/** A row of a map: where it stands on the map's height, and its levels over the map's frequencies, dB. */
export interface MapRow {
  readonly at: number;
  readonly levelDb: ArrayLike<number>;
}

/** A rectangle of the map's own coordinates: frequency, and what its height counts. */
export interface MapCell {
  readonly fromX: number;
  readonly toX: number;
  readonly fromY: number;
  readonly toY: number;
}

/** Which step of falling levels a level belongs to: 0 above the first, bands.length under the last. */
export function bandOf(levelDb: number, bands: readonly number[]): number {
  const at = bands.findIndex((b) => levelDb >= b);
  return at < 0 ? bands.length : at;
}

/** Half way to the neighbours on each side; to itself at the ends. */
function edges(values: ArrayLike<number>, middle: (a: number, b: number) => number): number[] {
  const inner = Array.from({ length: values.length - 1 }, (_, i) => middle(values[i], values[i + 1]));
  return [values[0], ...inner, values[values.length - 1]];
}

/**
 * The cells of a map by their step of level: neighbours of one step in a row are one cell. What lies under the last
 * step, or is no number, is left empty.
 */
export function cellsByBand(freqHz: ArrayLike<number>, rows: readonly MapRow[], bands: readonly number[]): MapCell[][] {
  const xs = edges(freqHz, (a, b) => Math.sqrt(a * b));
  const ys = edges(
    rows.map((r) => r.at),
    (a, b) => (a + b) / 2,
  );
  const cells: MapCell[][] = bands.map(() => []);
  rows.forEach(({ levelDb }, r) => {
    let begun = 0;
    for (let i = 1; i <= freqHz.length; i++) {
      const band = bandOf(levelDb[begun], bands);
      if (i < freqHz.length && bandOf(levelDb[i], bands) === band) continue;
      if (band < bands.length) cells[band].push({ fromX: xs[begun], toX: xs[i], fromY: ys[r], toY: ys[r + 1] });
      begun = i;
    }
  });
  return cells;
}
