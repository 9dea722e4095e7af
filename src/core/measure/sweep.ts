import { failure, success, type Result } from '../result';

/** A tone that rises from one frequency to another, as many seconds an octave all the way. */
export interface Sweep {
  readonly fromHz: number;
  readonly toHz: number;
  readonly seconds: number;
  readonly rateHz: number;
  /** Peak, dB re full scale. */
  readonly levelDbfs: number;
}

/** Share of an octave's time over which it comes in, and goes out. */
const FADE_IN_OCTAVES = 0.15;
const FADE_OUT_OCTAVES = 0.04;
/** What is recorded after it: the circuit's last sound. Periods of its lowest tone, and the least and the most, s. */
const SILENCE_PERIODS = 10;
const SILENCE_S: readonly [number, number] = [0.3, 2];
/** A tone this near half the rate is the most that a card plays. */
const HIGHEST_SHARE = 0.495;
const MOST_SECONDS = 120;

export const silenceOf = ({ fromHz }: Pick<Sweep, 'fromHz'>): number =>
  Math.min(SILENCE_S[1], Math.max(SILENCE_S[0], SILENCE_PERIODS / fromHz));

/** Seconds in which the frequency grows e times: L of A. Farina, AES 108th Convention, 2000, preprint 5093, eq. 3. */
export const growthS = ({ fromHz, toHz, seconds }: Pick<Sweep, 'fromHz' | 'toHz' | 'seconds'>): number =>
  seconds / Math.log(toHz / fromHz);

/**
 * The samples of an exponential sine sweep with its silence after (A. Farina, AES 108th Convention, 2000, preprint
 * 5093, eq. 3), its ends faded. Fails with `bad-sweep` (`what`).
 */
export function sweepSamples(sweep: Sweep): Result<Float64Array, 'bad-sweep'> {
  const { fromHz, seconds, rateHz, levelDbfs } = sweep;
  const fault = faultOf(sweep);
  if (fault) return failure('bad-sweep', { what: fault });
  const growth = growthS(sweep);
  const played = Math.round(seconds * rateHz);
  const samples = new Float64Array(played + Math.round(silenceOf(sweep) * rateHz));
  const octave = growth * Math.LN2;
  const [fadeIn, fadeOut] = [FADE_IN_OCTAVES * octave, FADE_OUT_OCTAVES * octave];
  const peak = 10 ** (levelDbfs / 20);
  for (let i = 0; i < played; i++) {
    const t = i / rateHz;
    const phase = 2 * Math.PI * fromHz * growth * Math.expm1(t / growth);
    samples[i] = peak * risen(t / fadeIn) * risen((seconds - t) / fadeOut) * Math.sin(phase);
  }
  return success(samples);
}

/** A raised cosine's way from 0 to 1. */
export const risen = (share: number): number =>
  share >= 1 ? 1 : share <= 0 ? 0 : 0.5 - 0.5 * Math.cos(Math.PI * share);

function faultOf({ fromHz, toHz, seconds, rateHz, levelDbfs }: Sweep): string | null {
  if (!(rateHz >= 8000 && rateHz <= 768_000)) return 'rate';
  if (!(fromHz > 0 && toHz >= 2 * fromHz)) return 'range';
  if (toHz > HIGHEST_SHARE * rateHz) return 'top';
  if (!(seconds >= 0.05 && seconds <= MOST_SECONDS)) return 'seconds';
  if (!(levelDbfs <= 0 && levelDbfs >= -120)) return 'level';
  return null;
}

/** Where a sweep's samples stop, and the law that its tone follows. */
export interface SweepLaw {
  readonly fromHz: number;
  readonly toHz: number;
  readonly growthS: number;
  /** Samples that are played; what follows is silence. */
  readonly played: number;
}

/** Zero crossings from which a law is taken, at the most. */
const MOST_CROSSINGS = 400;
/** And samples that lie between two of them, at the least. */
const FEWEST_SAMPLES = 4;

/**
 * Reads the law of a sweep from its samples: the k-th half turn lies at t = L ln(1 + k/(2 f₁ L)), so two crossings far
 * apart and their count give L and f₁, and all of them are looked at after. Fails with `not-a-sweep`.
 */
export function lawOf(samples: Float64Array, rateHz: number): Result<SweepLaw, 'not-a-sweep'> {
  const peak = samples.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  let [first, played] = [0, samples.length];
  while (played > 0 && Math.abs(samples[played - 1]) <= 1e-6 * peak) played--;
  while (first < played && Math.abs(samples[first]) <= 1e-9 * peak) first++;
  const crossings: number[] = [];
  for (let i = first + 1; i < played; i++)
    if (samples[i - 1] < 0 !== samples[i] < 0)
      crossings.push((i - 1 + samples[i - 1] / (samples[i - 1] - samples[i])) / rateHz);
  const count = crossings.length;
  if (count < 20) return failure('not-a-sweep');
  // From the phase's own law: half turns between three crossings, the middle one half way in time, the last where a
  // straight line between samples still finds it.
  const early = Math.max(2, Math.floor(count * 0.002));
  let late = early;
  while (late < count - 1 && (crossings[late + 1] - crossings[late]) * rateHz > FEWEST_SAMPLES) late++;
  if (late - early < 10) return failure('not-a-sweep');
  const [t0, t2] = [crossings[early], crossings[late]];
  let middle = early;
  while (crossings[middle] < (t0 + t2) / 2) middle++;
  const t1 = crossings[middle];
  const growth = growthFrom(t0, t1, t2, middle - early, late - middle);
  if (growth === null) return failure('not-a-sweep');
  // Half turns k from t0: k = 2 f0 L (e^((t − t0)/L) − 1).
  const f0 = (late - early) / (2 * growth * Math.expm1((t2 - t0) / growth));
  const stride = Math.max(1, Math.floor(count / MOST_CROSSINGS));
  for (let k = early; k <= late; k += stride) {
    const halfTurns = 2 * f0 * growth * Math.expm1((crossings[k] - t0) / growth);
    if (Math.abs(halfTurns - (k - early)) > 0.3) return failure('not-a-sweep');
  }
  const fromHz = f0 * Math.exp((first / rateHz - t0) / growth);
  return success({ fromHz, toHz: fromHz * Math.exp((played - first) / rateHz / growth), growthS: growth, played });
}

/** L with (e^((t2−t0)/L) − e^((t1−t0)/L)) / (e^((t1−t0)/L) − 1) = late/early half turns; null where there is none. */
function growthFrom(t0: number, t1: number, t2: number, early: number, late: number): number | null {
  const ratio = late / early;
  const [a, b] = [t1 - t0, t2 - t0];
  // Shares of 1/L: at 0 the ratio is (b − a)/a, and it grows from there.
  const at = (k: number) => (Math.exp(k * b) - Math.exp(k * a)) / Math.expm1(k * a);
  let [low, high] = [1e-6 / b, 60 / b];
  if (!(ratio > at(low)) || !(ratio < at(high))) return null;
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (at(middle) < ratio) low = middle;
    else high = middle;
  }
  return 2 / (low + high);
}
