import { levenbergMarquardt } from 'ml-levenberg-marquardt';

export interface Fit {
  readonly x: number[];
  /** Sum of the squared residuals. */
  readonly error: number;
}

/**
 * Makes the sum of squared residuals small by moving x between its bounds (K. Levenberg, Quart. Appl. Math. 2, 1944; D.
 * Marquardt, SIAM J. 11, 1963). Never gives a worse x than it was given. @param count how many residuals there are.
 */
export function leastSquares(
  residuals: (x: readonly number[]) => ArrayLike<number>,
  start: readonly number[],
  count: number,
  {
    low,
    high,
    iterations = 40,
    damping = 0.1,
  }: { low?: readonly number[]; high?: readonly number[]; iterations?: number; damping?: number } = {},
): Fit {
  const index = Array.from({ length: count }, (_, i) => i);
  const found = levenbergMarquardt(
    { x: index, y: index.map(() => 0) },
    (x) => {
      const values = residuals(x);
      return (i) => values[i];
    },
    {
      initialValues: [...start],
      damping,
      dampingStepUp: 8,
      dampingStepDown: 5,
      gradientDifference: 1e-4,
      centralDifference: false,
      maxIterations: iterations,
      errorTolerance: 1e-12,
      ...(low ? { minValues: [...low] } : {}),
      ...(high ? { maxValues: [...high] } : {}),
    },
  );
  return { x: [...found.parameterValues], error: found.parameterError };
}
