import { linearTicks, logTicks, tickHz } from './ticks';

test.each([
  [20, 20e3],
  [5, 50e3],
  [0.1, 1e6],
  [100, 1000],
  [440, 470],
  [123.4, 2345],
  [900, 1100],
])('log ticks from %d to %d label the ends, ascend, and keep apart', (lo, hi) => {
  const { labelled, minor } = logTicks(lo, hi);
  expect(labelled[0]).toBe(lo);
  expect(labelled.at(-1)).toBe(hi);
  expect(labelled).toEqual([...labelled].sort((a, b) => a - b));
  const room = Math.log10(hi / lo) * 0.069;
  for (let i = 1; i < labelled.length; i++) expect(Math.log10(labelled[i] / labelled[i - 1])).toBeGreaterThan(room);
  // However narrow it is, something between the ends can be read.
  expect(labelled.length).toBeGreaterThanOrEqual(4);
  for (const m of minor) expect(labelled).not.toContain(m);
});

test('linear ticks are round and inside', () => {
  expect(linearTicks(0, 1, 5)).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1]);
  expect(linearTicks(-60, 10, 7)).toEqual([-60, -50, -40, -30, -20, -10, 0, 10]);
});

test.each([
  [20, '20'],
  [1000, '1k'],
  [2500, '2.5k'],
  [1e6, '1M'],
])('%d Hz is written %s', (f, text) => expect(tickHz(f)).toBe(text));
