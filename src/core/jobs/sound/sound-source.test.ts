import {
  decimated,
  isWave,
  HALF_TAPS,
  noise,
  OVERSAMPLED,
  sampleOf,
  SOUND_SOURCES,
  voicesOf,
  waveTable,
} from './sound-source';
import { RATE_HZ } from './rate';

const FAST_HZ = RATE_HZ * OVERSAMPLED;
const sine = (hz: number, count: number) =>
  Float64Array.from({ length: count }, (_, i) => Math.sin((2 * Math.PI * hz * i) / FAST_HZ));
/** Of a sine, from its power: a peak may lie between samples. */
const swing = (x: Float64Array) => Math.sqrt((2 * x.reduce((s, v) => s + v * v, 0)) / x.length);
const peak = (x: Float64Array) => x.reduce((m, v) => Math.max(m, Math.abs(v)), 0);

test('going down keeps what is heard and lets nothing fold back', () => {
  const through = (hz: number) => swing(decimated(sine(hz, 4096 * OVERSAMPLED + 2 * HALF_TAPS), 4096));
  for (const hz of [50, 1000, 10_000, 16_000]) expect(through(hz)).toBeCloseTo(1, 1);
  // 27 kHz would be heard as 21 kHz, 40 kHz as 8 kHz.
  for (const hz of [27_000, 40_000]) expect(20 * Math.log10(through(hz))).toBeLessThan(-50);
});

test('a filtered sample stands where it stood: a pulse comes out in its own place', () => {
  const fast = new Float64Array(200 + 2 * HALF_TAPS);
  fast[HALF_TAPS + 100] = 1;
  const low = decimated(fast, 100);
  expect(low.indexOf(peak(low))).toBe(50);
});

test('waves have one peak of one, no steadiness, and no harmonic above a third of the rate', () => {
  for (const source of SOUND_SOURCES.filter(isWave)) {
    const table = waveTable(source, 5000, FAST_HZ);
    const period = table.subarray(0, table.length - 1);
    expect(peak(period)).toBeCloseTo(1, 9);
    expect(period.reduce((s, v) => s + v, 0) / period.length).toBeCloseTo(0, 9);
    expect(table[table.length - 1]).toBeCloseTo(table[0], 9);
    // A third of 96 kHz holds six harmonics of 5 kHz.
    const size = (h: number) =>
      Math.hypot(
        ...[Math.cos, Math.sin].map((f) =>
          period.reduce((s, v, i) => s + v * f((2 * Math.PI * h * i) / period.length), 0),
        ),
      );
    expect(size(7) / size(1)).toBeLessThan(1e-9);
    expect(size(1)).toBeGreaterThan(0);
  }
});

test('a saw falls by one over its harmonic, a square has odd ones alone', () => {
  const size = (table: Float64Array, h: number) =>
    Math.abs(
      table
        .subarray(0, table.length - 1)
        .reduce((s, v, i) => s + v * Math.sin((2 * Math.PI * h * i) / (table.length - 1)), 0),
    );
  const [saw, square] = [waveTable('saw', 100, FAST_HZ), waveTable('square', 100, FAST_HZ)];
  expect(size(saw, 1) / size(saw, 5)).toBeCloseTo(5, 6);
  expect(size(square, 1) / size(square, 3)).toBeCloseTo(3, 6);
  expect(size(square, 2) / size(square, 1)).toBeLessThan(1e-9);
});

test('a table is read between its samples and round its end; noise repeats itself at every hearing', () => {
  const ramp = Float64Array.from({ length: 4097 }, (_, i) => i / 4096);
  expect(sampleOf(ramp, 0.25 + 0.5 / 4096)).toBeCloseTo(0.25 + 0.5 / 4096, 9);
  expect(sampleOf(ramp, 7.75)).toBeCloseTo(0.75, 9);
  const [a, b] = [noise(), noise()];
  const heard = Array.from({ length: 2000 }, a);
  expect(Array.from({ length: 2000 }, b)).toEqual(heard);
  expect(Math.abs(heard.reduce((s, v) => s + v, 0) / heard.length)).toBeLessThan(0.05);
  expect(Math.max(...heard.map(Math.abs))).toBeLessThanOrEqual(1);
  expect(voicesOf('drone', 100)).toHaveLength(4);
  expect(voicesOf('saw', 100)).toEqual([100]);
});
