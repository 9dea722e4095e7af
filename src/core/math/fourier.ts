import FFT from 'fft.js';
import { timesResponse } from './complex';

/** The least power of two that holds so many. */
export const powerOfTwo = (count: number): number => 2 ** Math.ceil(Math.log2(Math.max(2, count)));

/** Tables of the sizes last used: making one takes longer than using it. */
const tables = new Map<number, FFT>();
const MOST_TABLES = 4;

function tableOf(size: number): FFT {
  let table = tables.get(size);
  if (!table) {
    if (tables.size >= MOST_TABLES) tables.delete(tables.keys().next().value as number);
    tables.set(size, (table = new FFT(size)));
  }
  return table;
}

/**
 * Spectrum of real samples filled up with zeros: bins 0 to size/2, each re and im by turns. @param size a power of
 * two.
 */
export function realSpectrum(samples: Float64Array, size: number): Float64Array {
  const padded = new Float64Array(size);
  padded.set(samples.subarray(0, size));
  const out = new Float64Array(2 * size);
  tableOf(size).realTransform(out, padded);
  return out.slice(0, size + 2);
}

/**
 * The real samples that have a spectrum of bins 0 to size/2: the inverse of `realSpectrum`. Even and odd samples are
 * the two parts of a complex series half as long (H. V. Sorensen et al., IEEE Trans. ASSP 35, 1987).
 */
export function samplesOf(spectrum: Float64Array, size: number): Float64Array {
  const half = size / 2;
  const packed = new Float64Array(size);
  for (let k = 0; k < half; k++) {
    const [aRe, aIm] = [spectrum[2 * k], spectrum[2 * k + 1]];
    const [bRe, bIm] = [spectrum[2 * (half - k)], -spectrum[2 * (half - k) + 1]];
    const angle = (2 * Math.PI * k) / size;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const [oddRe, oddIm] = [(aRe - bRe) * cos - (aIm - bIm) * sin, (aRe - bRe) * sin + (aIm - bIm) * cos];
    packed[2 * k] = (aRe + bRe - oddIm) / 2;
    packed[2 * k + 1] = (aIm + bIm + oddRe) / 2;
  }
  const out = new Float64Array(size);
  tableOf(half).inverseTransform(out, packed);
  return out;
}

/**
 * The Fourier sum of samples at one frequency, re and im: Σ x[i] e^(−j ω (i − origin)), turned on by multiplication and
 * set right every 1024 samples. @param cycles per sample.
 */
export function fourierAt(samples: Float64Array, cycles: number, origin = 0): readonly [number, number] {
  const omega = -2 * Math.PI * cycles;
  const [stepRe, stepIm] = [Math.cos(omega), Math.sin(omega)];
  let [sumRe, sumIm, re, im] = [0, 0, 0, 0];
  for (let i = 0; i < samples.length; i++) {
    if ((i & 1023) === 0) {
      const angle = omega * (i - origin);
      re = Math.cos(angle);
      im = Math.sin(angle);
    }
    sumRe += samples[i] * re;
    sumIm += samples[i] * im;
    const turned = re * stepRe - im * stepIm;
    im = re * stepIm + im * stepRe;
    re = turned;
  }
  return [sumRe, sumIm];
}

/** Frequencies that a response is wanted at to filter so many samples: all bins but 0 Hz. */
export const binsHz = (length: number, rateHz: number): Float64Array => {
  const size = powerOfTwo(2 * length);
  return Float64Array.from({ length: size / 2 }, (_, k) => ((k + 1) * rateHz) / size);
};

/** Samples through a response that is given at `binsHz`, re and im by turns; nothing of 0 Hz comes through. */
export function filteredBy(samples: Float64Array, response: Float64Array): Float64Array {
  const size = powerOfTwo(2 * samples.length);
  const spectrum = realSpectrum(samples, size);
  spectrum[0] = spectrum[1] = 0;
  spectrum.set(timesResponse(spectrum.subarray(2), response), 2);
  return samplesOf(spectrum, size).slice(0, samples.length);
}
