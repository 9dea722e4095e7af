/** Least squares of y = intercept + slope x; NaN for fewer than two places. */
export function straightLine(
  x: readonly number[],
  y: readonly number[],
): { readonly slope: number; readonly intercept: number } {
  const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
  const [mx, my] = [mean(x), mean(y)];
  const slope = x.reduce((sum, v, i) => sum + (v - mx) * (y[i] - my), 0) / x.reduce((sum, v) => sum + (v - mx) ** 2, 0);
  return { slope, intercept: my - slope * mx };
}
