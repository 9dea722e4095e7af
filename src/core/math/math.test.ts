import fc from 'fast-check';
import { complex, divide, evaluate, magnitude, multiply } from './complex';
import { decadeGrid, logGrid } from './grid';
import { solvePositive } from './newton';
import { polynomialRoots } from './roots';
import { must } from '../result';

test('grids have their ends exactly', () => {
  expect([...logGrid(20, 20e3, 4)].map((f) => Math.round(f))).toEqual([20, 200, 2000, 20000]);
  const grid = decadeGrid(20, 20e3, 50);
  expect(grid).toHaveLength(151);
  expect(grid[0]).toBe(20);
  expect(grid[150]).toBe(20e3);
});

test('division undoes multiplication, for large and small numbers too', () =>
  fc.assert(
    fc.property(
      fc.tuple(...Array.from({ length: 4 }, () => fc.double({ min: 1e-150, max: 1e150, noNaN: true }))),
      ([a, b, c, d]) => {
        const quotient = divide(complex(a, b), complex(c, d));
        const back = multiply(quotient, complex(c, d));
        fc.pre(Number.isFinite(back.re) && Number.isFinite(back.im) && magnitude(quotient) > 1e-140);
        expect(magnitude({ re: back.re - a, im: back.im - b }) / magnitude(complex(a, b))).toBeLessThan(1e-12);
      },
    ),
  ));

describe('polynomialRoots', () => {
  test('of (s + 1)(s² + 2s + 5)', () => {
    const roots = polynomialRoots([5, 7, 3, 1]).sort((a, b) => a.im - b.im);
    expect(roots[0]).toMatchObject({ re: expect.closeTo(-1, 12), im: expect.closeTo(-2, 12) });
    expect(roots[1]).toMatchObject({ re: expect.closeTo(-1, 12), im: expect.closeTo(0, 12) });
    expect(roots[2]).toMatchObject({ re: expect.closeTo(-1, 12), im: expect.closeTo(2, 12) });
  });

  test('every root makes its polynomial vanish', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.5, max: 20, noNaN: true }), { minLength: 3, maxLength: 9 }),
        (coefficients) => {
          for (const root of polynomialRoots(coefficients)) {
            const size = coefficients.reduce((sum, c, i) => sum + c * magnitude(root) ** i, 0);
            expect(magnitude(evaluate(coefficients, root)) / size).toBeLessThan(1e-10);
          }
        },
      ),
    ));
});

describe('solvePositive', () => {
  test('finds an ohm and a farad from their product and ratio', () => {
    const [r, c] = must(solvePositive(([x, y]) => [(x * y) / 1e-4 - 1, x / y / 1e12 - 1], [1e3, 1e-6]));
    expect(r * c).toBeCloseTo(1e-4, 12);
    expect(r / c / 1e12).toBeCloseTo(1, 9);
  });

  test('with a spare unknown it changes both alike rather than one alone', () => {
    const [x, y] = must(solvePositive(([a, b]) => [(a * b) / 100 - 1], [1, 1]));
    expect(x).toBeCloseTo(10, 8);
    expect(y).toBeCloseTo(10, 8);
  });

  test('says so when there is none', () => {
    expect(solvePositive(([x]) => [x + 1], [1])).toMatchObject({ ok: false, code: 'no-solution' });
  });
});
