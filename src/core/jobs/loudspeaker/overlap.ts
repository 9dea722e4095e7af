/** Over what range two neighbours sound together, and how far apart in phase they get there. */
export interface Overlap {
  readonly fromHz: number;
  readonly toHz: number;
  /** The furthest from in step, degrees without sign, and where. */
  readonly worstDeg: number;
  readonly worstHz: number;
}

interface Sounding {
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
}

/** Two ways that differ by more do not move their sum by more than 2.4 dB whatever their phase. */
const TOGETHER_DB = 10;

/** About where two ways meet, as far either way as each is within 10 dB of the other. */
export function overlapOf(lower: Sounding, upper: Sounding, freqHz: Float64Array, meetsHz: number): Overlap {
  const together = (i: number) => Math.abs(lower.levelDb[i] - upper.levelDb[i]) <= TOGETHER_DB;
  const middle = Math.max(
    0,
    freqHz.findIndex((f) => f >= meetsHz),
  );
  let [from, to] = [middle, middle];
  while (from > 0 && together(from - 1)) from--;
  while (to < freqHz.length - 1 && together(to + 1)) to++;
  let [worstDeg, worstHz] = [0, freqHz[middle]];
  for (let i = from; i <= to; i++) {
    const apart = Math.abs(((((upper.phaseDeg[i] - lower.phaseDeg[i]) % 360) + 540) % 360) - 180);
    if (apart > worstDeg) [worstDeg, worstHz] = [apart, freqHz[i]];
  }
  return { fromHz: freqHz[from], toHz: freqHz[to], worstDeg, worstHz };
}
