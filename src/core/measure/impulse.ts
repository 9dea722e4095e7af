import { fourierAt, powerOfTwo, realSpectrum, samplesOf } from '../math/fourier';
import { risen, type SweepLaw } from './sweep';

/** What a card has played or recorded, full scale ±1. */
export interface Recording {
  readonly samples: Float64Array;
  readonly rateHz: number;
}

/**
 * The impulse response of all that is between a sweep and its recording; what is before its start stands at the end.
 */
export interface Impulse {
  readonly samples: Float64Array;
  /** Sample of its peak. */
  readonly at: number;
  /** The same, from the recording's first sample. */
  readonly after: number;
  /** Samples after the peak that the recording still has after its sweep's end. */
  readonly room: number;
  /** Sweeps in the recording that it is the mean of. */
  readonly sweeps: number;
}

/** Of the sweep's strongest bin: what lies lower is not divided by. */
const LEAST_POWER = 1e-7;
/** A sweep that is found is as loud, to this share, as the loudest. */
const AS_LOUD = 0.5;
/** What is kept of the recording before the sweep, s. */
const LEAD_S = 0.1;
/** The correlation's peak stands so far over its root mean square where a sweep is. */
const LEAST_CREST = 8;

/**
 * Recording and sweep correlated, by pieces little longer than the sweep: no recording is too long for the memory.
 */
function correlations(recording: Float64Array, sweep: Float64Array, each: (at: number, value: number) => void): void {
  const size = powerOfTwo(Math.min(1.5 * sweep.length, recording.length + sweep.length));
  const step = Math.max(1, size - sweep.length);
  const own = realSpectrum(sweep, size);
  for (let start = 0; start < recording.length; start += step) {
    const piece = realSpectrum(recording.subarray(start, Math.min(recording.length, start + size)), size);
    const lags = samplesOf(times(piece, own), size);
    const count = Math.min(step, recording.length - start);
    for (let i = 0; i < count; i++) each(start + i, lags[i]);
  }
}

/** a · conj(b), bin by bin, in place of a. */
function times(a: Float64Array, b: Float64Array): Float64Array {
  for (let k = 0; k < a.length; k += 2) {
    const [re, im] = [a[k] * b[k] + a[k + 1] * b[k + 1], a[k + 1] * b[k] - a[k] * b[k + 1]];
    a[k] = re;
    a[k + 1] = im;
  }
  return a;
}

/** Where in a recording its sweeps begin, to a few samples; none where nothing stands out. */
function beginnings(recording: Float64Array, sweep: Float64Array): number[] {
  const found: { at: number; size: number }[] = [];
  let [square, count] = [0, 0];
  const apart = sweep.length / 2;
  correlations(recording, sweep, (at, value) => {
    const size = Math.abs(value);
    square += value * value;
    count++;
    const last = found.at(-1);
    if (last && at - last.at < apart) {
      if (size > last.size) Object.assign(last, { at, size });
    } else if (size > 0) found.push({ at, size });
  });
  const most = found.reduce((m, f) => Math.max(m, f.size), 0);
  if (!(most > LEAST_CREST * Math.sqrt(square / Math.max(1, count)))) return [];
  return found.filter((f) => f.size >= AS_LOUD * most).map((f) => f.at);
}

/** A recording with room for one sweep only is taken whole. */
const FOR_ONE = 1.9;

/** The impulse response between a sweep and its recording; null where the sweep is not in it. */
export function impulseOf(recording: Recording, sweep: Recording, law: SweepLaw): Impulse | null {
  const { samples } = recording;
  if (samples.length < FOR_ONE * sweep.samples.length) {
    const impulse = divided(samples, sweep.samples, powerOfTwo(Math.max(samples.length, sweep.samples.length)));
    const at = peakOf(impulse, 0, samples.length - law.played + 1);
    const room = samples.length - law.played - at;
    const around = rootMeanSquare({ samples: impulse }, 0, impulse.length);
    return room > 0 && Math.abs(impulse[at]) > LEAST_CREST * around
      ? { samples: impulse, at, after: at, room, sweeps: 1 }
      : null;
  }
  const starts = beginnings(samples, sweep.samples);
  const whole = starts.filter((at) => at + law.played < samples.length);
  if (whole.length === 0) return null;
  const lead = Math.min(whole[0], Math.round(LEAD_S * recording.rateHz));
  const next = whole.length > 1 ? whole[1] - whole[0] : Infinity;
  const length = Math.min(lead + sweep.samples.length, samples.length - whole[whole.length - 1] + lead, next);
  const mean = new Float64Array(length);
  for (const at of whole) for (let i = 0; i < length; i++) mean[i] += samples[at - lead + i] / whole.length;
  const impulse = divided(mean, sweep.samples, powerOfTwo(Math.max(length, sweep.samples.length)));
  const at = peakOf(impulse, 0, length);
  return {
    samples: impulse,
    at,
    after: whole[0] - lead + at,
    room: Math.max(1, length - law.played - at),
    sweeps: whole.length,
  };
}

/**
 * What stands in a recording where a sweep would be that is not heard: its noise, read as an impulse response from
 * sample `after` on.
 */
export function silentImpulse(recording: Recording, sweep: Recording, law: SweepLaw, after: number): Impulse {
  const { samples } = recording;
  const size = powerOfTwo(Math.max(samples.length, sweep.samples.length));
  const room = Math.max(1, samples.length - law.played - after);
  return { samples: divided(samples, sweep.samples, size), at: after, after, room, sweeps: 0 };
}

const ownImpulses = new WeakMap<Float64Array, Map<number, Float64Array>>();

/** The sweep through nothing: what is left of an impulse when its band ends. */
export function itself({ samples }: Recording, size: number): Float64Array {
  const kept = ownImpulses.get(samples) ?? new Map<number, Float64Array>();
  ownImpulses.set(samples, kept);
  const known = kept.get(size) ?? divided(samples, samples, size);
  kept.set(size, known);
  return known;
}

const spectra = new WeakMap<Float64Array, { readonly size: number; readonly spectrum: Float64Array }>();

/** A sweep's spectrum, kept as long as the sweep is: it is asked of at every recording. */
function spectrumOfSweep(sweep: Float64Array, size: number): Float64Array {
  const known = spectra.get(sweep);
  if (known?.size === size) return known.spectrum;
  const spectrum = realSpectrum(sweep, size);
  spectra.set(sweep, { size, spectrum });
  return spectrum;
}

/** Spectra divided, with nothing made of what the sweep hardly has (O. Kirkeby et al., IEEE Trans. SAP 6, 1998). */
function divided(heard: Float64Array, played: Float64Array, size: number): Float64Array {
  const own = spectrumOfSweep(played, size);
  let most = 0;
  for (let k = 0; k < own.length; k += 2) most = Math.max(most, own[k] ** 2 + own[k + 1] ** 2);
  const quotient = times(heard === played ? own.slice() : realSpectrum(heard, size), own);
  for (let k = 0; k < own.length; k += 2) {
    const power = own[k] ** 2 + own[k + 1] ** 2 + LEAST_POWER * most;
    quotient[k] /= power;
    quotient[k + 1] /= power;
  }
  return samplesOf(quotient, size);
}

function peakOf(samples: Float64Array, from: number, to: number): number {
  let at = from;
  for (let i = from; i < to; i++) if (Math.abs(samples[i]) > Math.abs(samples[at])) at = i;
  return at;
}

/** What is looked at of an impulse: samples before its peak and after, the ends faded. */
export interface Gate {
  readonly before: number;
  readonly after: number;
}

const FADED_BEFORE = 0.3;
const FADED_AFTER = 0.25;
/** Shares of the way to the second harmonic's impulse, and of the room after the sweep, that a gate may take. */
const MOST_BEFORE = 0.75;
const MOST_AFTER = 0.6;
/** The noise is heard after this share of the room. */
const NOISE_FROM = 0.65;
/** Blocks in which the sound is followed down to the noise, s, and how far over the noise it ends. */
const BLOCK_S = 0.002;
const OVER_NOISE = 4;
/** Of the impulse's peak: what is lower, −134 dB, is not waited for. */
const LEAST_SHARE = 2e-7;
/** Periods of the sweep's lowest tone that are always listened to. */
const LEAST_PERIODS = 2;

/** A gate as long as there is anything to hear over the noise; or so many seconds, where they are given. */
export function gateOf(impulse: Impulse, law: SweepLaw, rateHz: number, gateS?: number): Gate {
  const least = (LEAST_PERIODS / law.fromHz) * rateHz;
  const before = Math.round(Math.min(MOST_BEFORE * law.growthS * Math.LN2 * rateHz, least));
  const most = Math.floor(MOST_AFTER * impulse.room);
  if (gateS !== undefined) return { before, after: Math.max(1, Math.min(impulse.room, Math.round(gateS * rateHz))) };
  const block = Math.max(1, Math.round(BLOCK_S * rateHz));
  const floor = Math.max(
    rootMeanSquare(impulse, impulse.at + NOISE_FROM * impulse.room, impulse.at + impulse.room),
    LEAST_SHARE * Math.abs(impulse.samples[impulse.at]),
  );
  let last = 0;
  for (let from = 0; from + block <= most; from += block)
    if (rootMeanSquare(impulse, impulse.at + from, impulse.at + from + block) > OVER_NOISE * floor) last = from + block;
  return { before, after: Math.round(Math.min(most, Math.max(least, 1.3 * last))) };
}

function rootMeanSquare({ samples }: Pick<Impulse, 'samples'>, from: number, to: number): number {
  let square = 0;
  const [start, end] = [Math.floor(from), Math.max(Math.floor(from) + 1, Math.floor(to))];
  for (let i = start; i < end; i++) square += samples[i % samples.length] ** 2;
  return Math.sqrt(square / (end - start));
}

/** The impulse under its gate, round a sample, from `before` samples before it on. */
function gated(samples: Float64Array, at: number, { before, after }: Gate): Float64Array {
  const size = samples.length;
  return Float64Array.from({ length: before + after }, (_, i) => {
    const v = samples[(((at - before + i) % size) + size) % size];
    return v * shapeAt(i, before, after);
  });
}

function shapeAt(i: number, before: number, after: number): number {
  const start = before > 0 ? (i + 0.5) / (FADED_BEFORE * before) : 1;
  const end = (before + after - i - 0.5) / (FADED_AFTER * after);
  return risen(start) * risen(end);
}

/** Response of a gated impulse, interleaved re and im, its phase counted from sample `at`. */
export function responseOf(
  samples: Float64Array,
  at: number,
  gate: Gate,
  freqHz: Float64Array,
  rateHz: number,
): Float64Array {
  const piece = gated(samples, at, gate);
  const out = new Float64Array(2 * freqHz.length);
  freqHz.forEach((f, i) => out.set(fourierAt(piece, f / rateHz, gate.before), 2 * i));
  return out;
}

/** Over this many octaves to either side the noise is averaged. */
const NOISE_OCTAVES = 1 / 6;

/** Root mean square, at each frequency, of what noise adds to a response through this gate, dB. */
export function noiseOf(impulse: Impulse, gate: Gate, freqHz: Float64Array, rateHz: number): Float64Array {
  const from = Math.floor(impulse.at + NOISE_FROM * impulse.room);
  const count = Math.max(16, Math.floor(impulse.at + impulse.room) - from);
  const size = powerOfTwo(count);
  let under = 0;
  const piece = Float64Array.from({ length: count }, (_, i) => {
    const hann = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / count);
    under += hann * hann;
    return hann * impulse.samples[(from + i) % impulse.samples.length];
  });
  const spectrum = realSpectrum(piece, size);
  let through = 0;
  for (let i = 0; i < gate.before + gate.after; i++) through += shapeAt(i, gate.before, gate.after) ** 2;
  const bin = rateHz / size;
  return freqHz.map((f) => {
    const low = Math.max(1, Math.floor((f * 2 ** -NOISE_OCTAVES) / bin));
    const high = Math.min(size / 2, Math.max(low + 1, Math.ceil((f * 2 ** NOISE_OCTAVES) / bin)));
    let power = 0;
    for (let k = low; k <= high; k++) power += spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2;
    return 10 * Math.log10(((power / (high - low + 1)) * through) / under + 1e-40);
  });
}

/** The gate of a harmonic's impulse, as shares of the way to its neighbours. */
const HARMONIC_BEFORE = 0.35;
const HARMONIC_AFTER = 0.55;

/**
 * Level of a harmonic that a tone of each frequency raises, re what was played, dB; NaN where it lies over the sweep's
 * top. The k-th harmonic of a sweep is the sweep L ln k sooner (A. Farina, preprint 5093, eq. 8).
 */
export function harmonicDb(
  impulse: Impulse,
  order: number,
  law: SweepLaw,
  freqHz: Float64Array,
  rateHz: number,
): Float64Array {
  const growth = law.growthS * rateHz;
  const gate: Gate = {
    before: Math.round(HARMONIC_BEFORE * growth * Math.log((order + 1) / order)),
    after: Math.round(HARMONIC_AFTER * growth * Math.log(order / (order - 1))),
  };
  const at = Math.round(impulse.at - growth * Math.log(order));
  const asked = freqHz.filter((f) => order * f <= law.toHz);
  const found = responseOf(
    impulse.samples,
    at,
    gate,
    asked.map((f) => order * f),
    rateHz,
  );
  return freqHz.map((_, i) =>
    i < asked.length ? 10 * Math.log10(found[2 * i] ** 2 + found[2 * i + 1] ** 2 + 1e-40) : NaN,
  );
}
