import { cholesky, posterior, solved } from './posterior';

// Measured: y = 2 a with standard deviation 0.1, a believed to be 1 ± 0.5. All is normal, so all is known in closed
// form.
const [Y, SLOPE, NOISE, CENTRE, SIGMA] = [2.6, 2, 0.1, 1, 0.5];
const one = (slopes?: () => Float64Array[]) =>
  posterior(
    (s) => Float64Array.of((SLOPE * s[0] - Y) / NOISE),
    [{ centre: CENTRE, sigma: SIGMA }],
    Float64Array.of(CENTRE),
    slopes,
  );

test.each([
  ['differences', undefined],
  ['given slopes', () => [Float64Array.of(SLOPE / NOISE)]],
])('a linear state has its closed form, by %s', (_, slopes) => {
  const found = one(slopes);
  const precision = 1 / SIGMA ** 2 + (SLOPE / NOISE) ** 2;
  expect(found?.state[0]).toBeCloseTo((CENTRE / SIGMA ** 2 + (SLOPE * Y) / NOISE ** 2) / precision, 6);
  expect(found?.sigma[0]).toBeCloseTo(1 / Math.sqrt(precision), 6);
  // ln N(y; 2·1, 0.1² + 4·0.5²), without what all hypotheses have in common: −ln(0.1 √2π).
  const spread = NOISE ** 2 + (SLOPE * SIGMA) ** 2;
  const evidence = -0.5 * ((Y - SLOPE * CENTRE) ** 2 / spread) - 0.5 * Math.log(spread / NOISE ** 2);
  expect(found?.logEvidence).toBeCloseTo(evidence, 5);
});

test('what is believed to end at its tolerance hardly leaves it', () => {
  const free = posterior((s) => Float64Array.of((s[0] - 1) / 0.1), [{ centre: 0, sigma: 0.3 }], new Float64Array(1));
  const held = posterior(
    (s) => Float64Array.of((s[0] - 1) / 0.1),
    [{ centre: 0, sigma: 0.3, most: 0.5 }],
    new Float64Array(1),
  );
  expect(free?.state[0]).toBeGreaterThan(0.85);
  expect(held?.state[0]).toBeLessThan(0.65);
  expect((held?.logEvidence ?? 0) - (free?.logEvidence ?? 0)).toBeLessThan(-5);
});

test('two numbers that only show as a sum are found to go together', () => {
  const beliefs = [
    { centre: 0, sigma: 1 },
    { centre: 0, sigma: 1 },
  ];
  const found = posterior((s) => Float64Array.of((s[0] + s[1] - 1) / 0.01), beliefs, new Float64Array(2));
  expect((found?.state[0] ?? 0) + (found?.state[1] ?? 0)).toBeCloseTo(1, 3);
  expect(found?.state[0]).toBeCloseTo(0.5, 3);
  expect(found?.correlation[1]).toBeCloseTo(-1, 3);
});

test('a bent state is walked to, and where there is no answer at the start there is none', () => {
  const found = posterior(
    (s) => Float64Array.of((Math.exp(s[0]) - 5) / 1e-3),
    [{ centre: 0, sigma: 10 }],
    Float64Array.of(0),
  );
  expect(found?.state[0]).toBeCloseTo(Math.log(5), 5);
  expect(posterior(() => null, [{ centre: 0, sigma: 1 }], new Float64Array(1))).toBeNull();
});

test('a matrix that is no square of one has no factor', () => {
  expect(cholesky(Float64Array.of(1, 2, 2, 1), 2)).toBeNull();
  const factor = cholesky(Float64Array.of(4, 2, 2, 3), 2);
  expect(factor && [...solved(factor, Float64Array.of(10, 9), 2)]).toEqual([
    expect.closeTo(1.5, 9),
    expect.closeTo(2, 9),
  ]);
});
