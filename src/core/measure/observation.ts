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
/**
 * No measurement is cleaner than this under its highest level, dB, whatever is said of its noise: the model of the
 * circuit, the card and the interpolation between points are not.
 */
const CLEANEST_DB = 96;
/** What a level may be off beside its noise, as a share: 0.01 dB. */
export const SHARE_OFF = 0.0012;

/**
 * Thins a curve to points evenly spread over its octaves. Rows that are no numbers are passed over.
 * @param soundDb the highest level that a sound board has there: noise that nothing is said of is counted from it.
 * @param most points that are kept.
 */
export function observationOf(
  { freqHz, levelDb, phaseDeg, noiseDb }: MeasuredCurve,
  soundDb = -Infinity,
  most = MOST_POINTS,
): Observation {
  const good = Array.from({ length: freqHz.length }, (_, i) => i).filter(
    (i) => freqHz[i] > 0 && Number.isFinite(levelDb[i]) && (!phaseDeg || Number.isFinite(phaseDeg[i])),
  );
  const octaves = Math.log2(freqHz[good[good.length - 1]] / freqHz[good[0]]);
  const apart = octaves / most;
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
      const db = told !== undefined && Number.isFinite(told) ? told : top - USUAL_SNR_DB;
      return 10 ** (Math.max(db, top - CLEANEST_DB) / 20);
    }),
  };
}

/** An observation with all that does not depend on the circuit worked out: levels and phases with their deviations. */
export interface Weighed {
  readonly logHeard: Float64Array;
  readonly levelSigma: Float64Array;
  readonly phaseRad: Float64Array | null;
  readonly phaseSigma: Float64Array;
  /** How sure a phase is for what was heard, and for what a circuit would give: 0 where it is lost in the noise. */
  readonly sure: Float64Array;
  readonly noiseSquare: Float64Array;
}

/** Over the noise, as a ratio, a phase is wholly sure. */
const SURE = 3;

/** @param shareOff what a level may be off beside its noise, as a share. */
export function weighed({ logSize, phaseRad, noise }: Observation, shareOff: number): Weighed {
  const of = (value: (size: number, noise: number) => number) => noise.map((n, i) => value(Math.exp(logSize[i]), n));
  return {
    phaseRad,
    // Sizes count from the noise up, so that a dead output is a dead output.
    logHeard: of((size, n) => Math.log(size * size + 1.01 * n * n) / 2),
    levelSigma: of((size, n) => Math.sqrt(shareOff ** 2 + (n * n) / (size * size + 1.01 * n * n))),
    phaseSigma: of((size, n) => Math.sqrt(shareOff ** 2 + (n / Math.max(size, n)) ** 2)),
    sure: of((size, n) => Math.min(1, size / (SURE * n)) ** 2),
    noiseSquare: of((_, n) => n * n),
  };
}

/**
 * What is left of an observation where a circuit would give `response` (re and im by turns), in standard deviations:
 * of the level first, then of the phase.
 */
export function residualsOf(seen: Weighed, response: Float64Array, into: number[]): void {
  const { logHeard, levelSigma, phaseRad, phaseSigma, noiseSquare } = seen;
  const count = logHeard.length;
  for (let i = 0; i < count; i++) {
    const power = response[2 * i] * response[2 * i] + response[2 * i + 1] * response[2 * i + 1];
    into.push((Math.log(power + noiseSquare[i]) / 2 - logHeard[i]) / levelSigma[i]);
  }
  if (!phaseRad) return;
  for (let i = 0; i < count; i++) {
    const [re, im] = [response[2 * i], response[2 * i + 1]];
    const turn = Math.atan2(im, re) - phaseRad[i];
    const wrapped = turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI));
    into.push((sureOf(seen, i, re * re + im * im) * wrapped) / phaseSigma[i]);
  }
}

const sureOf = ({ sure, noiseSquare }: Weighed, i: number, power: number): number =>
  Math.min(sure[i], power / (SURE * SURE * noiseSquare[i]));

/** How the same residuals move for relative changes of the response: its size’s and its phase’s, by turns. */
export function slopesOf(seen: Weighed, response: Float64Array, relative: Float64Array, into: number[]): void {
  const { logHeard, levelSigma, phaseRad, phaseSigma, noiseSquare } = seen;
  const count = logHeard.length;
  const powerAt = (i: number) => response[2 * i] * response[2 * i] + response[2 * i + 1] * response[2 * i + 1];
  for (let i = 0; i < count; i++) {
    const power = powerAt(i);
    into.push((relative[2 * i] * power) / (power + noiseSquare[i]) / levelSigma[i]);
  }
  if (!phaseRad) return;
  for (let i = 0; i < count; i++) into.push((sureOf(seen, i, powerAt(i)) * relative[2 * i + 1]) / phaseSigma[i]);
}
