import { driveVector, entryValue, type Structure } from '../circuit/structure';
import { denseKernel } from './dense';
import type { AcKernel } from './kernel';
import type { Plan } from './plan';

/** Componentwise backward error above which the static pivot order is not trusted at a point. */
const BACKWARD_ERROR_LIMIT = 1e-12;
/** Every how many points of a sweep the guard looks, as long as it finds nothing. */
const GUARD_STRIDE = 16;

/**
 * Replays an elimination plan on typed arrays: no pivot search, no allocation per point. A guard checks the componentwise backward error
 * (W. Oettli and W. Prager, Numerische Mathematik 6, 1964) at the ends and every 16th point, and everywhere once it has tripped;
 * a point that fails is solved again densely.
 *
 * @param onRepair told once per sweep how many points were repaired, so that the owner may plan again at these values.
 */
export function replayKernel(structure: Structure, plan: Plan, onRepair?: (points: number) => void): AcKernel {
  const n = structure.size;
  const g = new Float64Array(plan.positions);
  const c = new Float64Array(plan.positions);
  const re = new Float64Array(plan.positions);
  const im = new Float64Array(plan.positions);
  const [bRe, bIm] = [new Float64Array(n), new Float64Array(n)];
  const [xRe, xIm] = [new Float64Array(n), new Float64Array(n)];

  function solvePoint(omega: number, drive: { re: Float64Array; im: Float64Array }): void {
    for (let p = 0; p < plan.positions; p++) {
      re[p] = g[p];
      im[p] = omega * c[p];
    }
    bRe.set(drive.re);
    bIm.set(drive.im);
    forward(plan, re, im, bRe, bIm);
    backward(plan, re, im, bRe, bIm, xRe, xIm);
  }

  /** Largest |b − A x| against |A| |x| + |b| over the rows, with the matrix as it stood before elimination. */
  const rowSum = new Float64Array(n);
  const [rRe, rIm] = [new Float64Array(n), new Float64Array(n)];
  function backwardError(omega: number, drive: { re: Float64Array; im: Float64Array }): number {
    for (let i = 0; i < n; i++) {
      rRe[i] = drive.re[i];
      rIm[i] = drive.im[i];
      rowSum[i] = Math.abs(drive.re[i]) + Math.abs(drive.im[i]);
    }
    for (let e = 0; e < structure.entries.length; e++) {
      const { row, column, order } = structure.entries[e];
      const value = entryNumbers[e];
      const [ar, ai] = order === 0 ? [value, 0] : [0, omega * value];
      rRe[row] -= ar * xRe[column] - ai * xIm[column];
      rIm[row] -= ar * xIm[column] + ai * xRe[column];
      rowSum[row] += (Math.abs(ar) + Math.abs(ai)) * (Math.abs(xRe[column]) + Math.abs(xIm[column]));
    }
    let worst = 0;
    for (let i = 0; i < n; i++) {
      const error = (Math.abs(rRe[i]) + Math.abs(rIm[i])) / rowSum[i];
      if (!(error <= worst)) worst = rowSum[i] > 0 ? error : 0;
    }
    return Number.isNaN(worst) ? Infinity : worst;
  }
  const entryNumbers = new Float64Array(structure.entries.length);

  return {
    solve(values, frequenciesHz, unknowns) {
      g.fill(0);
      c.fill(0);
      structure.entries.forEach((entry, e) => {
        entryNumbers[e] = entryValue(entry, values);
        (entry.order === 0 ? g : c)[plan.entryPosition[e]] += entryNumbers[e];
      });
      const drive = driveVector(structure, values);
      const m = frequenciesHz.length;
      const out = new Float64Array(2 * unknowns.length * m);
      const sweep = (everyPoint: boolean): number[] => {
        const bad: number[] = [];
        for (let f = 0; f < m; f++) {
          const omega = 2 * Math.PI * frequenciesHz[f];
          solvePoint(omega, drive);
          for (let u = 0; u < unknowns.length; u++) {
            out[2 * (u * m + f)] = xRe[unknowns[u]];
            out[2 * (u * m + f) + 1] = xIm[unknowns[u]];
          }
          if ((everyPoint || f % GUARD_STRIDE === 0 || f === m - 1) && backwardError(omega, drive) > BACKWARD_ERROR_LIMIT) bad.push(f);
        }
        return bad;
      };
      if (sweep(false).length > 0) {
        const bad = sweep(true);
        repair(structure, values, frequenciesHz, unknowns, bad, out);
        onRepair?.(bad.length);
      }
      return out;
    },
  };
}

function repair(structure: Structure, values: Float64Array, frequenciesHz: Float64Array, unknowns: Int32Array, bad: readonly number[], out: Float64Array): void {
  const m = frequenciesHz.length;
  const mended = denseKernel(structure).solve(values, Float64Array.from(bad, (f) => frequenciesHz[f]), unknowns);
  bad.forEach((f, i) => {
    for (let u = 0; u < unknowns.length; u++) {
      out[2 * (u * m + f)] = mended[2 * (u * bad.length + i)];
      out[2 * (u * m + f) + 1] = mended[2 * (u * bad.length + i) + 1];
    }
  });
}

function forward(plan: Plan, re: Float64Array, im: Float64Array, bRe: Float64Array, bIm: Float64Array): void {
  const { tape, pivotRow, pivotPosition, size } = plan;
  let t = 0;
  for (let k = 0; k < size; k++) {
    const p = pivotPosition[k];
    const [pr, pi] = [re[p], im[p]];
    const inverse = 1 / (pr * pr + pi * pi);
    const [yr, yi] = [bRe[pivotRow[k]], bIm[pivotRow[k]]];
    for (let rows = tape[t++]; rows > 0; rows--) {
      const i = tape[t++];
      const own = tape[t++];
      const lr = (re[own] * pr + im[own] * pi) * inverse;
      const li = (im[own] * pr - re[own] * pi) * inverse;
      for (let count = tape[t++]; count > 0; count--) {
        const u = tape[t++];
        const target = tape[t++];
        re[target] -= lr * re[u] - li * im[u];
        im[target] -= lr * im[u] + li * re[u];
      }
      bRe[i] -= lr * yr - li * yi;
      bIm[i] -= lr * yi + li * yr;
    }
  }
}

function backward(plan: Plan, re: Float64Array, im: Float64Array, bRe: Float64Array, bIm: Float64Array, xRe: Float64Array, xIm: Float64Array): void {
  const { backTape, pivotRow, pivotColumn, pivotPosition, size } = plan;
  let t = 0;
  for (let k = size - 1; k >= 0; k--) {
    let sr = bRe[pivotRow[k]];
    let si = bIm[pivotRow[k]];
    for (let count = backTape[t++]; count > 0; count--) {
      const u = backTape[t++];
      const j = backTape[t++];
      sr -= re[u] * xRe[j] - im[u] * xIm[j];
      si -= re[u] * xIm[j] + im[u] * xRe[j];
    }
    const p = pivotPosition[k];
    const inverse = 1 / (re[p] * re[p] + im[p] * im[p]);
    xRe[pivotColumn[k]] = (sr * re[p] + si * im[p]) * inverse;
    xIm[pivotColumn[k]] = (si * re[p] - sr * im[p]) * inverse;
  }
}
