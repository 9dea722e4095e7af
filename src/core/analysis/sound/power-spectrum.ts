import FFT from 'fft.js';

const SIZE = 8192;
/** dB: what lies lower is nothing. */
const FLOOR_DB = -200;

/**
 * Mean power of a sound at each frequency, as a level (dB) of which a full-scale sine has 0: windows of 8192 samples
 * half over one another (P. Welch, IEEE Trans. Audio Electroacoustics AU-15, 1967), each under a raised cosine.
 */
export function powerSpectrum(samples: Float32Array, rateHz: number): { freqHz: Float64Array; levelDb: Float64Array } {
  const fft = new FFT(SIZE);
  const window = Float64Array.from({ length: SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE));
  const power = new Float64Array(SIZE / 2);
  let count = 0;
  for (let start = 0; start === 0 || start + SIZE <= samples.length; start += SIZE / 2) {
    const input = fft.createComplexArray();
    for (let i = 0; i < SIZE; i++) {
      input[2 * i] = (samples[start + i] ?? 0) * window[i];
      input[2 * i + 1] = 0;
    }
    const out = fft.createComplexArray();
    fft.transform(out, input);
    // A sine of amplitude 1 has SIZE/4 in its bin under this window.
    for (let k = 0; k < power.length; k++) power[k] += (out[2 * k] ** 2 + out[2 * k + 1] ** 2) / (SIZE / 4) ** 2;
    count++;
  }
  const bins = Array.from({ length: power.length - 1 }, (_, k) => k + 1);
  return {
    freqHz: Float64Array.from(bins, (k) => (k * rateHz) / SIZE),
    levelDb: Float64Array.from(bins, (k) => Math.max(FLOOR_DB, 10 * Math.log10(power[k] / count))),
  };
}
