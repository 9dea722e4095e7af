import { Matrix, pseudoInverse } from 'ml-matrix';
import { failure, success, type Result } from '../result';

/**
 * Solves F(x) = 0 for positive unknowns of very different sizes (ohms beside farads) by damped Newton on their
 * logarithms. With more unknowns than equations it takes the step that changes the logarithms least (J. Nocedal and S.
 * Wright, Numerical Optimization, 10.2). Residuals are to be relative; derivatives are central differences. Made for
 * the few free parts of a filter stage.
 *
 * Fails with `no-solution` when the residual cannot be brought under 1e-10.
 */
export function solvePositive(
  residuals: (x: readonly number[]) => readonly number[],
  start: readonly number[],
): Result<number[], 'no-solution'> {
  let logs = start.map(Math.log);
  const at = (point: readonly number[]) => residuals(point.map(Math.exp));
  const size = (r: readonly number[]) => Math.hypot(...r);
  let value = at(logs);
  for (let step = 0; step < 80 && size(value) > 1e-14; step++) {
    const delta = newtonStep(at, logs, value);
    const longest = Math.max(...delta.map(Math.abs));
    let stride = longest > 1.5 ? 1.5 / longest : 1;
    let [next, nextValue] = [logs, value];
    for (let cut = 0; cut < 30; cut++, stride /= 2) {
      next = logs.map((l, k) => l + stride * delta[k]);
      nextValue = at(next);
      if (size(nextValue) < size(value)) break;
    }
    if (!(size(nextValue) < size(value))) break;
    [logs, value] = [next, nextValue];
  }
  return size(value) < 1e-10 ? success(logs.map(Math.exp)) : failure('no-solution', { residual: size(value) });
}

function newtonStep(
  at: (point: readonly number[]) => readonly number[],
  logs: readonly number[],
  value: readonly number[],
): number[] {
  const h = 1e-5;
  const columns = logs.map((_, j) => {
    const up = at(logs.map((l, k) => (k === j ? l + h : l)));
    const down = at(logs.map((l, k) => (k === j ? l - h : l)));
    return up.map((u, i) => (u - down[i]) / (2 * h));
  });
  const jacobian = new Matrix(columns).transpose();
  return pseudoInverse(jacobian)
    .mmul(Matrix.columnVector([...value]))
    .mul(-1)
    .to1DArray();
}
