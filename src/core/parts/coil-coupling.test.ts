import { couplingOf, leastDistanceOf, mutualOfTurns } from './coil-coupling';
import { windingOf } from './grades';

const MU0 = 4e-7 * Math.PI;
/**
 * Complete elliptic integrals by the arithmetic-geometric mean (M. Abramowitz, I. Stegun, Handbook of Mathematical
 * Functions, 17.6).
 */
function elliptic(k: number): { K: number; E: number } {
  let [a, b, c, sum, power] = [1, Math.sqrt(1 - k * k), k, (k * k) / 2, 1];
  for (let i = 0; i < 40 && c > 1e-15; i++) {
    [a, b, c] = [(a + b) / 2, Math.sqrt(a * b), (a - b) / 2];
    sum += power * c * c;
    power *= 2;
  }
  const K = Math.PI / (2 * a);
  return { K, E: K * (1 - sum) };
}
/** Two turns on one axis (J. C. Maxwell, A Treatise on Electricity and Magnetism, art. 701). */
function maxwell(a: number, b: number, z: number): number {
  const k = Math.sqrt((4 * a * b) / ((a + b) ** 2 + z * z));
  const { K, E } = elliptic(k);
  return MU0 * Math.sqrt(a * b) * ((2 / k - k) * K - (2 / k) * E);
}

test.each([
  [0.02, 0.02, 0.02],
  [0.015, 0.03, 0.012],
  [0.02, 0.02, 0.1],
])('two turns of %d and %d m on one axis, %d m apart, are as Maxwell has them', (a, b, z) => {
  expect(
    mutualOfTurns({ radiusM: a, alongM: 0 }, { radiusM: b, alongM: 0 }, [0, 0, z], 0) / maxwell(a, b, z),
  ).toBeCloseTo(1, 5);
});

test(
  'far apart they are two dipoles: on the axis, beside it half of that and turned about, and square to ' +
    'one another nothing',
  () => {
    const turn = { radiusM: 0.01, alongM: 0 };
    const far = 0.4;
    const moment = Math.PI * 0.01 ** 2;
    const dipole = (MU0 * moment * moment) / (2 * Math.PI * far ** 3);
    expect(mutualOfTurns(turn, turn, [0, 0, far], 0) / dipole).toBeCloseTo(1, 2);
    expect(mutualOfTurns(turn, turn, [far, 0, 0], 0) / (-dipole / 2)).toBeCloseTo(1, 2);
    expect(Math.abs(mutualOfTurns(turn, turn, [far, 0, 0], Math.PI / 2) / dipole)).toBeLessThan(1e-9);
  },
);

test('near one another the bodies keep them apart, and k stays what a pair of coils can have', () => {
  const winding = windingOf(0.5e-3, { wireMm: 1, core: 1 });
  const coil = { henry: 0.5e-3, winding };
  for (const turned of ['one behind the other', 'side by side', 'one stood up'] as const) {
    const least = leastDistanceOf(winding, winding, turned);
    expect(couplingOf(coil, coil, 0, turned)).toBe(couplingOf(coil, coil, least, turned));
    expect(Math.abs(couplingOf(coil, coil, least, turned))).toBeLessThan(0.6);
    // One that is stood up sees next to nothing, and what is left changes its sign on the way.
    if (turned !== 'one stood up')
      expect(Math.abs(couplingOf(coil, coil, 2 * least, turned))).toBeLessThan(
        Math.abs(couplingOf(coil, coil, least, turned)),
      );
  }
  // Brooks's coil: a mean radius of three halves of its side.
  expect(leastDistanceOf(winding, winding, 'one behind the other')).toBeCloseTo(winding.radiusM / 1.5, 9);
  expect(leastDistanceOf(winding, winding, 'side by side')).toBeCloseTo((winding.radiusM * 8) / 3, 9);
});
