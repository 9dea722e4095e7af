/** A measured curve, ready to be held against what a circuit would give. */
export interface Observation {
  readonly freqHz: Float64Array;
  /** ln of the size, and phase in radians or null. */
  readonly logSize: Float64Array;
  readonly phaseRad: Float64Array | null;
  /** Root mean square of the noise, in the same volts as the size. */
  readonly noise: Float64Array;
}

export interface MeasuredCurve {
  readonly freqHz: ArrayLike<number>;
  readonly levelDb: ArrayLike<number>;
  readonly phaseDeg: ArrayLike<number> | null;
  /** On the level's scale; null where nothing is known. */
  readonly noiseDb: ArrayLike<number> | null;
}

/** Points that a curve is held against. */
const MOST_POINTS = 72;
/** Noise of a measurement that says nothing of it, under the highest level, dB. */
const USUAL_SNR_DB = 70;
/** What a level may be off beside its noise, as a share: 0.01 dB. */
export const SHARE_OFF = 0.0012;

/**
 * Thins a curve to points evenly spread over its octaves. Rows that are no numbers are passed over.
 * @param soundDb the highest level that a sound board has there: noise that nothing is said of is counted from it.
 */
export function observationOf({ freqHz, levelDb, phaseDeg, noiseDb }: MeasuredCurve, soundDb = -Infinity): Observation {
  const good = Array.from({ length: freqHz.length }, (_, i) => i).filter(
    (i) => freqHz[i] > 0 && Number.isFinite(levelDb[i]) && (!phaseDeg || Number.isFinite(phaseDeg[i])),
  );
  const octaves = Math.log2(freqHz[good[good.length - 1]] / freqHz[good[0]]);
  const apart = octaves / MOST_POINTS;
  let last = -Infinity;
  const kept = good.filter((i, k) => {
    const at = Math.log2(freqHz[i]);
    if (k > 0 && k < good.length - 1 && at - last < apart) return false;
    last = at;
    return true;
  });
  const top = kept.reduce((m, i) => Math.max(m, levelDb[i]), soundDb);
  const of = (value: (i: number) => number) => Float64Array.from(kept, value);
  return {
    freqHz: of((i) => freqHz[i]),
    logSize: of((i) => (levelDb[i] * Math.LN10) / 20),
    phaseRad: phaseDeg && of((i) => (phaseDeg[i] * Math.PI) / 180),
    noise: of((i) => {
      const told = noiseDb?.[i];
      return 10 ** ((told !== undefined && Number.isFinite(told) ? told : top - USUAL_SNR_DB) / 20);
    }),
  };
}

/**
 * What is left of an observation where a circuit would give `response` (re and im by turns), in standard deviations:
 * of the level first, then of the phase. Sizes count from the noise up, so that a dead output is a dead output.
 */
export function residualsOf(seen: Observation, response: Float64Array, shareOff: number, into: number[]): void {
  const { freqHz, logSize, phaseRad, noise } = seen;
  for (let i = 0; i < freqHz.length; i++) {
    const size = Math.hypot(response[2 * i], response[2 * i + 1]);
    const heard = Math.hypot(Math.exp(logSize[i]), noise[i] / 10);
    const given = Math.hypot(size, noise[i]);
    const sigma = Math.hypot(shareOff, noise[i] / Math.hypot(heard, noise[i]));
    into.push((Math.log(given) - Math.log(Math.hypot(heard, noise[i]))) / sigma);
  }
  if (!phaseRad) return;
  for (let i = 0; i < freqHz.length; i++) {
    const size = Math.hypot(response[2 * i], response[2 * i + 1]);
    const heard = Math.exp(logSize[i]);
    // Where either is lost in the noise there is no phase.
    const sure = Math.min(1, size / (3 * noise[i]), heard / (3 * noise[i])) ** 2;
    const turn = Math.atan2(response[2 * i + 1], response[2 * i]) - phaseRad[i];
    const wrapped = turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI));
    into.push((sure * wrapped) / Math.hypot(shareOff, noise[i] / Math.max(heard, noise[i])));
  }
}

/**
 * How the same residuals move, for `relative` changes of the response (its size’s, its phase’s, by turns): what of a
 * change is not lost in the noise.
 */
export function slopesOf(
  seen: Observation,
  response: Float64Array,
  relative: Float64Array,
  shareOff: number,
  into: number[],
): void {
  const { freqHz, logSize, phaseRad, noise } = seen;
  for (let i = 0; i < freqHz.length; i++) {
    const power = response[2 * i] ** 2 + response[2 * i + 1] ** 2;
    const heard = Math.hypot(Math.exp(logSize[i]), noise[i] / 10);
    const sigma = Math.hypot(shareOff, noise[i] / Math.hypot(heard, noise[i]));
    into.push((relative[2 * i] * power) / (power + noise[i] ** 2) / sigma);
  }
  if (!phaseRad) return;
  for (let i = 0; i < freqHz.length; i++) {
    const size = Math.hypot(response[2 * i], response[2 * i + 1]);
    const heard = Math.exp(logSize[i]);
    const sure = Math.min(1, size / (3 * noise[i]), heard / (3 * noise[i])) ** 2;
    into.push((sure * relative[2 * i + 1]) / Math.hypot(shareOff, noise[i] / Math.max(heard, noise[i])));
  }
}
