import { levelAt } from '../analysis/curves/marks';
import { levelsDb, phasesDeg } from '../analysis/curves/response';
import { brokenAt } from './broken';
import { failure, success, type Failure, type Result } from '../result';
import { gateOf, harmonicDb, impulseOf, itself, noiseOf, responseOf, type Recording } from './impulse';
import { minimumPhaseDeg } from './minimum-phase';
import { lawOf, type SweepLaw } from './sweep';

export interface AnalyseOptions {
  /** The card by itself, through a cable: divided out. */
  readonly reference?: Recording;
  /** How long after the first sound is listened to, s; without it, as long as there is anything over the noise. */
  readonly gateS?: number;
  readonly pointsPerOctave?: number;
  /**
   * Whether the delay is left in the phase. Without it: yes where there is a reference, which has the same; else no,
   * unless it is less than a sample.
   */
  readonly keepDelay?: boolean;
}

/** What a sweep's recording says of what the sweep went through. */
export interface Analysed {
  readonly freqHz: Float64Array;
  /** Of what was recorded to what was played, dB; re the reference where there is one. */
  readonly levelDb: Float64Array;
  /** Unwrapped. */
  readonly phaseDeg: Float64Array;
  /** What noise adds to the response, on the level's scale: root mean square, dB. */
  readonly noiseDb: Float64Array;
  /** Second to fifth harmonic of a tone of each frequency, on the level's scale, dB; NaN where it is over the top. */
  readonly harmonicsDb: readonly Float64Array[];
  /** What the sound is late, beyond what the circuit's level says it keeps back by itself, s. */
  readonly delayS: number;
  /** Whether it was taken off the phase. */
  readonly delayRemoved: boolean;
  readonly gateS: number;
  /** Sweeps found in the recording, averaged. */
  readonly sweeps: number;
}

export type AnalyseFailure =
  | 'not-a-sweep'
  | 'rate-differs'
  | 'silent-recording'
  | 'recording-clipped'
  | 'recording-too-short'
  | 'recording-broken'
  | 'sweep-not-found'
  | 'channels-swapped';

const POINTS_PER_OCTAVE = 24;
const HARMONICS = [2, 3, 4, 5] as const;
/** Peak, re full scale, under which there was nothing to hear: −100 dB. */
const LEAST_PEAK = 1e-5;
/** Samples at full scale, three or more in a row: from this share on a recording is of no use. */
const MOST_CLIPPED = 1e-5;
const FULL_SCALE = 0.9999;
const IN_A_ROW = 3;
/** A card by itself is as even as this over the middle of its range, dB from end to end; what is measured seldom is. */
const EVEN_DB = 3;
const UNEVEN_DB = 6;
/** The highest tone asked of a recording, as a share of its rate. */
const HIGHEST = 0.48;

/**
 * Level, phase, noise and harmonics of what a sweep went through: the recording's spectrum divided by the sweep's, the
 * impulse responses set apart, each under its gate (A. Farina, AES 108th Convention, 2000, preprint 5093, 3). What the
 * gate does to a band that ends is taken off by looking at the reference, or the sweep itself, through the same gate.
 */
export function analyse(
  recording: Recording,
  sweep: Recording,
  options: AnalyseOptions = {},
): Result<Analysed, AnalyseFailure> {
  const { reference, gateS, pointsPerOctave = POINTS_PER_OCTAVE } = options;
  const law = lawOf(sweep.samples, sweep.rateHz);
  if (!law.ok) return law;
  const asked = { rateHz: sweep.rateHz, played: law.value.played };
  const fault =
    faultOfSweep(recording, asked, 'recording') ?? (reference ? faultOfSweep(reference, asked, 'reference') : null);
  if (fault) return fault;
  const { rateHz } = sweep;
  const heard = impulseOf(recording, sweep, law.value);
  if (!heard) return failure('sweep-not-found', { what: 'recording' });
  const beside = reference ? impulseOf(reference, sweep, law.value) : null;
  if (reference && !beside) return failure('sweep-not-found', { what: 'reference' });
  const gate = gateOf(heard, law.value, rateHz, gateS);
  const freqHz = gridOf(law.value, rateHz, pointsPerOctave);
  const seen = responseOf(heard.samples, heard.at, gate, freqHz, rateHz);
  const plain = beside
    ? responseOf(beside.samples, beside.at, gate, freqHz, rateHz)
    : responseOf(itself(sweep, heard.samples.length), 0, gate, freqHz, rateHz);
  if (beside && evenness(freqHz, plain) > UNEVEN_DB && evenness(freqHz, seen) <= EVEN_DB)
    return failure('channels-swapped');
  const ratio = quotient(seen, plain);
  const levelDb = levelsDb(ratio);
  const near = phasesDeg(ratio);
  const plainDb = levelsDb(plain);
  const noiseDb = noiseOf(heard, gate, freqHz, rateHz).map((db, i) => db - plainDb[i]);
  const apartS = (heard.after - (beside?.after ?? 0)) / rateHz;
  const lateS = lateness(freqHz, levelDb, near, noiseDb);
  const delayS = apartS + lateS;
  const delayRemoved = !(options.keepDelay ?? (beside !== null || Math.abs(delayS) * rateHz < 1));
  const turnS = delayRemoved ? lateS : -apartS;
  return success({
    freqHz,
    levelDb,
    phaseDeg: near.map((deg, i) => deg + 360 * freqHz[i] * turnS),
    noiseDb,
    harmonicsDb: HARMONICS.map((order) => {
      const found = harmonicDb(heard, order, law.value, freqHz, rateHz);
      return beside ? found.map((db, i) => db - levelAt(freqHz, plainDb, order * freqHz[i])) : found;
    }),
    delayS,
    delayRemoved,
    gateS: gate.after / rateHz,
    sweeps: heard.sweeps,
  });
}

type Asked = [asked: { readonly rateHz: number; readonly played: number }, what: 'recording' | 'reference'];

/**
 * Why a recording is of no use, whatever was played into it; null where it is of some. @param asked the rate that it is
 * to have, and samples that were played.
 */
export function faultOf({ samples, rateHz }: Recording, ...[asked, what]: Asked): Failure<AnalyseFailure> | null {
  if (rateHz !== asked.rateHz) return failure('rate-differs', { what, rateHz, wantedHz: asked.rateHz });
  let [peak, clipped, row] = [0, 0, 0];
  for (let i = 0; i < samples.length; i++) {
    const size = Math.abs(samples[i]);
    if (size > peak) peak = size;
    row = size >= FULL_SCALE ? row + 1 : 0;
    if (row === IN_A_ROW) clipped += IN_A_ROW;
    else if (row > IN_A_ROW) clipped++;
  }
  if (!(peak > LEAST_PEAK)) return failure('silent-recording', { what });
  if (clipped > MOST_CLIPPED * samples.length)
    return failure('recording-clipped', { what, share: clipped / samples.length });
  if (samples.length < asked.played)
    return failure('recording-too-short', { what, seconds: samples.length / rateHz, neededS: asked.played / rateHz });
  return null;
}

/** The same of a sweep, which goes on from its first tone to its last. */
function faultOfSweep(recording: Recording, ...[asked, what]: Asked): Failure<AnalyseFailure> | null {
  const fault = faultOf(recording, asked, what);
  const atS = fault ? null : brokenAt(recording);
  return atS === null ? fault : failure('recording-broken', { what, atS });
}

/** From the lowest tone that was played to the highest that the rate tells, so many points an octave. */
export function gridOf(
  law: Pick<SweepLaw, 'fromHz' | 'toHz'>,
  rateHz: number,
  pointsPerOctave = POINTS_PER_OCTAVE,
): Float64Array {
  const top = Math.min(law.toHz, HIGHEST * rateHz);
  const steps = Math.max(1, Math.floor(pointsPerOctave * Math.log2(top / law.fromHz) + 1e-6));
  return Float64Array.from({ length: steps + 1 }, (_, i) => law.fromHz * 2 ** (i / pointsPerOctave));
}

/** a / b, both interleaved re and im. */
export function quotient(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length);
  for (let k = 0; k < a.length; k += 2) {
    const size = b[k] ** 2 + b[k + 1] ** 2;
    out[k] = (a[k] * b[k] + a[k + 1] * b[k + 1]) / size;
    out[k + 1] = (a[k + 1] * b[k] - a[k] * b[k + 1]) / size;
  }
  return out;
}

/** dB between the highest and the lowest level over the middle three fifths of the range, in octaves. */
function evenness(freqHz: Float64Array, response: Float64Array): number {
  const middle = levelsDb(response).subarray(Math.floor(0.2 * freqHz.length), Math.ceil(0.8 * freqHz.length));
  return middle.reduce((m, v) => Math.max(m, v), -Infinity) - middle.reduce((m, v) => Math.min(m, v), Infinity);
}

/** Points are heard where they stand so far over the noise, and counted within so much of the loudest, dB. */
const OVER_NOISE_DB = 20;
const WITHIN_DB = 50;
/** Lower than this under the loudest a level is the gate's as often as the circuit's, dB. */
const DEEPEST_DB = 90;
const FEWEST = 6;
/** Points that the minimum phase is taken from, at the most. */
const MOST_POINTS = 400;

/**
 * Seconds that a sound is late beyond its minimum phase: the slope, over the top octave that is heard, of what is left.
 * 0 where too little is heard.
 */
function lateness(freqHz: Float64Array, levelDb: Float64Array, phaseDeg: Float64Array, noiseDb: Float64Array): number {
  const top = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const over = [...freqHz.keys()].filter(
    (i) => levelDb[i] > noiseDb[i] + OVER_NOISE_DB && levelDb[i] > top - DEEPEST_DB,
  );
  if (over.length < FEWEST) return 0;
  // Beyond the ends of what is heard the level is no level: there its last slope goes on.
  const stride = Math.ceil((over[over.length - 1] - over[0] + 1) / MOST_POINTS);
  const read: number[] = [];
  for (let i = over[0]; i <= over[over.length - 1]; i += stride) read.push(i);
  const least = minimumPhaseDeg(
    Float64Array.from(read, (i) => freqHz[i]),
    Float64Array.from(read, (i) => levelDb[i]),
  );
  const heard = [...read.keys()].filter((k) => levelDb[read[k]] > top - WITHIN_DB && over.includes(read[k]));
  const highest = freqHz[read[heard[heard.length - 1]]];
  const used = heard.filter((k) => freqHz[read[k]] >= highest / 2);
  if (used.length < FEWEST) return 0;
  const mean = (of: (k: number) => number) => used.reduce((sum, k) => sum + of(k), 0) / used.length;
  const excess = (k: number) => phaseDeg[read[k]] - least[k];
  const at = (k: number) => freqHz[read[k]];
  const [f0, e0] = [mean(at), mean(excess)];
  const slope = mean((k) => (at(k) - f0) * (excess(k) - e0)) / mean((k) => (at(k) - f0) ** 2);
  return -slope / 360;
}
