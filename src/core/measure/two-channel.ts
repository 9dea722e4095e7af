import { levelsDb, phasesDeg } from '../analysis/curves/response';
import { powerOfTwo, realSpectrum } from '../math/fourier';
import { failure, success, type Result } from '../result';
import { gridOf, type Analysed } from './analyse';

/** Bins that a point is taken from, at the least: fewer say nothing of the noise. */
const FEWEST_BINS = 5;
/** Under the strongest, dB, there is nothing to divide by. */
const LEAST_DB = 80;
/** And as far to either side of a point as this, as a share of its frequency, where there are more. */
const AROUND = 0.004;

/**
 * What stands between two voltages that were recorded together, whatever was played: cross-spectrum over spectrum, and
 * the noise from their coherence (J. S. Bendat, A. G. Piersol, Random Data, 3rd ed., 6.1 and 9.2). Frequencies that
 * were not played are left out. Fails with `silent-recording` (`what`) or `sweep-not-found` (`what`) where nothing was.
 */
export function transferBetween(
  source: Float64Array,
  output: Float64Array,
  rateHz: number,
  range: { readonly fromHz: number; readonly toHz: number },
): Result<Analysed, 'silent-recording' | 'sweep-not-found'> {
  if (!source.some((v) => v !== 0)) return failure('silent-recording', { what: 'reference' });
  if (!output.some((v) => v !== 0)) return failure('silent-recording', { what: 'recording' });
  const size = powerOfTwo(2 * source.length);
  const [x, y] = [realSpectrum(withoutMean(source), size), realSpectrum(withoutMean(output), size)];
  const binHz = rateHz / size;
  const grid = gridOf(range, rateHz);
  const binsOf = (hz: number) => Math.round(hz / binHz);
  const strongest = strongestOf(x, binsOf(grid[0]), binsOf(grid[grid.length - 1]));
  const found: { f: number; re: number; im: number; noise: number }[] = [];
  for (const f of grid) {
    const half = Math.max(FEWEST_BINS, Math.floor((AROUND * f) / binHz));
    const at = binsOf(f);
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
    // Padded to twice its length, a spectrum has two bins for every one that is by itself.
    const noise = Math.sqrt(((yy / xx) * (1 - coherence)) / (count / 2));
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
    clock: 0,
    notes: [],
  });
}

/** Without its mean: a scope's offset is no sound. */
export function withoutMean(samples: Float64Array): Float64Array {
  const mean = samples.reduce((sum, v) => sum + v, 0) / samples.length;
  return samples.map((v) => v - mean);
}

function strongestOf(spectrum: Float64Array, from: number, to: number): number {
  let most = 0;
  for (let k = Math.max(1, from); k <= to; k++) most = Math.max(most, spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2);
  return most;
}
