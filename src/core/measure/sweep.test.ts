import fc from 'fast-check';
import { must } from '../result';
import { growthS, lawOf, silenceOf, sweepSamples, type Sweep } from './sweep';

const SWEEP: Sweep = { fromHz: 20, toHz: 16e3, seconds: 2, rateHz: 48e3, levelDbfs: -6 };

test('a sweep has its tone where the law says: half turns pass at t = L ln(1 + k / (2 f L))', () => {
  const samples = must(sweepSamples(SWEEP));
  expect(samples.length).toBe(2 * 48e3 + Math.round(silenceOf(SWEEP) * 48e3));
  const growth = 2 / Math.log(800);
  expect(growthS(SWEEP)).toBeCloseTo(growth, 12);
  // The 100th, 1,000th and 10,000th half turn: the sine passes through nothing.
  for (const k of [100, 1000, 10_000]) {
    const at = growth * Math.log1p(k / (2 * 20 * growth)) * 48e3;
    const [before, after] = [samples[Math.floor(at)], samples[Math.floor(at) + 1]];
    const fraction = at - Math.floor(at);
    expect(Math.abs(before + fraction * (after - before))).toBeLessThan(0.02);
  }
  const peak = samples.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  expect(20 * Math.log10(peak)).toBeCloseTo(-6, 2);
  // It begins and ends in silence, and silence follows.
  expect(samples[0]).toBe(0);
  expect(Math.abs(samples[2 * 48e3 - 1])).toBeLessThan(1e-3);
  expect(samples.subarray(2 * 48e3).every((v) => v === 0)).toBe(true);
});

test('the law is read back from the samples, whatever was played', () => {
  fc.assert(
    fc.property(
      fc.record({
        fromHz: fc.double({ min: 5, max: 200, noNaN: true }),
        share: fc.double({ min: 0.05, max: 0.49, noNaN: true }),
        seconds: fc.double({ min: 0.5, max: 3, noNaN: true }),
        rateHz: fc.constantFrom(44.1e3, 48e3, 96e3),
      }),
      ({ fromHz, share, seconds, rateHz }) => {
        const sweep = { fromHz, toHz: share * rateHz, seconds, rateHz, levelDbfs: -12 };
        fc.pre(fromHz * seconds > 4);
        const law = must(lawOf(must(sweepSamples(sweep)), rateHz));
        expect(law.growthS / growthS(sweep)).toBeCloseTo(1, 3);
        expect(law.fromHz / fromHz).toBeCloseTo(1, 2);
        expect(Math.abs(law.played / rateHz - seconds)).toBeLessThan(0.002);
      },
    ),
    { numRuns: 40, seed: 3 },
  );
});

test.each([
  ['rate', { rateHz: 4000, toHz: 1000 }],
  ['range', { toHz: 30 }],
  ['range', { fromHz: 0 }],
  ['top', { toHz: 23.9e3 }],
  ['seconds', { seconds: 0.01 }],
  ['seconds', { seconds: 500 }],
  ['level', { levelDbfs: 1 }],
])('what cannot be played says why: %s', (what, change) => {
  expect(sweepSamples({ ...SWEEP, ...change })).toEqual({ ok: false, code: 'bad-sweep', data: { what } });
});

test('as near to half the rate as a card plays is played', () => {
  expect(sweepSamples({ ...SWEEP, toHz: 0.494 * 48e3 }).ok).toBe(true);
});

test.each([
  ['a tone', (i: number) => Math.sin(i / 10)],
  ['a sweep that rises evenly', (i: number) => Math.sin((i * i) / 1e5)],
  ['a few turns', (i: number) => (i < 4000 ? Math.sin(i / 400) : 0)],
])('%s is no sweep', (_, wave) => {
  expect(
    lawOf(
      Float64Array.from({ length: 40_000 }, (__, i) => wave(i)),
      48e3,
    ).ok,
  ).toBe(false);
});
