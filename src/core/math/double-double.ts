/**
 * Numbers of about 32 digits as unevaluated sums of two doubles (T. Dekker, Numerische Mathematik 18, 1971; D. Knuth,
 * The Art of Computer Programming 2, 4.2.2): slow, and the measure of what ordinary arithmetic loses.
 */
export type DoubleDouble = readonly [number, number];

export const wide = (value: number): DoubleDouble => [value, 0];

function twoSum(a: number, b: number): DoubleDouble {
  const sum = a + b;
  const part = sum - a;
  return [sum, a - (sum - part) + (b - part)];
}

function twoProduct(a: number, b: number): DoubleDouble {
  const split = (x: number): DoubleDouble => {
    const big = 134217729 * x;
    const high = big - (big - x);
    return [high, x - high];
  };
  const product = a * b;
  const [ah, al] = split(a);
  const [bh, bl] = split(b);
  return [product, ah * bh - product + ah * bl + al * bh + al * bl];
}

const tidy = (high: number, low: number): DoubleDouble => {
  const sum = high + low;
  return [sum, low - (sum - high)];
};

export function addWide(a: DoubleDouble, b: DoubleDouble): DoubleDouble {
  const [sum, error] = twoSum(a[0], b[0]);
  const [low, lower] = twoSum(a[1], b[1]);
  const [high, rest] = tidy(sum, error + low);
  return tidy(high, rest + lower);
}

export const negateWide = (a: DoubleDouble): DoubleDouble => [-a[0], -a[1]];
export const subtractWide = (a: DoubleDouble, b: DoubleDouble): DoubleDouble => addWide(a, negateWide(b));

export function multiplyWide(a: DoubleDouble, b: DoubleDouble): DoubleDouble {
  const [product, error] = twoProduct(a[0], b[0]);
  return tidy(product, error + a[0] * b[1] + a[1] * b[0]);
}

export function divideWide(a: DoubleDouble, b: DoubleDouble): DoubleDouble {
  const first = a[0] / b[0];
  const second = subtractWide(a, multiplyWide(b, wide(first)));
  const next = second[0] / b[0];
  const third = subtractWide(second, multiplyWide(b, wide(next)))[0] / b[0];
  return addWide(tidy(first, next), wide(third));
}
