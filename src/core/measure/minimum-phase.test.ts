import { minimumPhaseDeg } from './minimum-phase';

const grid = Float64Array.from({ length: 300 }, (_, i) => 10 * 2 ** (i / 30));

test('of one pole: minus the arc tangent of the frequency over its corner', () => {
  const level = grid.map((f) => -10 * Math.log10(1 + (f / 700) ** 2));
  const phase = minimumPhaseDeg(grid, level);
  grid.forEach((f, i) => expect(Math.abs(phase[i] + (Math.atan(f / 700) * 180) / Math.PI)).toBeLessThan(0.5));
});

test('of a third order high-pass, with a gain that has no phase', () => {
  // Butterworth: a real pole and a pair of Q 1, each turned by the high-pass.
  const level = grid.map((f) => 12 - 10 * Math.log10(1 + (300 / f) ** 6));
  const phase = minimumPhaseDeg(grid, level);
  grid.forEach((f, i) => {
    const x = 300 / f;
    const turn = Math.atan(x) + Math.atan2(x, 1 - x * x);
    expect(Math.abs(phase[i] - (turn * 180) / Math.PI)).toBeLessThan(0.5);
  });
});

test('of an even level there is none', () => {
  expect(
    minimumPhaseDeg(
      grid,
      grid.map(() => -3),
    ).every((v) => v === 0),
  ).toBe(true);
});
