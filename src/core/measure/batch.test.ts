import { judgeBatch, type MeasuredBoard } from './batch';

const freqHz = Float64Array.from({ length: 60 }, (_, i) => 20 * 10 ** (i / 20));
/** First-order low-pass at 1 kHz. */
const levelDb = freqHz.map((f) => -10 * Math.log10(1 + (f / 1000) ** 2));
const predicted = { freqHz, levelDb, referenceDb: 0 };
const board = (name: string, off: (f: number) => number, aligned = false): MeasuredBoard => ({
  board: name,
  freqHz: [...freqHz],
  levelDb: Array.from(levelDb, (db, i) => db + off(freqHz[i])),
  aligned,
});

test('each board has where it lies furthest off, and how far in the mean', () => {
  const { rows } = judgeBatch([board('1', () => 0), board('2', (f) => (f > 900 && f < 1100 ? -2 : 0))], predicted, []);
  expect(rows[0]).toMatchObject({ board: '1', rmsDb: 0, roomDb: null });
  expect(rows[1].worst?.db).toBeCloseTo(-2, 9);
  expect(Math.abs((rows[1].worst?.freqHz ?? 0) - 1000)).toBeLessThan(100);
});

test('limits are met or missed by so much, at their worst place', () => {
  const limits = [
    { kind: 'at-most', side: 'below', freqHz: 500, db: 2 },
    { kind: 'at-least', side: 'above', freqHz: 10_000, db: 20 },
  ] as const;
  const roomOf = (off: number) => judgeBatch([board('1', () => off)], predicted, limits).rows[0].roomDb ?? NaN;
  // At the last point up to 500 Hz it is 0.97 dB down or a little less: a decibel and a bit to spare.
  expect(roomOf(0)).toBeGreaterThan(0);
  const at500 = Math.max(...[...freqHz].filter((f) => f <= 500));
  const spare = [
    2 - 10 * Math.log10(1 + (at500 / 1000) ** 2),
    -levelDb[[...freqHz].findIndex((f) => f >= 10_000)] - 20,
  ];
  expect(roomOf(0)).toBeCloseTo(Math.min(...spare), 9);
  expect(roomOf(-3)).toBeCloseTo(spare[0] - 3, 9);
  expect(roomOf(3)).toBeCloseTo(spare[1] - 3, 9);
});

test('what all have in common is a wrong part in the reel; what only one has is not', () => {
  const tilted = (by: number) => (f: number) => by * Math.log2(f / 1000);
  const same = judgeBatch([board('1', tilted(0.5)), board('2', tilted(0.52)), board('3', tilted(0.48))], predicted, []);
  expect(same.alike?.db).toBeCloseTo(0.5 * Math.log2(20 / 1000), 9);
  expect(same.alike?.freqHz).toBe(20);
  const odd = judgeBatch([board('1', () => 0), board('2', () => 0), board('3', tilted(1))], predicted, []);
  expect(odd.alike).toBeNull();
  expect(judgeBatch([board('1', tilted(1)), board('2', tilted(1))], predicted, []).alike).toBeNull();
  const small = judgeBatch(
    ['1', '2', '3'].map((n) => board(n, () => 0.4)),
    predicted,
    [],
  );
  expect(small.alike).toBeNull();
  expect(
    judgeBatch(
      ['1', '2', '3'].map((n) => board(n, () => 0.6)),
      predicted,
      [],
    ).alike?.db,
  ).toBeCloseTo(0.6, 9);
});

test('one wrong board of ten is the odd one, and the others are not accused; noise far below is not judged', () => {
  const scatter = (n: number) => (f: number) => 0.05 * Math.sin(n * 1.7 + Math.log(f)) + (f > 19e3 ? 8 : 0);
  const wrong = (f: number) => (f > 700 && f < 3000 ? -2.5 : 0);
  const boards = Array.from({ length: 10 }, (_, n) =>
    board(String(n + 1), (f) => scatter(n)(f) + (n === 6 ? wrong(f) : 0)),
  );
  // Beyond a fourth-order corner the prediction is far under the card's noise, where all lie high alike.
  const steep = freqHz.map((f) => -10 * Math.log10(1 + (f / 1000) ** 8));
  const { rows, alike } = judgeBatch(
    boards.map((b) => ({ ...b, levelDb: b.levelDb.map((v, i) => v - levelDb[i] + steep[i]) })),
    { freqHz, levelDb: steep, referenceDb: 0 },
    [],
  );
  expect(alike).toBeNull();
  expect(rows.filter((r) => r.odd).map((r) => r.board)).toEqual(['7']);
  expect(rows[6].odd!.db).toBeCloseTo(-2.5, 0);
});
