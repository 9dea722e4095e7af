import { spectrogram } from './spectrogram';

const RATE = 48_000;
const loudestAt = (levelDb: Float64Array, freqHz: Float64Array): number =>
  freqHz[levelDb.indexOf(levelDb.reduce((m, v) => Math.max(m, v), -Infinity))];

test('a tone that jumps an octave half way is where it is, before and after, and its silence is far down', () => {
  const samples = Float32Array.from({ length: 2 * RATE }, (_, i) =>
    i < RATE ? Math.sin((2 * Math.PI * 500 * i) / RATE) : 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE),
  );
  const { freqHz, rows } = spectrogram(samples, RATE);
  const [early, late] = [rows.find((r) => r.atS > 0.5)!, rows.find((r) => r.atS > 1.5)!];
  const width = freqHz[1] / freqHz[0];
  expect(loudestAt(early.levelDb, freqHz) / 500).toBeGreaterThan(1 / width);
  expect(loudestAt(early.levelDb, freqHz) / 500).toBeLessThan(width);
  expect(loudestAt(late.levelDb, freqHz) / 1000).toBeGreaterThan(1 / width);
  expect(loudestAt(late.levelDb, freqHz) / 1000).toBeLessThan(width);
  // Half as large is 6 dB down, and 4 kHz has nothing but the window's skirt.
  expect(Math.max(...early.levelDb)).toBeCloseTo(0, 1);
  expect(Math.max(...late.levelDb)).toBeCloseTo(-6.02, 1);
  const far = [...freqHz].findIndex((hz) => hz > 4000);
  expect(early.levelDb[far]).toBeLessThan(-80);
});

test('a sound shorter than a window is one row, and a long one has no more than can be drawn', () => {
  expect(spectrogram(new Float32Array(100), RATE).rows).toHaveLength(1);
  expect(spectrogram(new Float32Array(30 * RATE), RATE).rows.length).toBeLessThanOrEqual(160);
});
