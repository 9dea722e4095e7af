import { leastSquares } from '../math/least-squares';
import { failure, success, type Result } from '../result';
import type { Curve, ImpedanceModel } from './driver';
import { impedanceAt } from './voice-coil';

export interface ImpedanceFit {
  readonly model: ImpedanceModel;
  /** Root of the mean square of how far the model's size is off, per cent. */
  readonly offPct: number;
}

const MOST_PEAKS = 3;
/** A peak rises by this over the dips beside it, or is none. */
const PROMINENCE = 1.12;
const POINTS = 160;

/**
 * The model that is nearest to a measured impedance in the logarithm of its size, its phase counting too where it was
 * measured. Peaks that stand out become resonances. Fails with `no-impedance` (`reason`) where the curve cannot be a
 * driver's.
 */
export function fitImpedance(measured: Curve): Result<ImpedanceFit, 'no-impedance'> {
  const { freqHz, values, phaseDeg } = thinned(measured);
  if (values.some((ohm) => !(ohm > 0))) return failure('no-impedance', { reason: 'not above zero' });
  if (freqHz[freqHz.length - 1] / freqHz[0] < 10)
    return failure('no-impedance', { reason: 'less than a decade of frequencies' });
  const peaks = peaksOf(values).slice(0, MOST_PEAKS);
  const lowest = Math.min(...values);
  const highest = values[values.length - 1];
  const top = freqHz[freqHz.length - 1];
  const reactance = Math.sqrt(Math.max(highest ** 2 - lowest ** 2, (0.05 * lowest) ** 2));
  const problem = { freqHz, values, phaseDeg, peaks, lowest, reactance, top };
  const [one, two] = [fitted(problem, 1), fitted(problem, 2)];
  // A coil that is half resistance over decades wants a second lossy inductance; one that is not keeps to one.
  return success(two.offPct < WORTH_A_SECOND * one.offPct ? two : one);
}

/** A second lossy inductance is kept where the error is less than this share of what one leaves. */
const WORTH_A_SECOND = 0.8;

interface Problem extends Curve {
  /** Places of the peaks that are resonances. */
  readonly peaks: readonly number[];
  readonly lowest: number;
  /** Ohm of the coil at the highest frequency, Hz. */
  readonly reactance: number;
  readonly top: number;
}

/**
 * The fit with so many lossy inductances in series, each an L with an R across it: a semi-inductive voice coil follows
 * K·s^n, which sections a decade or so apart approach (W. M. Leach, J. AES 50/6, 2002).
 */
function fitted({ freqHz, values, phaseDeg, peaks, lowest, reactance, top }: Problem, sections: 1 | 2): ImpedanceFit {
  const omega = 2 * Math.PI * top;
  const lossy = Array.from({ length: sections }, (_, k) => {
    const apart = sections === 1 ? 1 : [0.35, 6][k];
    return [(0.8 * reactance * apart) / omega, (1.5 * reactance * Math.min(1, apart)) / (k === 0 ? 1 : 2.5)];
  });
  const start = [
    0.93 * lowest,
    (0.4 * reactance) / omega,
    ...lossy.flat(),
    ...peaks.flatMap((k) => [freqHz[k], qOf(freqHz, values, k, lowest), values[k] - lowest]),
  ].map(Math.log);
  const modelOf = (logs: readonly number[]): ImpedanceModel => {
    const [reOhm, leHenry, ...rest] = logs.map(Math.exp);
    const own = rest.slice(2 * sections);
    return {
      reOhm,
      leHenry,
      lossy: lossy.map((_, k) => ({ henry: rest[2 * k], ohm: rest[2 * k + 1] })),
      resonances: peaks.map((_, i) => ({ freqHz: own[3 * i], q: own[3 * i + 1], ohm: own[3 * i + 2] })),
    };
  };
  const each = phaseDeg ? 2 : 1;
  const residuals = (logs: readonly number[]) => {
    const model = modelOf(logs);
    const off = new Float64Array(each * freqHz.length);
    freqHz.forEach((f, i) => {
      const { re, im } = impedanceAt(model, f);
      off[i] = Math.log(Math.hypot(re, im) / values[i]);
      if (phaseDeg) off[freqHz.length + i] = 0.5 * (Math.atan2(im, re) - (phaseDeg[i] * Math.PI) / 180);
    });
    return off;
  };
  const bounds = { low: start.map((s) => s - 3.5), high: start.map((s) => s + 3.5) };
  let best = leastSquares(residuals, start, each * freqHz.length, { ...bounds, iterations: 60 });
  // Its steps may have left it beside the valley: from where it stands, once more.
  best = leastSquares(residuals, best.x, each * freqHz.length, { ...bounds, iterations: 60, damping: 0.01 });
  const model = modelOf(best.x);
  const square = freqHz.reduce((sum, f, i) => {
    const { re, im } = impedanceAt(model, f);
    return sum + (Math.hypot(re, im) / values[i] - 1) ** 2;
  }, 0);
  return { model: rounded(model), offPct: 100 * Math.sqrt(square / freqHz.length) };
}

/** At most so many points, evenly spread in the logarithm. */
function thinned({ freqHz, values, phaseDeg }: Curve): Curve {
  if (freqHz.length <= POINTS) return { freqHz, values, phaseDeg };
  const wanted = Array.from(
    { length: POINTS },
    (_, i) => Math.log(freqHz[0]) + (i / (POINTS - 1)) * Math.log(freqHz[freqHz.length - 1] / freqHz[0]),
  );
  const kept = [...new Set(wanted.map((log) => freqHz.findIndex((f) => Math.log(f) >= log - 1e-9)))].filter(
    (i) => i >= 0,
  );
  return {
    freqHz: kept.map((i) => freqHz[i]),
    values: kept.map((i) => values[i]),
    phaseDeg: phaseDeg && kept.map((i) => phaseDeg[i]),
  };
}

/** Places of the peaks that stand out, highest first. */
function peaksOf(values: readonly number[]): number[] {
  const found: number[] = [];
  for (let i = 1; i < values.length - 1; i++) {
    if (values[i] < values[i - 1] || values[i] < values[i + 1]) continue;
    const dip = (step: 1 | -1) => {
      let low = values[i];
      for (let k = i + step; k >= 0 && k < values.length && values[k] <= values[i]; k += step)
        low = Math.min(low, values[k]);
      return low;
    };
    if (values[i] >= PROMINENCE * Math.max(dip(1), dip(-1))) found.push(i);
  }
  return found
    .sort((a, b) => values[b] - values[a])
    .filter((i, k, all) => all.slice(0, k).every((j) => Math.abs(i - j) > 2));
}

/**
 * Q of the parallel circuit from the width at the geometric mean of peak and floor (R. H. Small, J. AES 20, 1972: f1 f2
 * = fs², Qms = fs √r0/(f2 − f1)).
 */
function qOf(freqHz: readonly number[], values: readonly number[], peak: number, floor: number): number {
  const level = Math.sqrt(values[peak] * floor);
  let [low, high] = [peak, peak];
  while (low > 0 && values[low] > level) low--;
  while (high < values.length - 1 && values[high] > level) high++;
  return Math.min(
    20,
    Math.max(
      0.3,
      (freqHz[peak] * Math.sqrt(values[peak] / floor)) / Math.max(freqHz[high] - freqHz[low], 0.02 * freqHz[peak]),
    ),
  );
}

const figures = (value: number): number => Number(value.toPrecision(5));
const rounded = (model: ImpedanceModel): ImpedanceModel => ({
  reOhm: figures(model.reOhm),
  leHenry: figures(model.leHenry),
  lossy: model.lossy.map(({ henry, ohm }) => ({ henry: figures(henry), ohm: figures(ohm) })),
  resonances: model.resonances
    .map(({ freqHz, q, ohm }) => ({ freqHz: figures(freqHz), q: figures(q), ohm: figures(ohm) }))
    .sort((a, b) => a.freqHz - b.freqHz),
});
