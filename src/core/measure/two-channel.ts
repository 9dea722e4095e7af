import { levelsDb, phasesDeg } from '../analysis/response';
import { powerOfTwo, realSpectrum } from '../math/fourier';
import { failure, success, type Result } from '../result';
import type { Analysed } from './analyse';

export interface TwoChannelOptions {
  readonly fromHz: number;
  readonly toHz: number;
  readonly pointsPerOctave?: number;
}

const POINTS_PER_OCTAVE = 24;
/** Bins that a point is taken from, at the least: fewer say nothing of the noise. */
const FEWEST_BINS = 5;
/** Under the strongest, dB, there is nothing to divide by. */
const LEAST_DB = 80;
const HIGHEST = 0.48;

/**
 * What stands between two voltages that were recorded together, whatever was played: cross-spectrum over spectrum, and
 * the noise from their coherence (J. S. Bendat, A. G. Piersol, Random Data, 3rd ed., 6.1 and 9.2). Frequencies that
 * were not played are left out. Fails with `silent-recording` (`what`) or `sweep-not-found` (`what`) where nothing was.
 */
export function transferBetween(
  source: Float64Array,
  output: Float64Array,
  rateHz: number,
  { fromHz, toHz, pointsPerOctave = POINTS_PER_OCTAVE }: TwoChannelOptions,
): Result<Analysed, 'silent-recording' | 'sweep-not-found'> {
  if (!source.some((v) => v !== 0)) return failure('silent-recording', { what: 'reference' });
  if (!output.some((v) => v !== 0)) return failure('silent-recording', { what: 'recording' });
  const size = powerOfTwo(2 * source.length);
  const [x, y] = [realSpectrum(without(source), size), realSpectrum(without(output), size)];
  const binHz = rateHz / size;
  const top = Math.min(toHz, HIGHEST * rateHz);
  const strongest = strongestOf(x, Math.max(1, Math.floor(fromHz / binHz)), Math.floor(top / binHz));
  const found: { f: number; re: number; im: number; noise: number }[] = [];
  const step = 2 ** (1 / pointsPerOctave);
  // Padded to twice its length, a spectrum has two bins for every one that is by itself.
  for (let f = fromHz; f <= top * 1.0001; f *= step) {
    const half = Math.max(FEWEST_BINS, Math.floor((f * (Math.sqrt(step) - 1)) / binHz / 4));
    const at = Math.round(f / binHz);
    let [xx, yy, re, im, count] = [0, 0, 0, 0, 0];
    for (let k = Math.max(1, at - half); k <= Math.min(size / 2, at + half); k++) {
      const [a, b, c, d] = [x[2 * k], x[2 * k + 1], y[2 * k], y[2 * k + 1]];
      xx += a * a + b * b;
      yy += c * c + d * d;
      re += c * a + d * b;
      im += d * a - c * b;
      count++;
    }
    if (!(xx / count > strongest * 10 ** (-LEAST_DB / 10))) continue;
    const coherence = Math.min(1 - 1e-14, (re * re + im * im) / (xx * yy));
    const noise = Math.sqrt(((yy / xx) * (1 - coherence)) / Math.max(1, count / 2));
    found.push({ f, re: re / xx, im: im / xx, noise });
  }
  if (found.length < FEWEST_BINS) return failure('sweep-not-found', { what: 'recording' });
  const response = Float64Array.from(found.flatMap(({ re, im }) => [re, im]));
  return success({
    freqHz: Float64Array.from(found, (p) => p.f),
    levelDb: levelsDb(response),
    phaseDeg: phasesDeg(response),
    noiseDb: Float64Array.from(found, (p) => 20 * Math.log10(p.noise + 1e-15)),
    harmonicsDb: [],
    delayS: 0,
    delayRemoved: false,
    gateS: source.length / rateHz,
    sweeps: 1,
  });
}

/** Without its mean: a scope's offset is no sound. */
function without(samples: Float64Array): Float64Array {
  const mean = samples.reduce((sum, v) => sum + v, 0) / samples.length;
  return samples.map((v) => v - mean);
}

function strongestOf(spectrum: Float64Array, from: number, to: number): number {
  let most = 0;
  for (let k = from; k <= to; k++) most = Math.max(most, spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2);
  return most;
}
