import { must } from '../result';
import { seeded } from '../testing/seeded';
import { brokenAt } from './broken';
import { sweepSamples } from './sweep';

const RATE = 48_000;
const sweep = must(sweepSamples({ fromHz: 20, toHz: 20e3, seconds: 1, rateHz: RATE, levelDbfs: -12 }));
const noisy = (samples: Float64Array, size: number): Float64Array => {
  const next = seeded('noise');
  return samples.map((v) => v + size * (next() + next() - 1));
};
const at = (samples: Float64Array) => brokenAt({ samples, rateHz: RATE });
const without = (from: number, count: number) =>
  Float64Array.from([...sweep.subarray(0, from), ...sweep.subarray(from + count)]);
const withNothing = (from: number, count: number) =>
  Float64Array.from([...sweep.subarray(0, from), ...new Float64Array(count), ...sweep.subarray(from)]);

test.each([
  ['a sweep', sweep],
  ['one in noise', noisy(sweep, 0.02)],
  ['one in much noise', noisy(sweep, 0.2)],
  ['one that is clipped softly', sweep.map((v) => Math.tanh(12 * v))],
  ['one that is clipped hard', sweep.map((v) => Math.max(-0.1, Math.min(0.1, v)))],
  ['one through a rectifier', sweep.map(Math.abs)],
  ['one with silence before and after', Float64Array.from([...new Float64Array(9000), ...sweep])],
  ['one with a click in it', sweep.map((v, i) => (i === 20_000 || i === 20_001 ? 1 : v))],
  ['one with an echo', sweep.map((v, i) => v + 0.6 * (sweep[i - 321] ?? 0))],
  ['silence', new Float64Array(48_000)],
])('%s does not break', (_, samples) => {
  expect(at(samples)).toBeNull();
});

test('a sweep that lasts a third of a second does not break either', () => {
  for (const seconds of [0.3, 3])
    expect(at(must(sweepSamples({ fromHz: 5, toHz: 22e3, seconds, rateHz: RATE, levelDbfs: -6 })))).toBeNull();
});

test.each([0.2, 0.35, 0.5, 0.65, 0.8])('a block that was lost at %d of it is found there', (share) => {
  const from = Math.round(share * RATE);
  // A loss of nearly whole turns is nearly none.
  const found = [128, 240, 441, 480].filter((count) => {
    const broken = at(noisy(without(from, count), 0.001));
    return broken !== null && Math.abs(broken - from / RATE) < 2e-3;
  });
  expect(found.length).toBeGreaterThanOrEqual(2);
});

test.each([0.3, 0.6, 0.85])('a block of nothing that was put in at %d of it is found', (share) => {
  const from = Math.round(share * RATE);
  const found = [64, 128, 441].filter((count) => {
    const broken = at(withNothing(from, count));
    return broken !== null && Math.abs(broken - (from + count) / RATE) < 1e-3;
  });
  expect(found).toEqual([64, 128, 441]);
});
