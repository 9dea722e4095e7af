/** A harmonic that is more than noise: which, of which tone, and how far under it, dB. */
export interface Harmonic {
  readonly order: number;
  readonly freqHz: number;
  readonly db: number;
}

export interface WithHarmonics {
  readonly freqHz: readonly number[];
  readonly levelDb: readonly number[];
  readonly noiseDb?: readonly number[];
  /** Second, third and so on, on the level’s scale; null where there is none to be had. */
  readonly harmonicsDb?: readonly (readonly (number | null)[])[];
}

/** A harmonic stands out that is so far over the noise, of a tone within so much of the loudest, dB. */
export const OVER_NOISE_DB = 12;
export const WITHIN_DB = 40;
const ABOUT_OCTAVES = 0.5;

/** The strongest harmonic against its own tone that stands out of the noise; null where none does. */
export function strongestHarmonic({ freqHz, levelDb, noiseDb, harmonicsDb = [] }: WithHarmonics): Harmonic | null {
  const top = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  // What a harmonic is listened to for is short: hum that is half an octave away is in it.
  const noiseAbout = (hz: number) =>
    freqHz.reduce(
      (m, f, i) => (Math.abs(Math.log2(f / hz)) <= ABOUT_OCTAVES ? Math.max(m, noiseDb?.[i] ?? m) : m),
      -Infinity,
    );
  let strongest: Harmonic | null = null;
  harmonicsDb.forEach((all, h) =>
    all.forEach((level, i) => {
      if (level === null || levelDb[i] < top - WITHIN_DB) return;
      const noise = Math.max(noiseDb?.[i] ?? -Infinity, noiseAbout((h + 2) * freqHz[i]));
      const db = level - levelDb[i];
      if (level >= noise + OVER_NOISE_DB && (!strongest || db > strongest.db))
        strongest = { order: h + 2, freqHz: freqHz[i], db };
    }),
  );
  return strongest;
}
