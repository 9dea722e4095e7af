import { levelAt } from '../analysis/curves/marks';
import { levelsDb, phasesDeg } from '../analysis/curves/response';
import { atRate } from '../analysis/sound/resample';
import { failure, success, type Result } from '../result';
import {
  gateOf,
  harmonicDb,
  impulseOf,
  itself,
  noiseOf,
  responseOf,
  silentImpulse,
  type Impulse,
  type Recording,
} from './impulse';
import { minimumPhaseDeg } from './minimum-phase';
import { lawOf, type SweepLaw } from './sweep';
import { faultOfSweep, LEAST_PEAK, peakOf, type AnalyseFailure } from './recording-fault';
import { timingOf, type ExcessPhase, type Timing } from './timing';

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
  /** The recorder's clock against the player's, as a share; 0 where they are one. */
  readonly clock: number;
  /** What is to be known of the recording, though it was of use. */
  readonly notes: readonly RecordingNote[];
}

/**
 * `silent`: nothing came through, the levels are the noise's; `quiet`: its peak lies under −50 dB of full scale;
 * `offset`: it had a direct voltage of more than a hundredth of its peak, which was taken off; `latency`: it came later
 * than its reference by more than any circuit keeps a sound back, which was taken off; `clock`: it was made by another
 * clock than the sweep was played by, and was brought to that.
 */
export type RecordingNote = 'silent' | 'quiet' | 'offset' | 'latency' | 'clock';

const POINTS_PER_OCTAVE = 24;
/** For the time alone. */
const TIMING_POINTS = 12;
/** From the highest down: the last ones are the ends of the minimum phase. */
const TIMING_OCTAVES = 6;
const HARMONICS = [2, 3, 4, 5] as const;
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
  const { reference } = options;
  const law = lawOf(sweep.samples, sweep.rateHz);
  if (!law.ok) return law;
  const asked = { rateHz: sweep.rateHz, played: law.value.played };
  const own = faultOfSweep(recording, asked, 'recording');
  // With a reference that sounded, a board from which nothing comes is a finding; without one it may be the cable.
  const finding = own?.code === 'silent-recording' && reference && recording.samples.length >= asked.played;
  const fault = (finding ? null : own) ?? (reference ? faultOfSweep(reference, asked, 'reference') : null);
  if (fault) return fault;
  const still = reference ? withoutOffset(reference, law.value.played) : null;
  const { recording: heardAs, offset } = withoutOffset(recording, law.value.played);
  const impulses = impulsesOf(sweep, law.value);
  const timing = timingBetween(heardAs, still?.recording ?? null, sweep, law.value, impulses);
  if (!timing.ok) return timing;
  const clock = timing.value;
  const read = divide(
    inTime(heardAs, clock),
    still && inTime(still.recording, clock),
    sweep,
    law.value,
    impulses,
    options,
  );
  if (!read.ok) return read;
  return success({
    ...read.value,
    clock,
    notes: [
      ...read.value.notes,
      ...(offset ? (['offset'] as const) : []),
      ...(clock === 0 ? [] : (['clock'] as const)),
    ],
  });
}

/** A recording brought to the player's clock. */
const inTime = ({ samples, rateHz }: Recording, clock: number): Recording =>
  clock === 0 ? { samples, rateHz } : { samples: atRate(samples, rateHz * (1 + clock), rateHz), rateHz };

/** A recording's impulse; null where the sweep is not heard. */
type Impulses = (recording: Recording) => Impulse | null;

/** Finds impulses, each recording's once: what was looked at for its time is there to be divided. */
function impulsesOf(sweep: Recording, law: SweepLaw): Impulses {
  const found = new Map<Float64Array, Impulse | null>();
  return (recording) => {
    const known = found.get(recording.samples);
    if (known !== undefined) return known;
    const impulse = impulseOf(recording, sweep, law);
    found.set(recording.samples, impulse);
    return impulse;
  };
}

/** How often a clock is looked for anew in what was brought to it: the first look may be of a smeared impulse. */
const LOOKS = 3;

/**
 * How far the recorder's clock is from the player's, as a share. It is read from the reference where there is one: a
 * card by itself has no phase to be taken for it. Fails with `recording-broken` where samples were lost.
 */
function timingBetween(
  recording: Recording,
  reference: Recording | null,
  sweep: Recording,
  law: SweepLaw,
  impulses: Impulses,
): Result<number, AnalyseFailure> {
  let clock = 0;
  for (let look = 0; look < LOOKS; look++) {
    const found = timingIn(inTime(reference ?? recording, clock), sweep, law, impulses);
    if (found.brokenAtS !== null && look === 0)
      return failure('recording-broken', { what: reference ? 'reference' : 'recording', atS: found.brokenAtS });
    if (found.clock === 0) break;
    clock = (1 + clock) * (1 + found.clock) - 1;
  }
  const broken = reference && timingIn(inTime(recording, clock), sweep, law, impulses).brokenAtS;
  return typeof broken === 'number' ? failure('recording-broken', { what: 'recording', atS: broken }) : success(clock);
}

/** What the phase of a recording says of its time. */
function timingIn(recording: Recording, sweep: Recording, law: SweepLaw, impulses: Impulses): Timing {
  const { rateHz } = sweep;
  const heard = impulses(recording);
  if (!heard) return { clock: 0, brokenAtS: null };
  const gate = gateOf(heard, law, rateHz);
  const all = gridOf(law, rateHz, TIMING_POINTS);
  const freqHz = all.subarray(Math.max(0, all.length - TIMING_POINTS * TIMING_OCTAVES));
  const own = responseOf(itself(sweep, heard.samples.length), 0, gate, freqHz, rateHz);
  const ratio = quotient(responseOf(heard.samples, heard.at, gate, freqHz, rateHz), own);
  const noiseDb = noiseOf(heard, gate, freqHz, rateHz).map((db, i) => db - levelsDb(own)[i]);
  return timingOf(excessOf(freqHz, levelsDb(ratio), phasesDeg(ratio), noiseDb), law, rateHz);
}

/** Recordings in time with the sweep, their spectra divided. */
function divide(
  heardAs: Recording,
  still: Recording | null,
  sweep: Recording,
  law: SweepLaw,
  impulses: Impulses,
  { gateS, pointsPerOctave = POINTS_PER_OCTAVE, keepDelay }: AnalyseOptions,
): Result<Omit<Analysed, 'clock'>, AnalyseFailure> {
  const { rateHz } = sweep;
  const beside = still && impulses(still);
  if (still && !beside) return failure('sweep-not-found', { what: 'reference' });
  const found = impulses(heardAs);
  if (!found && !isNearlySilent(heardAs, still ?? sweep)) return failure('sweep-not-found', { what: 'recording' });
  // Nothing coming through is a finding: the recording is read where the sweep would be.
  const heard = found ?? silentImpulse(heardAs, sweep, law, beside?.after ?? 0);
  const gate = gateOf(heard, law, rateHz, gateS);
  const freqHz = gridOf(law, rateHz, pointsPerOctave);
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
  const lateS = found ? lateness(excessOf(freqHz, levelDb, near, noiseDb)) : 0;
  const delayS = apartS + lateS;
  // Two recordings that begin at other times differ by more than any circuit keeps a sound back.
  const latency = beside !== null && Math.abs(delayS) > MOST_CIRCUIT_S;
  const delayRemoved = !(keepDelay ?? ((beside !== null && !latency) || Math.abs(delayS) * rateHz < 1));
  const turnS = delayRemoved ? lateS : -apartS;
  return success({
    freqHz,
    levelDb,
    phaseDeg: near.map((deg, i) => deg + 360 * freqHz[i] * turnS),
    noiseDb,
    harmonicsDb: HARMONICS.map((order) => {
      const found = harmonicDb(heard, order, law, freqHz, rateHz);
      return beside ? found.map((db, i) => db - levelAt(freqHz, plainDb, order * freqHz[i])) : found;
    }),
    delayS,
    delayRemoved,
    gateS: gate.after / rateHz,
    sweeps: heard.sweeps,
    notes: [
      ...(found ? [] : (['silent'] as const)),
      ...(found && peakOf(heardAs.samples) < QUIET_PEAK ? (['quiet'] as const) : []),
      ...(latency ? (['latency'] as const) : []),
    ],
  });
}

/** Longer than this no audio filter keeps a sound back beyond its minimum phase, s. */
const MOST_CIRCUIT_S = 5e-3;
/** Peak, re full scale, under which a recording is quiet: −50 dB. */
const QUIET_PEAK = 3.2e-3;
/** A direct voltage worth taking off, as a share of the peak. */
const LEAST_OFFSET = 0.01;
/** Recorded after the sweep, s, at the least, where the direct voltage can be told from the sweep. */
const LEAST_TAIL_S = 0.02;
/** A recording this far under what was played holds nothing of it, as a ratio of root mean squares: −70 dB. */
const SILENT_SHARE = 3e-4;

const meanOf = (samples: Float64Array): number => samples.reduce((sum, v) => sum + v, 0) / Math.max(1, samples.length);
const rmsOf = (samples: Float64Array): number =>
  Math.sqrt(samples.reduce((sum, v) => sum + v * v, 0) / Math.max(1, samples.length));

/**
 * A recording without its direct voltage, as it stands in the silence at its end, or over all of it where there is
 * none; `offset` says whether there was any worth speaking of.
 */
function withoutOffset(
  recording: Recording,
  played: number,
): { readonly recording: Recording; readonly offset: boolean } {
  const { samples, rateHz } = recording;
  const tail = Math.floor((samples.length - played) / 2);
  const still = tail > LEAST_TAIL_S * rateHz ? samples.subarray(samples.length - tail) : samples;
  const mean = meanOf(still);
  const offset = Math.abs(mean) > LEAST_OFFSET * peakOf(samples) && peakOf(samples) > LEAST_PEAK;
  return { recording: offset ? { samples: samples.map((v) => v - mean), rateHz } : recording, offset };
}

/** Whether a recording in which no sweep was found is as good as silent beside what was played. */
const isNearlySilent = ({ samples }: Recording, played: Recording): boolean =>
  rmsOf(samples) < SILENT_SHARE * rmsOf(played.samples);

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

/** The phase beyond a level's minimum phase where it is heard; too few points where too little is. */
function excessOf(
  freqHz: Float64Array,
  levelDb: Float64Array,
  phaseDeg: Float64Array,
  noiseDb: Float64Array,
): ExcessPhase {
  const top = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const over = [...freqHz.keys()].filter(
    (i) => levelDb[i] > noiseDb[i] + OVER_NOISE_DB && levelDb[i] > top - DEEPEST_DB,
  );
  if (over.length < FEWEST) return { freqHz: new Float64Array(), turns: new Float64Array() };
  // Beyond the ends of what is heard the level is no level: there its last slope goes on.
  const stride = Math.ceil((over[over.length - 1] - over[0] + 1) / MOST_POINTS);
  const read: number[] = [];
  for (let i = over[0]; i <= over[over.length - 1]; i += stride) read.push(i);
  const least = minimumPhaseDeg(
    Float64Array.from(read, (i) => freqHz[i]),
    Float64Array.from(read, (i) => levelDb[i]),
  );
  const heard = [...read.keys()].filter((k) => levelDb[read[k]] > top - WITHIN_DB && over.includes(read[k]));
  return {
    freqHz: Float64Array.from(heard, (k) => freqHz[read[k]]),
    turns: Float64Array.from(heard, (k) => (phaseDeg[read[k]] - least[k]) / 360),
  };
}

/**
 * Seconds that a sound is late beyond its minimum phase: the slope of what is left, over the top octave that is heard.
 * 0 where too little is heard.
 */
function lateness({ freqHz, turns }: ExcessPhase): number {
  const from = freqHz.findIndex((f) => f >= freqHz[freqHz.length - 1] / 2);
  const [f, e] = [freqHz.subarray(Math.max(0, from)), turns.subarray(Math.max(0, from))];
  if (f.length < FEWEST) return 0;
  const [f0, e0] = [meanOf(f), meanOf(e)];
  const slope = meanOf(f.map((v, i) => (v - f0) * (e[i] - e0))) / meanOf(f.map((v) => (v - f0) ** 2));
  return -slope;
}
