import FFT from 'fft.js';
import { logGrid } from '../../math/grid';

const SIZE = 4096;
const LOW_HZ = 40;
const HIGH_HZ = 16e3;
const BANDS = 96;
const MOST_ROWS = 160;
const FLOOR_DB = -140;

export interface Spectrogram {
  /** Middles of the bands, Hz, evenly spaced in the logarithm. */
  readonly freqHz: Float64Array;
  /** Of each window: its middle, s, and the loudest of each band, dB of which the loudest of all has 0. */
  readonly rows: readonly { readonly atS: number; readonly levelDb: Float64Array }[];
}

/** What is in a sound as it goes on: windows of 4096 samples under a raised cosine, evenly spaced over it. */
export function spectrogram(samples: Float32Array, rateHz: number): Spectrogram {
  const fft = new FFT(SIZE);
  const window = Float64Array.from({ length: SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE));
  const freqHz = logGrid(LOW_HZ, Math.min(HIGH_HZ, rateHz / 2.2), BANDS);
  const half = Math.sqrt(freqHz[1] / freqHz[0]);
  const span = Math.max(0, samples.length - SIZE);
  const count = Math.min(MOST_ROWS, Math.max(1, Math.ceil(span / (SIZE / 4))));
  let loudest = 1e-12;
  const rows = Array.from({ length: count }, (_, r) => {
    const start = count === 1 ? 0 : Math.round((span * r) / (count - 1));
    const input = fft.createComplexArray();
    for (let i = 0; i < SIZE; i++) {
      input[2 * i] = (samples[start + i] ?? 0) * window[i];
      input[2 * i + 1] = 0;
    }
    const out = fft.createComplexArray();
    fft.transform(out, input);
    const power = freqHz.map((hz) => {
      // A band narrower than a bin takes the nearest.
      const from = Math.max(1, Math.round((hz / half / rateHz) * SIZE));
      const to = Math.max(from, Math.min(SIZE / 2 - 1, Math.round(((hz * half) / rateHz) * SIZE)));
      let most = 0;
      for (let k = from; k <= to; k++) most = Math.max(most, out[2 * k] ** 2 + out[2 * k + 1] ** 2);
      return most;
    });
    loudest = Math.max(loudest, ...power);
    return { atS: (start + SIZE / 2) / rateHz, power };
  });
  return {
    freqHz,
    rows: rows.map(({ atS, power }) => ({
      atS,
      levelDb: power.map((p) => Math.max(FLOOR_DB, 10 * Math.log10(p / loudest))),
    })),
  };
}
