/** Series of preferred numbers, IEC 60063. */
export const SERIES_IDS = ['E6', 'E12', 'E24', 'E48', 'E96', 'E192'] as const;
export type SeriesId = (typeof SERIES_IDS)[number];

const E24 = [
  1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2,
  9.1,
];

/**
 * Three-figure series are rounded powers of ten, save that E192 has 9.20 where rounding gives 9.19 (IEC 60063, table
 * 3).
 */
function roundedPowers(count: number): number[] {
  return Array.from({ length: count }, (_, i) => {
    const value = Math.round(100 * 10 ** (i / count)) / 100;
    return value === 9.19 ? 9.2 : value;
  });
}

const DECADE: Record<SeriesId, readonly number[]> = {
  E6: E24.filter((_, i) => i % 4 === 0),
  E12: E24.filter((_, i) => i % 2 === 0),
  E24,
  E48: roundedPowers(48),
  E96: roundedPowers(96),
  E192: roundedPowers(192),
};

/** The values of one decade, 1 to under 10. */
export const decadeOf = (series: SeriesId): readonly number[] => DECADE[series];

/** Multiplies without the dirt of binary fractions: 4.7 and −9 give 4.7e-9 exactly as typed. */
const atDecade = (value: number, decade: number): number => Number(`${value}e${decade}`);

/** Decades that any part lies in: from femtofarads to teraohms and beyond. */
const [FIRST_DECADE, LAST_DECADE] = [-18, 15];
const tables = new Map<SeriesId, Float64Array>();
function tableOf(series: SeriesId): Float64Array {
  const known = tables.get(series);
  if (known) return known;
  const made = Float64Array.from(
    Array.from({ length: LAST_DECADE - FIRST_DECADE + 1 }, (_, d) =>
      DECADE[series].map((v) => atDecade(v, FIRST_DECADE + d)),
    ).flat(),
  );
  tables.set(series, made);
  return made;
}
/** A value so near a member is that member. */
const SAME = 1e-9;

/**
 * The two neighbours of a value in a series (equal when the value is a member). Value and result in the same unit,
 * value positive.
 */
export function neighbours(value: number, series: SeriesId): { below: number; above: number } {
  const table = tableOf(series);
  let [low, high] = [0, table.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (table[middle] <= value) low = middle;
    else high = middle;
  }
  const [below, above] = [table[low], table[high]];
  if (below >= value * (1 - SAME)) return { below, above: below };
  return above <= value * (1 + SAME) ? { below: above, above } : { below, above };
}

/** The preferred value with the smallest ratio to the wanted one. */
export function nearestPreferred(value: number, series: SeriesId): number {
  const { below, above } = neighbours(value, series);
  return value / below <= above / value ? below : above;
}

/** The next value of a series up or down from a value, for stepping with the arrow keys. */
export function stepPreferred(value: number, series: SeriesId, steps: number): number {
  let at = value;
  for (let i = 0; i < Math.abs(steps); i++) {
    at = steps > 0 ? neighbours(at * (1 + 1e-6), series).above : neighbours(at * (1 - 1e-6), series).below;
  }
  return at;
}
