/**
 * Rates that double and halve through half-band filters: what is between the samples is what was there, and nothing
 * folds back into what is heard.
 */

/**
 * How far images and what would fold are held down, dB, and up to what share of the lower rate the filters are flat.
 */
const STOP_DB = 104;
const FLAT_TO = 0.42;

/**
 * Modified Bessel function of order zero, by its series (M. Abramowitz, I. Stegun, Handbook of Mathematical Functions,
 * 9.6.12).
 */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; k < 60; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/**
 * Shape of the window that holds them down so far, and the window at a place from −1 to 1 (J. F. Kaiser, Nonrecursive
 * digital filter design using the I0-sinh window, 1974).
 */
const BETA = 0.1102 * (STOP_DB - 8.7);
const PEAK = besselI0(BETA);
const kaiser = (x: number): number => besselI0(BETA * Math.sqrt(Math.max(0, 1 - x * x))) / PEAK;

const made = new Map<string, Float64Array>();

/**
 * A half-band low-pass for a signal that fills so much of the lower rate: windowed sinc, odd length, every second tap
 * but the middle one nothing (length after Kaiser).
 *
 * @param edge of the pass band, as a share of the higher rate, under a quarter.
 */
export function halfBand(edge: number): Float64Array {
  const key = edge.toFixed(6);
  const known = made.get(key);
  if (known) return known;
  const width = 2 * Math.PI * (0.5 - 2 * edge);
  const half = 2 * Math.ceil((STOP_DB - 8) / (2.285 * width) / 4) + 1;
  const taps = Float64Array.from({ length: 2 * half + 1 }, (_, i) => {
    const k = i - half;
    const sinc = k === 0 ? 0.5 : k % 2 === 0 ? 0 : Math.sin((Math.PI * k) / 2) / (Math.PI * k);
    return sinc * kaiser(k / (half + 1));
  });
  // Exactly one at DC: the odd taps add to a half.
  const odd = taps.reduce((sum, v, i) => sum + ((i - half) % 2 === 0 ? 0 : v), 0);
  taps.forEach((v, i) => ((i - half) % 2 === 0 ? 0 : (taps[i] = (v * 0.5) / odd)));
  made.set(key, taps);
  return taps;
}

/** Edges of the stages from the lowest rate up: the first is sharp, the further ones have room. */
const edgesOf = (factor: number): number[] =>
  Array.from({ length: Math.log2(factor) }, (_, k) => FLAT_TO / 2 ** (k + 1));

/** A signal at a rate so many times (a power of two) higher, in its own place in time: sample i is sample i·factor. */
export function upsampled(signal: Float64Array, factor: number): Float64Array {
  return edgesOf(factor).reduce((low, edge) => doubled(low, halfBand(edge)), signal);
}

/** A signal at a rate so many times lower, every factor-th sample in its own place. */
export function downsampled(signal: Float64Array, factor: number): Float64Array {
  return edgesOf(factor)
    .reverse()
    .reduce((high, edge) => halved(high, halfBand(edge)), signal);
}

function doubled(low: Float64Array, taps: Float64Array): Float64Array {
  const half = (taps.length - 1) / 2;
  const out = new Float64Array(2 * low.length);
  for (let i = 0; i < low.length; i++) {
    out[2 * i] = low[i];
    // Between two samples only the odd taps meet any.
    let sum = 0;
    for (let k = -half; k <= half; k += 2) {
      const at = i + (1 + k) / 2;
      if (at >= 0 && at < low.length) sum += taps[half - k] * low[at];
    }
    out[2 * i + 1] = 2 * sum;
  }
  return out;
}

function halved(high: Float64Array, taps: Float64Array): Float64Array {
  const half = (taps.length - 1) / 2;
  const out = new Float64Array(high.length >> 1);
  for (let i = 0; i < out.length; i++) {
    let sum = 0.5 * high[2 * i];
    for (let k = -half; k <= half; k += 2) {
      const at = 2 * i + k;
      if (at >= 0 && at < high.length) sum += taps[half + k] * high[at];
    }
    out[i] = sum;
  }
  return out;
}

/**
 * How many periods of the lower rate a sample between samples looks to either side, when rates are in no simple ratio.
 */
const REACH = 48;

/** Places between two samples at which the windowed sinc is read off its table: a straight line between, −130 dB. */
const PHASES = 2048;
const tables = new Map<number, Float64Array>();

/** The windowed sinc from its middle to its end, for a pass band of this share of the rate, so many places a sample. */
function sincTable(cut: number, reach: number): Float64Array {
  const known = tables.get(cut);
  if (known) return known;
  const table = Float64Array.from({ length: reach * PHASES + 2 }, (_, i) => {
    const x = i / PHASES;
    return kaiser(Math.min(1, x / reach)) * (x === 0 ? cut : Math.sin(Math.PI * cut * x) / (Math.PI * x));
  });
  tables.clear();
  tables.set(cut, table);
  return table;
}

/**
 * A signal at another rate, whatever their ratio: a windowed sinc at the lower of the two rates, at every place in
 * time.
 */
export function atRate(signal: Float64Array, fromHz: number, toHz: number): Float64Array {
  if (fromHz === toHz) return signal;
  const cut = Math.min(1, toHz / fromHz);
  const reach = Math.ceil(REACH / cut);
  const table = sincTable(cut, reach);
  const out = new Float64Array(Math.floor((signal.length * toHz) / fromHz));
  for (let i = 0; i < out.length; i++) {
    const at = (i * fromHz) / toHz;
    const middle = Math.floor(at);
    const last = Math.min(signal.length - 1, middle + reach);
    let sum = 0;
    for (let k = Math.max(0, middle - reach + 1); k <= last; k++) {
      const place = Math.abs(at - k) * PHASES;
      const below = Math.floor(place);
      const value = table[below];
      sum += signal[k] * (value + (place - below) * (table[below + 1] - value));
    }
    out[i] = sum;
  }
  return out;
}
