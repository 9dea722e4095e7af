import fc from 'fast-check';
import { decadeOf, nearestPreferred, neighbours, SERIES_IDS, stepPreferred } from './preferred';

test('series have as many values as they are called after', () =>
  SERIES_IDS.forEach((id) => expect(new Set(decadeOf(id)).size).toBe(Number(id.slice(1)))));
test('known members of IEC 60063', () => {
  expect(decadeOf('E6')).toEqual([1, 1.5, 2.2, 3.3, 4.7, 6.8]);
  expect(decadeOf('E96')).toEqual(expect.arrayContaining([1.02, 2.37, 6.65, 9.76]));
  expect(decadeOf('E192')).toContain(9.2);
});
test('members of a series are their own nearest, whatever the decade', () => {
  expect(nearestPreferred(4.7e-9, 'E12')).toBe(4.7e-9);
  expect(nearestPreferred(23790, 'E96')).toBe(23700);
  expect(nearestPreferred(9.9e3, 'E6')).toBe(10e3);
});
test('the nearest value is never further than either neighbour', () =>
  fc.assert(
    fc.property(fc.double({ min: 1e-12, max: 1e7, noNaN: true }), fc.constantFrom(...SERIES_IDS), (value, series) => {
      const { below, above } = neighbours(value, series);
      expect(below).toBeLessThanOrEqual(value * (1 + 1e-8));
      expect(above).toBeGreaterThanOrEqual(value * (1 - 1e-8));
      expect([below, above]).toContain(nearestPreferred(value, series));
    }),
  ));
test('stepping walks the series across decades', () => {
  expect(stepPreferred(8.2e3, 'E12', 1)).toBe(10e3);
  expect(stepPreferred(10e3, 'E12', -2)).toBe(6.8e3);
});
