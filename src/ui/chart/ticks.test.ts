import { linearTicks, logTicks, tickHz, ticksApart, everyNth } from './ticks';

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

test('labels of an axis that have no room are left out, never an end, and none runs into another', () => {
  const axis = { from: 20, to: 20e3, log: true, ...logTicks(20, 20e3), format: tickHz };
  expect(ticksApart(axis, 900, 'Hz')).toEqual(axis.labelled);
  for (const px of [120, 200, 260, 340, 420]) {
    const kept = ticksApart(axis, px, 'Hz');
    expect([kept[0], kept.at(-1)]).toEqual([20, 20e3]);
    // By a rule of its own: a letter is 6 px at least, and the last has its unit behind it.
    const boxes = kept.map((v, i) => {
      const at = (px * Math.log(v / 20)) / Math.log(1000);
      const half = 3 * (tickHz(v).length + (i === kept.length - 1 ? 3 : 0));
      return [at - half, at + half];
    });
    for (let i = 1; i < boxes.length; i++) expect(boxes[i][0] - boxes[i - 1][1]).toBeGreaterThan(px < 150 ? -6 : 4);
    if (px > 250) expect(kept.length).toBeGreaterThan(3);
  }
});

test('labels over one another are thinned evenly until each has a line', () => {
  const levels = linearTicks(-60, 10, 7);
  expect(everyNth(levels, 200)).toEqual(levels);
  expect(everyNth(levels, 104)).toEqual([-60, -40, -20, 0]);
  expect(everyNth(levels, 106)).toEqual(levels);
  expect(everyNth(levels, 40)).toEqual([-60, -30, 0]);
  expect(everyNth([0], 10)).toEqual([0]);
});
