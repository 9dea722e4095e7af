import fc from 'fast-check';
import { pathOf } from './path-of';

const plain = { x: (v: number) => v, y: (v: number) => v, area: { y: 0, height: 400 } };
const points = (d: string) =>
  [...d.matchAll(/([ML])(-?[\d.]+) (-?[\d.]+)/g)].map(([, pen, x, y]) => ({
    pen,
    x: Number(x),
    y: Number(y),
  }));

test('what is straight is two points; a corner is kept; a gap breaks the line', () => {
  expect(pathOf(plain, [0, 1, 2, 3], [5, 6, 7, 8])).toBe('M0 5L3 8');
  expect(pathOf(plain, [0, 10, 20, 30], [5, 5, 5, 15])).toBe('M0 5L20 5L30 15');
  expect(pathOf(plain, [0, 1, 2, 3, 4], [5, 5, NaN, 7, 7])).toBe('M0 5L1 5M3 7L4 7');
  expect(pathOf(plain, [3, 2, 1, 0], [8, 7, 6, 5])).toBe('M3 8L0 5');
  expect(pathOf(plain, [], [])).toBe('');
  expect(pathOf(plain, [0, 1], [-1e9, 1e9])).toBe('M0 -2000L1 2400');
});

test('no point of a curve is further than half a pixel’s fraction from what is drawn', () =>
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -50, max: 450, noNaN: true }), { minLength: 2, maxLength: 60 }),
      fc.boolean(),
      (heights, smooth) => {
        // Rough curves, and smooth ones such as filters have.
        const y = smooth ? heights.map((_, i) => 200 + heights[0] * Math.tanh((i - 20) / 8)) : heights;
        const x = y.map((_, i) => 4 * i);
        const drawn = points(pathOf(plain, x, y));
        expect(drawn[0].x).toBe(0);
        expect(drawn[drawn.length - 1].x).toBe(x[x.length - 1]);
        x.forEach((px, i) => {
          const next = drawn.findIndex((p) => p.x >= px);
          const [a, b] = [drawn[Math.max(0, next - 1)], drawn[next]];
          const at = b.x === a.x ? b.y : a.y + ((b.y - a.y) * (px - a.x)) / (b.x - a.x);
          expect(Math.abs(at - y[i])).toBeLessThan(0.25);
        });
      },
    ),
  ));

test('a filter’s curve of 401 points takes a fraction of them', () => {
  const x = Array.from({ length: 401 }, (_, i) => 2 * i);
  const y = x.map((px) => 20 + 5 * 10 * Math.log10(1 + 10 ** ((px - 400) / 20)));
  expect(points(pathOf(plain, x, y)).length).toBeLessThan(120);
});
