import { deviceModel } from '../../circuit/behaviour';
import { denseMatrices, type Assembled, type Structure } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { BACKWARD_ERROR_LIMIT } from './kernel';
import { PlanReplay } from './replay';
import { ComplexLu } from '../elimination/dense-lu';
import { planElimination } from '../elimination/plan';
import { thermalVoltageAt, type Conditions } from '../rest/equations';
import { linearise } from '../rest/linearise';
import type { OperatingPoint } from '../rest/operating-point';

export interface NoiseRequest {
  readonly freqHz: Float64Array;
  /** Unknowns whose difference is the output; −1 is ground. */
  readonly output: readonly [number, number];
  /** The source that input noise is referred to. */
  readonly source: string;
  readonly conditions?: Conditions;
}

export interface NoiseSpectrum {
  /** V/√Hz at the output. */
  readonly output: Float64Array;
  /** The same divided by the gain from the source: V/√Hz or A/√Hz. */
  readonly input: Float64Array;
  /** Per part its share of the output, V²/Hz at every frequency. */
  readonly byPart: ReadonlyMap<string, Float64Array>;
}

/** A place where noise enters: +1 at one row of the equations and −1 at another (−1: ground). */
interface Injection {
  readonly element: string;
  readonly from: number;
  readonly to: number;
  readonly density: number;
  readonly cornerHz: number;
}

type NoiseFailure = 'no-such-source' | 'no-unique-solution';

/**
 * Noise of resistors, junctions and op-amps at an output: one adjoint solve a frequency gives the transfer from every
 * part (R. Rohrer, L. Nagel, R. Meyer and L. Weber, IEEE J. Solid-State Circuits 6, 1971); parts are uncorrelated, so
 * their powers add.
 *
 * @param rest the operating point. Fails with `no-such-source` (`source`) or `no-unique-solution`.
 */
export function noiseSpectrum(
  circuit: Assembled,
  rest: OperatingPoint,
  { freqHz, ...request }: NoiseRequest,
): Result<NoiseSpectrum, NoiseFailure> {
  const analysis = NoiseAnalysis.of(circuit, rest, request);
  return analysis.ok ? analysis.value.at(freqHz) : analysis;
}

/** The noise of a circuit at rest, to be asked for at frequencies in turn: what is the same at all is prepared once. */
export class NoiseAnalysis {
  private readonly wanted: Float64Array;
  private replay: PlanReplay | null = null;
  private readonly yRe: Float64Array;
  private readonly yIm: Float64Array;

  private constructor(
    private readonly small: Assembled,
    private readonly injections: readonly Injection[],
    private readonly drives: Structure['drives'],
    output: readonly [number, number],
  ) {
    const n = small.structure.size;
    [this.wanted, this.yRe, this.yIm] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
    output.forEach((unknown, k) => unknown >= 0 && (this.wanted[unknown] += k === 0 ? 1 : -1));
  }

  /** Fails with `no-such-source` (`source`). */
  static of(
    circuit: Assembled,
    rest: OperatingPoint,
    { output, source, conditions }: Omit<NoiseRequest, 'freqHz'>,
  ): Result<NoiseAnalysis, 'no-such-source'> {
    const { structure } = circuit;
    const drives = structure.drives.filter((d) => d.element === source);
    if (drives.length === 0 && structure.branchOf(source) === undefined) return failure('no-such-source', { source });
    const injections = injectionsOf(circuit, rest, conditions ?? {});
    return success(new NoiseAnalysis(linearise(circuit, rest, conditions), injections, drives, output));
  }

  at(freqHz: Float64Array): Result<NoiseSpectrum, 'no-unique-solution'> {
    const { yRe, yIm, injections, drives } = this;
    const [output, input] = [new Float64Array(freqHz.length), new Float64Array(freqHz.length)];
    const byPart = new Map(injections.map(({ element }) => [element, new Float64Array(freqHz.length)]));
    const shares = injections.map(({ element }) => byPart.get(element) as Float64Array);
    for (let f = 0; f < freqHz.length; f++) {
      const unsolved = this.solve(freqHz[f]);
      if (unsolved !== null) return failure('no-unique-solution', { unknown: this.small.structure.unknowns[unsolved] });
      let total = 0;
      for (let k = 0; k < injections.length; k++) {
        const { from, to, density, cornerHz } = injections[k];
        const re = (from < 0 ? 0 : yRe[from]) - (to < 0 ? 0 : yRe[to]);
        const im = (from < 0 ? 0 : yIm[from]) - (to < 0 ? 0 : yIm[to]);
        const share = (re * re + im * im) * density * (1 + cornerHz / freqHz[f]);
        shares[k][f] += share;
        total += share;
      }
      let [re, im] = [0, 0];
      for (const { row, factor } of drives) {
        re += factor * yRe[row];
        im += factor * yIm[row];
      }
      output[f] = Math.sqrt(total);
      input[f] = output[f] / Math.hypot(re, im);
    }
    return success({ output, input, byPart });
  }

  /** The transfer from everywhere to the output, into `y`; the unknown that has no solution, or null. */
  private solve(freqHz: number): number | null {
    const { wanted, yRe, yIm } = this;
    const replay = (this.replay ??= this.planned(freqHz));
    if (replay) {
      replay.solve(freqHz);
      replay.solveTransposed(wanted, yRe, yIm);
      if (replay.transposedError(wanted, yRe, yIm) <= BACKWARD_ERROR_LIMIT) return null;
      replay.refineTransposed(yRe, yIm);
      if (replay.transposedError(wanted, yRe, yIm) <= BACKWARD_ERROR_LIMIT) return null;
    }
    return this.solveDense(freqHz);
  }

  private planned(freqHz: number): PlanReplay | null {
    const { structure, values } = this.small;
    const plan = planElimination(structure, values, freqHz);
    if ('singularUnknown' in plan) return null;
    const replay = new PlanReplay(structure, plan);
    replay.setValues(values);
    return replay;
  }

  /** Where the order of elimination does not serve: with pivots of its own. */
  private solveDense(freqHz: number): number | null {
    const { structure, values } = this.small;
    const n = structure.size;
    const { g, c } = denseMatrices(structure, values);
    // Transposed: rows become columns.
    const [gt, ct] = [g, c].map((a) => Float64Array.from(a, (_, i) => a[(i % n) * n + Math.floor(i / n)]));
    const omega = 2 * Math.PI * freqHz;
    const lu = new ComplexLu(
      n,
      gt,
      ct.map((v) => v * omega),
    );
    if (lu.singular) return lu.singularColumn;
    lu.solve(this.wanted, new Float64Array(n), this.yRe, this.yIm);
    return null;
  }
}

function injectionsOf(circuit: Assembled, rest: OperatingPoint, conditions: Conditions): Injection[] {
  const thermal = thermalVoltageAt(conditions);
  return circuit.structure.devices.flatMap(({ element, definition, terminals, branch, slot }) => {
    const model = deviceModel(definition);
    const unknown = (t: number) => (t < 0 ? -1 : terminals[t]);
    const volts = (t: number) => (unknown(t) < 0 ? 0 : rest[unknown(t)]);
    const values = Float64Array.of(...circuit.values.subarray(slot, slot + definition.values.length), thermal, 0);
    const densities = new Float64Array(2 * model.noises.length);
    model.noiseDensities(
      values,
      Float64Array.from(model.controls, ({ pair }) => volts(pair[0]) - volts(pair[1])),
      densities,
    );
    return model.noises
      .map(({ pair }, k) => ({
        element,
        from: pair ? unknown(pair[0]) : branch,
        to: pair ? unknown(pair[1]) : -1,
        density: densities[2 * k],
        cornerHz: densities[2 * k + 1],
      }))
      .filter((injection) => injection.density > 0);
  });
}

/** A-weighting of a frequency (power ratio, 1 at 1 kHz; IEC 61672-1, annex E). */
export function aWeighting(freqHz: number): number {
  const raw = (f: number) =>
    (12194 ** 2 * f ** 4) /
    ((f ** 2 + 20.6 ** 2) * Math.sqrt((f ** 2 + 107.7 ** 2) * (f ** 2 + 737.9 ** 2)) * (f ** 2 + 12194 ** 2));
  return (raw(freqHz) / raw(1000)) ** 2;
}

/**
 * Root-mean-square voltage of a spectrum (V/√Hz) over its whole grid, weighted or not, by the trapezoidal rule on
 * straight lines of power against frequency.
 */
export function totalNoise(
  freqHz: Float64Array,
  density: Float64Array,
  weighting: (freqHz: number) => number = () => 1,
): number {
  let power = 0;
  for (let i = 1; i < freqHz.length; i++)
    power +=
      ((density[i] ** 2 * weighting(freqHz[i]) + density[i - 1] ** 2 * weighting(freqHz[i - 1])) / 2) *
      (freqHz[i] - freqHz[i - 1]);
  return Math.sqrt(power);
}
