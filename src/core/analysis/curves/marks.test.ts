import { crossings, highestPoint, levelAt, refineCrossing } from './marks';
import { groupDelaysS, levelsDb, phasesDeg } from './response';
import { quantile, shareOfVariance, valueDraws } from '../tolerance/spread';
import { logGrid } from '../../math/grid';

const grid = logGrid(10, 10e3, 61);
const firstOrder = (f: number) => -10 * Math.log10(1 + (f / 1000) ** 2);

describe('crossings', () => {
  test('one falling crossing of a low-pass, near its cutoff on the grid and on it once refined', () => {
    const found = crossings(grid, grid.map(firstOrder), -3.0103);
    expect(found).toHaveLength(1);
    expect(found[0].falling).toBe(true);
    expect(found[0].freqHz / 1000).toBeCloseTo(1, 2);
    const refined = refineCrossing(found[0], 1.2, -10 * Math.log10(2), firstOrder);
    expect(refined.freqHz / 1000).toBeCloseTo(1, 8);
  });

  test('a band has a rising and a falling one', () => {
    const band = grid.map((f) => firstOrder(f) - 10 * Math.log10(1 + (100 / f) ** 2));
    expect(crossings(grid, band, -6).map((c) => c.falling)).toEqual([false, true]);
  });

  test('a level that never gets there has none, and gaps are passed over', () => {
    expect(
      crossings(
        grid,
        grid.map(() => 0),
        -3,
      ),
    ).toEqual([]);
    expect(crossings([1, 2, 3], [0, NaN, -10], -3)).toEqual([]);
  });

  test('what cannot be bracketed stays as it was found', () => {
    const near = { freqHz: 100, falling: true };
    expect(refineCrossing(near, 1.01, -3, () => 0)).toBe(near);
  });
});

test('the highest point is found between grid points, evenly spaced or not, and at an end where it is there', () => {
  const bump = (f: number) => -((20 * Math.log10(f / 333)) ** 2) / 20;
  const uneven = Float64Array.of(100, 150, 310, 340, 500, 2000);
  for (const points of [grid, uneven]) {
    const peak = highestPoint(points, points.map(bump));
    expect(peak.freqHz).toBeCloseTo(333, 6);
    expect(peak.levelDb).toBeCloseTo(0, 9);
  }
  expect(highestPoint(grid, grid.map(firstOrder)).freqHz).toBe(grid[0]);
});

test('levels between grid points, and nothing outside', () => {
  expect(levelAt([10, 1000], [0, -40], 100)).toBeCloseTo(-20, 12);
  expect(levelAt([10, 1000], [0, -40], 5)).toBeNaN();
  expect(levelAt([10, 1000], [0, -40], 1000)).toBe(-40);
});

describe('reading a response', () => {
  test('phase is unwrapped along the grid', () => {
    const turns = Float64Array.from({ length: 40 }, (_, i) =>
      i % 2 === 0 ? Math.cos((i / 2) * -1.2) : Math.sin(((i - 1) / 2) * -1.2),
    );
    const phase = phasesDeg(turns);
    for (let i = 1; i < phase.length; i++) expect(phase[i] - phase[i - 1]).toBeCloseTo((-1.2 * 180) / Math.PI, 9);
    expect(levelsDb(turns)[7]).toBeCloseTo(0, 12);
  });

  test('a pure delay has the same group delay everywhere', () => {
    const delays = groupDelaysS(
      grid,
      grid.map((f) => -360 * f * 1e-4),
    );
    delays.forEach((d) => expect(d).toBeCloseTo(1e-4, 12));
  });
});

describe('draws', () => {
  test('stay within the tolerance, leave other slots alone, and repeat with the seed', () => {
    const nominal = Float64Array.of(100, 5, 7);
    const varying = [
      { slot: 0, tolerancePct: 10 },
      { slot: 2, tolerancePct: 1 },
    ];
    const [a, b] = [valueDraws(nominal, varying, 11), valueDraws(nominal, varying, 11)];
    const [x, y] = [new Float64Array(3), new Float64Array(3)];
    for (let i = 0; i < 200; i++) {
      a(x);
      b(y);
      expect(x).toEqual(y);
      expect(Math.abs(x[0] / 100 - 1)).toBeLessThanOrEqual(0.1);
      expect(x[1]).toBe(5);
      expect(Math.abs(x[2] / 7 - 1)).toBeLessThanOrEqual(0.01);
    }
  });

  test('blame goes to the part that moves the outcome', () => {
    const parts = [0, 1].map((k) => Float64Array.from({ length: 64 }, (_, i) => Math.sin(i * (k + 1) * 1.7)));
    const outcome = parts[0].map((v) => 3 * v + 1);
    const shares = shareOfVariance(parts, outcome);
    expect(shares[0]).toBeCloseTo(1, 9);
    expect(shares[1]).toBeLessThan(0.1);
    expect(shareOfVariance([new Float64Array(64)], outcome)).toEqual([0]);
  });

  test('quantiles interpolate between order statistics', () => {
    expect(quantile([1, 2, 3, 4], 0.5)).toBe(2.5);
    expect(quantile([1, 2, 3, 4], 0)).toBe(1);
    expect(quantile([1, 2, 3, 4], 1)).toBe(4);
  });
});
