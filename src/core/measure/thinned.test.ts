import { seeded } from '../testing/seeded';
import { thinned } from './thinned';

const POINTS = 100_000;
const random = seeded('twelve');
const freqHz = Array.from({ length: POINTS }, (_, i) => 10 * 10 ** ((3.5 * i) / POINTS));
const levelDb = freqHz.map((f) => -10 * Math.log10(1 + (f / 1000) ** 4) + 0.2 * (random() - 0.5));
const phaseDeg = freqHz.map((f) => -Math.atan(f / 1000) * 57.3);

test('a long curve is drawn from a tenth of its points, and no null, peak or end of it is lost', () => {
  const with2 = [...levelDb];
  with2[54_321] = -140;
  with2[54_330] = 30;
  const curve = thinned({ freqHz, levelDb: with2, phaseDeg });
  expect(curve.freqHz.length).toBeLessThan(8200);
  expect(curve.freqHz.length).toBeGreaterThan(6000);
  expect([Math.min(...curve.levelDb), Math.max(...curve.levelDb)]).toEqual([-140, 30]);
  expect([curve.freqHz[0], curve.freqHz.at(-1)]).toEqual([freqHz[0], freqHz[POINTS - 1]]);
  const at = curve.levelDb.indexOf(-140);
  expect([curve.freqHz[at], curve.phaseDeg?.[at]]).toEqual([freqHz[54_321], phaseDeg[54_321]]);
  expect(curve.freqHz.every((f, i) => i === 0 || f > curve.freqHz[i - 1])).toBe(true);
});

test('in every slot both ends of what is there are kept', () => {
  const curve = thinned({ freqHz, levelDb, phaseDeg: null });
  // The noise is 0.2 dB from end to end: what is drawn shows nearly all of it everywhere.
  let spread = 0;
  for (let i = 2; i < curve.levelDb.length; i += 2) spread += Math.abs(curve.levelDb[i] - curve.levelDb[i - 1]);
  expect(spread / (curve.levelDb.length / 2)).toBeGreaterThan(0.08);
  expect(curve.phaseDeg).toBeNull();
});

test('a short curve is left alone', () => {
  const short = { freqHz: freqHz.slice(0, 8000), levelDb: levelDb.slice(0, 8000), phaseDeg: null };
  expect(thinned(short)).toBe(short);
});
