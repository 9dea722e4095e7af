import { driveVector, entryValue, type Structure } from '../../circuit/structure';
import { denseKernel } from './dense';
import { BACKWARD_ERROR_LIMIT, GUARD_STRIDE, PointBuffer, type AcKernel } from './kernel';
import { planElimination, type Plan } from '../elimination/plan';

/**
 * Replays an elimination plan on typed arrays: no pivot search, no allocation per point. A guard checks the
 * componentwise backward error (W. Oettli and W. Prager, Numerische Mathematik 6, 1964) at the ends and every 16th
 * point, and everywhere once it has tripped. A point that fails gets one step of refinement (R. Skeel, Mathematics of
 * Computation 35, 1980: one is enough unless the pivots were hopeless); what that does not mend is planned again at
 * this point's values; and what that does not mend is solved densely.
 *
 * @param onNewPlan told of a plan that did better, so that the owner may keep it.
 */
export function replayKernel(structure: Structure, plan: Plan, onNewPlan?: (plan: Plan) => void): AcKernel {
  let current = new PlanReplay(structure, plan);
  const points = new PointBuffer();
  const dense = denseKernel(structure);
  let plannedAgain = false;
  const adopt = (better: { plan: Plan; replay: PlanReplay } | null): boolean => {
    if (!better) return false;
    current = better.replay;
    onNewPlan?.(better.plan);
    return true;
  };
  return {
    solve(values, frequenciesHz, unknowns) {
      current.setValues(values);
      const m = frequenciesHz.length;
      points.prepare(unknowns.length, m);
      const keep = (f: number, from: PlanReplay) => {
        for (let u = 0; u < unknowns.length; u++) points.put(u, f, from.xRe[unknowns[u]], from.xIm[unknowns[u]]);
      };
      let tripped = -1;
      for (let f = 0; f < m && tripped < 0; f++) {
        current.solve(frequenciesHz[f]);
        keep(f, current);
        if ((f % GUARD_STRIDE === 0 || f === m - 1) && !(current.backwardError() <= BACKWARD_ERROR_LIMIT)) tripped = f;
      }
      if (tripped < 0) return points;
      if (!plannedAgain) {
        // Values this far from those of the plan may stay for a while: a plan of their own serves the sweeps to come.
        // Once is enough to try.
        plannedAgain = true;
        adopt(replan(structure, values, frequenciesHz[tripped]));
      }
      for (let f = 0; f < m; f++) {
        current.solve(frequenciesHz[f]);
        if (!(current.backwardError() <= BACKWARD_ERROR_LIMIT)) current.refine();
        if (current.backwardError() <= BACKWARD_ERROR_LIMIT) {
          keep(f, current);
          continue;
        }
        if (adopt(replan(structure, values, frequenciesHz[f]))) keep(f, current);
        else {
          const { data, start } = dense.solve(values, frequenciesHz.subarray(f, f + 1), unknowns);
          for (let u = 0; u < unknowns.length; u++) points.put(u, f, data[start + 4 * u], data[start + 4 * u + 1]);
        }
      }
      return points;
    },
  };
}

/** A plan made at these values and this frequency, already solved and found good; null when it is no better. */
function replan(structure: Structure, values: Float64Array, freqHz: number): { plan: Plan; replay: PlanReplay } | null {
  const plan = planElimination(structure, values, freqHz);
  if ('singularUnknown' in plan) return null;
  const replay = new PlanReplay(structure, plan);
  replay.setValues(values);
  replay.solve(freqHz);
  if (!(replay.backwardError() <= BACKWARD_ERROR_LIMIT)) replay.refine();
  return replay.backwardError() <= BACKWARD_ERROR_LIMIT ? { plan, replay } : null;
}

/** One system at a time: factored by the plan, the factors kept so that a residual can be solved for too. */
export class PlanReplay {
  readonly xRe: Float64Array;
  readonly xIm: Float64Array;
  private readonly n: number;
  private readonly g: Float64Array;
  private readonly c: Float64Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly workRe: Float64Array;
  private readonly workIm: Float64Array;
  private readonly stepRe: Float64Array;
  private readonly stepIm: Float64Array;
  private readonly weight: Float64Array;
  private readonly entryNumbers: Float64Array;
  private drive: { re: Float64Array; im: Float64Array };
  private omega = 0;

  constructor(
    private readonly structure: Structure,
    private readonly plan: Plan,
  ) {
    const n = (this.n = structure.size);
    const positions = () => new Float64Array(plan.positions);
    [this.g, this.c, this.re, this.im] = [positions(), positions(), positions(), positions()];
    const vector = () => new Float64Array(n);
    [this.xRe, this.xIm, this.workRe, this.workIm, this.stepRe, this.stepIm, this.weight] = [
      vector(),
      vector(),
      vector(),
      vector(),
      vector(),
      vector(),
      vector(),
    ];
    this.drive = { re: vector(), im: vector() };
    this.entryNumbers = new Float64Array(structure.entries.length);
  }

  setValues(values: Float64Array): void {
    this.g.fill(0);
    this.c.fill(0);
    this.structure.entries.forEach((entry, e) => {
      this.entryNumbers[e] = entryValue(entry, values);
      (entry.order === 0 ? this.g : this.c)[this.plan.entryPosition[e]] += this.entryNumbers[e];
    });
    this.drive = driveVector(this.structure, values);
  }

  solve(freqHz: number): void {
    const { re, im, g, c } = this;
    this.omega = 2 * Math.PI * freqHz;
    for (let p = 0; p < g.length; p++) {
      re[p] = g[p];
      im[p] = this.omega * c[p];
    }
    this.factor();
    this.workRe.set(this.drive.re);
    this.workIm.set(this.drive.im);
    this.substitute(this.xRe, this.xIm);
  }

  /**
   * Solves the transposed system for a right-hand side with the factors of the last solve: one extra substitution gives
   * the transfer from every place in the circuit to one output (S. Director and R. Rohrer, IEEE Trans. Circuit Theory
   * 16, 1969).
   */
  solveTransposed(wanted: Float64Array, yRe: Float64Array, yIm: Float64Array, wantedIm?: Float64Array): void {
    const { re, im, stepRe: cRe, stepIm: cIm } = this;
    const { tape, pivotRow, pivotColumn, pivotPosition, size } = this.plan;
    cRe.set(wanted);
    if (wantedIm) cIm.set(wantedIm);
    else cIm.fill(0);
    for (let k = 0; k < size; k++) {
      const p = pivotPosition[k];
      const inverse = 1 / (re[p] * re[p] + im[p] * im[p]);
      const zr = (cRe[pivotColumn[k]] * re[p] + cIm[pivotColumn[k]] * im[p]) * inverse;
      const zi = (cIm[pivotColumn[k]] * re[p] - cRe[pivotColumn[k]] * im[p]) * inverse;
      yRe[pivotRow[k]] = zr;
      yIm[pivotRow[k]] = zi;
      for (let t = this.rowStart[k], count = this.plan.backTape[t++]; count > 0; count--) {
        const u = this.plan.backTape[t++];
        const j = this.plan.backTape[t++];
        cRe[j] -= re[u] * zr - im[u] * zi;
        cIm[j] -= re[u] * zi + im[u] * zr;
      }
    }
    for (let k = size - 1; k >= 0; k--) {
      const row = pivotRow[k];
      let t = this.stepStart[k];
      for (let rows = tape[t++]; rows > 0; rows--) {
        const i = tape[t++];
        const own = tape[t++];
        t += 1 + 2 * tape[t];
        yRe[row] -= re[own] * yRe[i] - im[own] * yIm[i];
        yIm[row] -= re[own] * yIm[i] + im[own] * yRe[i];
      }
    }
  }

  /** Where each step begins on the plan's two tapes. */
  private get rowStart(): Int32Array {
    return (this.starts ??= startsOf(this.plan)).row;
  }

  private get stepStart(): Int32Array {
    return (this.starts ??= startsOf(this.plan)).step;
  }
  private starts: { row: Int32Array; step: Int32Array } | null = null;

  /** One step of iterative refinement on the last solution. */
  refine(): void {
    this.residual();
    this.substitute(this.stepRe, this.stepIm);
    for (let i = 0; i < this.n; i++) {
      this.xRe[i] += this.stepRe[i];
      this.xIm[i] += this.stepIm[i];
    }
  }

  /** Largest |b − A x| against |A| |x| + |b| over the rows; not-a-number where there is no solution. */
  backwardError(): number {
    this.residual();
    let worst = 0;
    for (let i = 0; i < this.n; i++) {
      if (this.weight[i] === 0) continue;
      const error = (Math.abs(this.workRe[i]) + Math.abs(this.workIm[i])) / this.weight[i];
      if (!(error <= worst)) worst = error;
    }
    return worst;
  }

  /** One step of iterative refinement on y, by the residual that its error was just found from. */
  refineTransposed(yRe: Float64Array, yIm: Float64Array): void {
    const [dRe, dIm] = [new Float64Array(this.n), new Float64Array(this.n)];
    this.solveTransposed(this.workRe, dRe, dIm, this.workIm);
    for (let i = 0; i < this.n; i++) {
      yRe[i] += dRe[i];
      yIm[i] += dIm[i];
    }
  }

  /** Largest |w − Aᵀ y| against |Aᵀ| |y| + |w| over the columns, of the last system that was solved. */
  transposedError(wanted: Float64Array, yRe: Float64Array, yIm: Float64Array): number {
    const { workRe, workIm, weight, omega } = this;
    for (let j = 0; j < this.n; j++) {
      workRe[j] = wanted[j];
      workIm[j] = 0;
      weight[j] = Math.abs(wanted[j]);
    }
    const { entries } = this.structure;
    for (let e = 0; e < entries.length; e++) {
      const { row, column, order } = entries[e];
      const value = order === 0 ? this.entryNumbers[e] : omega * this.entryNumbers[e];
      workRe[column] -= order === 0 ? value * yRe[row] : -value * yIm[row];
      workIm[column] -= order === 0 ? value * yIm[row] : value * yRe[row];
      weight[column] += Math.abs(value) * (Math.abs(yRe[row]) + Math.abs(yIm[row]));
    }
    let worst = 0;
    for (let j = 0; j < this.n; j++) {
      if (weight[j] === 0) continue;
      const error = (Math.abs(workRe[j]) + Math.abs(workIm[j])) / weight[j];
      if (!(error <= worst)) worst = error;
    }
    return worst;
  }

  /** b − A x with the matrix as it stood before elimination, into `work`; |A| |x| + |b| into `weight`. */
  private residual(): void {
    const { workRe, workIm, weight, xRe, xIm, omega, drive } = this;
    for (let i = 0; i < this.n; i++) {
      workRe[i] = drive.re[i];
      workIm[i] = drive.im[i];
      weight[i] = Math.abs(drive.re[i]) + Math.abs(drive.im[i]);
    }
    const { entries } = this.structure;
    for (let e = 0; e < entries.length; e++) {
      const { row, column, order } = entries[e];
      const value = this.entryNumbers[e];
      const size = Math.abs(xRe[column]) + Math.abs(xIm[column]);
      if (order === 0) {
        workRe[row] -= value * xRe[column];
        workIm[row] -= value * xIm[column];
        weight[row] += Math.abs(value) * size;
      } else {
        workRe[row] += omega * value * xIm[column];
        workIm[row] -= omega * value * xRe[column];
        weight[row] += Math.abs(omega * value) * size;
      }
    }
  }

  // No destructuring in these loops: it is slow until they have been optimised, and the first curve is drawn before
  // that.

  /** Leaves multipliers where the eliminated entries were. */
  private factor(): void {
    const { re, im } = this;
    const { tape, pivotPosition, size } = this.plan;
    let t = 0;
    for (let k = 0; k < size; k++) {
      const p = pivotPosition[k];
      const pr = re[p];
      const pi = im[p];
      const inverse = 1 / (pr * pr + pi * pi);
      for (let rows = tape[t++]; rows > 0; rows--) {
        t++;
        const own = tape[t++];
        const lr = (re[own] * pr + im[own] * pi) * inverse;
        const li = (im[own] * pr - re[own] * pi) * inverse;
        re[own] = lr;
        im[own] = li;
        for (let count = tape[t++]; count > 0; count--) {
          const u = tape[t++];
          const target = tape[t++];
          re[target] -= lr * re[u] - li * im[u];
          im[target] -= lr * im[u] + li * re[u];
        }
      }
    }
  }

  /** Solves for the right-hand side in `work`, which is used up. */
  private substitute(intoRe: Float64Array, intoIm: Float64Array): void {
    const { re, im, workRe: bRe, workIm: bIm } = this;
    const { tape, backTape, pivotRow, pivotColumn, pivotPosition, size } = this.plan;
    let t = 0;
    for (let k = 0; k < size; k++) {
      const yr = bRe[pivotRow[k]];
      const yi = bIm[pivotRow[k]];
      for (let rows = tape[t++]; rows > 0; rows--) {
        const i = tape[t++];
        const own = tape[t++];
        const pairs = tape[t++];
        t += 2 * pairs;
        bRe[i] -= re[own] * yr - im[own] * yi;
        bIm[i] -= re[own] * yi + im[own] * yr;
      }
    }
    t = 0;
    for (let k = size - 1; k >= 0; k--) {
      let sr = bRe[pivotRow[k]];
      let si = bIm[pivotRow[k]];
      for (let count = backTape[t++]; count > 0; count--) {
        const u = backTape[t++];
        const j = backTape[t++];
        sr -= re[u] * intoRe[j] - im[u] * intoIm[j];
        si -= re[u] * intoIm[j] + im[u] * intoRe[j];
      }
      const p = pivotPosition[k];
      const inverse = 1 / (re[p] * re[p] + im[p] * im[p]);
      intoRe[pivotColumn[k]] = (sr * re[p] + si * im[p]) * inverse;
      intoIm[pivotColumn[k]] = (si * re[p] - sr * im[p]) * inverse;
    }
  }
}

function startsOf({ size, tape, backTape }: Plan): { row: Int32Array; step: Int32Array } {
  const [row, step] = [new Int32Array(size), new Int32Array(size)];
  let t = 0;
  for (let k = 0; k < size; k++) {
    step[k] = t;
    for (let rows = tape[t++]; rows > 0; rows--) t += 3 + 2 * tape[t + 2];
  }
  t = 0;
  for (let k = size - 1; k >= 0; k--) {
    row[k] = t;
    t += 1 + 2 * backTape[t];
  }
  return { row, step };
}
