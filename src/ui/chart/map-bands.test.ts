import { bandOf, cellsByBand } from './map-bands';

const BANDS = [-3, -6, -9];

test('a level belongs to the first step whose lower edge it reaches', () => {
  expect([2, -3, -3.01, -6, -8.9, -9, -9.1, NaN].map((db) => bandOf(db, BANDS))).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
});

test('cells of one step are joined along a row; every place is covered once, but what lies under the last', () => {
  const freqHz = [100, 200, 400, 800, 1600];
  const rows = [
    { at: 0, levelDb: [0, -1, -4, -4, -20] },
    { at: 1, levelDb: [-4, -4, -4, -4, -4] },
    { at: 3, levelDb: [NaN, -20, -8, -8, 0] },
  ];
  const cells = cellsByBand(freqHz, rows, BANDS);
  expect(cells[1]).toContainEqual({ fromX: 100, toX: 1600, fromY: 0.5, toY: 2 });
  expect(cells.map((c) => c.length)).toEqual([2, 2, 1]);
  // Every point of the grid, those at the ends a hair inside, lies in the cell of its own step and in no other.
  rows.forEach(({ at, levelDb }) =>
    freqHz.forEach((f, i) => {
      const [x, y] = [Math.min(f, 1599), Math.min(at, 2.99)];
      const inside = cells.map((of) => of.filter((c) => x >= c.fromX && x < c.toX && y >= c.fromY && y < c.toY).length);
      expect(inside).toEqual(BANDS.map((_, band) => (bandOf(levelDb[i], BANDS) === band ? 1 : 0)));
    }),
  );
});
