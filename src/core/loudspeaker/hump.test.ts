import { logGrid } from '../math/grid';
import { seeded } from '../testing/seeded';
import { findHump } from './hump';

const freqHz = logGrid(20, 20e3, 400);
/** A resonance over a slope, as a second-order section: (s² + K s/Q + 1)/(s² + s/Q + 1) has K at its centre. */
const resonance = (f: number, centreHz: number, q: number, db: number): number => {
  const k = 10 ** (db / 20);
  const u = f / centreHz;
  return 10 * Math.log10(((1 - u * u) ** 2 + ((k * u) / q) ** 2) / ((1 - u * u) ** 2 + (u / q) ** 2));
};

test.each([
  [1000, 2, 3, 0],
  [1000, 2, 3, -3],
  [1000, 2, 3, 4],
  [2600, 1.2, 2.5, -1],
  [420, 4, 6, 2],
  [5000, 3, 1.2, 0],
])('a resonance of %d Hz, Q %d, %d dB over %d dB an octave is found as it is', (centreHz, q, db, slope) => {
  const level = Array.from(freqHz, (f) => 86 + slope * Math.log2(f / 1000) + resonance(f, centreHz, q, db));
  const hump = findHump(level, freqHz, 100, 10e3)!;
  expect(hump.centreHz / centreHz).toBeCloseTo(1, 2);
  expect(hump.depthDb).toBeCloseTo(db, 1);
  // Half of the decibels are gone where u − 1/u = ±√K/Q.
  const half = Math.sqrt(10 ** (db / 20)) / q;
  expect(hump.widthOct).toBeCloseTo((2 / Math.LN2) * Math.asinh(half / 2), 1);
});

test('in the ripple of a room it is still found, and of two the higher', () => {
  const random = seeded('room');
  const level = Array.from(
    freqHz,
    (f) => 88 + resonance(f, 700, 2, 2) + resonance(f, 3000, 2, 4) + 0.6 * (random() - 0.5),
  );
  const hump = findHump(level, freqHz, 100, 10e3)!;
  expect(hump.centreHz / 3000).toBeCloseTo(1, 1);
  expect(Math.abs(hump.depthDb - 4)).toBeLessThan(0.4);
  const low = findHump(level, freqHz, 100, 1500)!;
  expect(low.centreHz / 700).toBeCloseTo(1, 1);
});

test.each([
  ['a level line', (_: number) => 88],
  ['a slope', (f: number) => 88 - 6 * Math.log2(f / 1000)],
  ['a dip', (f: number) => 88 - resonance(f, 1000, 2, 4)],
  ['a roll-off', (f: number) => 88 - 10 * Math.log10(1 + (f / 2000) ** 4)],
  [
    'a steeper roll-off in ripple',
    (f: number) => 88 - 10 * Math.log10(1 + (f / 1500) ** 8) + 0.15 * Math.sin(9 * Math.log(f)),
  ],
  ['a bass roll-off', (f: number) => 88 - 10 * Math.log10(1 + (300 / f) ** 4)],
  ['what rises by half a decibel', (f: number) => 88 + resonance(f, 1000, 2, 0.5)],
])('%s has none', (_, level) => {
  expect(findHump(Array.from(freqHz, level), freqHz, 100, 10e3)).toBeNull();
});
