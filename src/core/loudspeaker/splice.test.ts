import { logGrid } from '../math/grid';
import { must } from '../result';
import { splice } from './splice';

const curve = (fromHz: number, toHz: number, level: (f: number) => number, phase: number | null = null) => {
  const freqHz = Array.from(logGrid(fromHz, toHz, 60));
  return { freqHz, values: freqHz.map(level), phaseDeg: phase === null ? null : freqHz.map(() => phase) };
};

test('near below, far above, the near one brought to the far one’s level where they meet', () => {
  const near = curve(10, 800, (f) => 100 + 3 * Math.log2(f / 100));
  const far = curve(150, 20e3, (f) => 88 + 3 * Math.log2(f / 100));
  const { curve: whole, shiftDb } = must(splice(near, far, 300));
  expect(shiftDb).toBeCloseTo(-12, 6);
  whole.freqHz.forEach((f, i) => expect(whole.values[i]).toBeCloseTo(88 + 3 * Math.log2(f / 100), 5));
  expect(whole.freqHz.every((f, i) => i === 0 || f > whole.freqHz[i - 1])).toBe(true);
  expect(whole.phaseDeg).toBeNull();
});

test('phase is kept where both have it', () =>
  expect(
    must(
      splice(
        curve(10, 800, () => 0, 5),
        curve(150, 20e3, () => 0, 7),
        300,
      ),
    ).curve.phaseDeg?.[0],
  ).toBe(5));

test('curves that do not overlap there are refused, and it is said where they do', () =>
  expect(
    splice(
      curve(10, 320, () => 0),
      curve(150, 20e3, () => 0),
      310,
    ),
  ).toMatchObject({ ok: false, code: 'no-overlap', data: { fromHz: 150, toHz: 320 } }));
