import { must } from '../result';
import { mutualOfTurns } from './coil-coupling';
import { windingOf } from './grades';
import { woundCoil, type CoilFormer } from './wound-coil';

/**
 * H. A. Wheeler, Simple Inductance Formulas for Radio Coils, Proc. IRE 16, 1928: 0.8 a²n²/(6a + 9b + 10c) microhenries,
 * inches, mean radius, length and depth; to 1 % where the three terms are about equal.
 */
const wheeler = (turns: number, meanM: number, lengthM: number, depthM: number): number => {
  const [a, b, c] = [meanM, lengthM, depthM].map((m) => m / 0.0254);
  return (0.8e-6 * (a * turns) ** 2) / (6 * a + 9 * b + 10 * c);
};

test.each<[henry: number, former: CoilFormer]>([
  [1e-3, { wireM: 1e-3, radiusM: 0.0125, widthM: 0.022 }],
  [0.33e-3, { wireM: 0.7e-3, radiusM: 0.01, widthM: 0.015 }],
  [4.7e-3, { wireM: 1.4e-3, radiusM: 0.025, widthM: 0.04 }],
])('%d H on %j is what Wheeler’s formula makes of its turns, to 3 %', (henry, former) => {
  const coil = must(woundCoil(henry, former));
  const depth = coil.outerRadiusM - former.radiusM;
  expect(wheeler(coil.turns, former.radiusM + depth / 2, former.widthM, depth) / coil.henry).toBeCloseTo(1, 1);
  expect(Math.abs(wheeler(coil.turns, former.radiusM + depth / 2, former.widthM, depth) / coil.henry - 1)).toBeLessThan(
    0.03,
  );
  // The nearest whole number of turns: one more adds about 2/n of it.
  expect(Math.abs(coil.henry / henry - 1)).toBeLessThan(1.5 / coil.turns);
  expect(coil.layers).toBe(Math.ceil(coil.turns / coil.turnsPerLayer));
  expect(coil.copperKg / ((8960 * Math.PI) / 4)).toBeCloseTo(coil.lengthM * former.wireM ** 2, 9);
  expect(coil.ohm).toBeCloseTo((1.724e-8 * coil.lengthM) / ((Math.PI / 4) * former.wireM ** 2), 9);
});

test('two turns have what Neumann’s integral says of two circles, and twice the half of each', () => {
  const former = { wireM: 1e-3, radiusM: 0.02, widthM: 0.003 };
  const two = must(woundCoil(0.39e-6, former));
  expect(two.turns).toBe(2);
  const radiusM = 0.02 + 0.00053;
  const one = 4e-7 * Math.PI * radiusM * (Math.log((8 * radiusM) / 0.0005) - 1.75);
  const pair = mutualOfTurns({ radiusM, alongM: 0 }, { radiusM, alongM: 0.00106 }, [0, 0, 0], 0);
  // Circles so near one another want many points of Neumann’s: to half a per cent.
  expect(two.henry / (2 * one + 2 * pair)).toBeCloseTo(1, 1);
});

test('of the best shape for its wire it has the turns that the grades reckon with', () => {
  const best = windingOf(1e-3, { wireMm: 1, core: 1 });
  const side = best.radiusM / 1.5;
  const coil = must(woundCoil(1e-3, { wireM: 1e-3, radiusM: best.radiusM - side / 2, widthM: side }));
  expect(Math.abs(coil.turns / best.turns - 1)).toBeLessThan(0.06);
  expect(Math.abs(coil.ohm / best.ohm - 1)).toBeLessThan(0.08);
});

test('wire that does not go between the cheeks, and more than a former can hold, are said', () => {
  expect(woundCoil(1e-3, { wireM: 2e-3, radiusM: 0.01, widthM: 0.002 })).toMatchObject({ ok: false, code: 'no-room' });
  expect(woundCoil(0.1, { wireM: 1e-3, radiusM: 0.003, widthM: 0.01 })).toMatchObject({
    ok: false,
    code: 'too-many-turns',
    data: { most: 800 },
  });
});
