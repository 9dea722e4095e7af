/** Slots across a curve, equal in the logarithm of frequency: more than any screen has columns of pixels. */
const SLOTS = 4000;

export interface LevelCurve {
  readonly freqHz: readonly number[];
  readonly levelDb: readonly number[];
  readonly phaseDeg: readonly number[] | null;
}

const known = new WeakMap<readonly number[], LevelCurve>();

/**
 * A curve for drawing: of every slot the points with the lowest and the highest level, so that no peak and no null is
 * lost. A curve with few points is given back as it is. Frequencies in Hz, rising; level in dB, phase in degrees.
 */
export function thinned(curve: LevelCurve): LevelCurve {
  const { freqHz, levelDb, phaseDeg } = curve;
  if (freqHz.length <= 2 * SLOTS) return curve;
  const before = known.get(levelDb);
  if (before) return before;
  const [from, to] = [Math.log(freqHz[0]), Math.log(freqHz[freqHz.length - 1])];
  const slotOf = (i: number) => Math.min(SLOTS - 1, Math.floor(((Math.log(freqHz[i]) - from) / (to - from)) * SLOTS));
  const kept = new Set([0, freqHz.length - 1]);
  let slot = 0;
  let [low, high] = [0, 0];
  const keep = () => kept.add(low).add(high);
  for (let i = 1; i < freqHz.length; i++) {
    const here = slotOf(i);
    if (here !== slot) {
      keep();
      slot = here;
      low = i;
      high = i;
    } else if (levelDb[i] < levelDb[low]) low = i;
    else if (levelDb[i] > levelDb[high]) high = i;
  }
  keep();
  const places = [...kept].sort((a, b) => a - b);
  const made = {
    freqHz: places.map((i) => freqHz[i]),
    levelDb: places.map((i) => levelDb[i]),
    phaseDeg: phaseDeg && places.map((i) => phaseDeg[i]),
  };
  known.set(levelDb, made);
  return made;
}
