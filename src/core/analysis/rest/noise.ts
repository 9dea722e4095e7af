import { deviceModel } from '../../circuit/behaviour';
import { denseMatrices, type Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { ComplexLu } from '../elimination/dense-lu';
import { thermalVoltageAt, type Conditions } from './equations';
import { linearise } from './linearise';
import type { OperatingPoint } from './operating-point';

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
  request: NoiseRequest,
): Result<NoiseSpectrum, 'no-such-source' | 'no-unique-solution'> {
  const { structure } = circuit;
  const n = structure.size;
  const drives = structure.drives.filter((d) => d.element === request.source);
  if (drives.length === 0 && structure.branchOf(request.source) === undefined)
    return failure('no-such-source', { source: request.source });
  const injections = injectionsOf(circuit, rest, request.conditions ?? {});
  const small = linearise(circuit, rest, request.conditions);
  const { g, c } = denseMatrices(small.structure, small.values);
  // Transposed: rows become columns.
  const [gt, ct] = [g, c].map((a) => Float64Array.from(a, (_, i) => a[(i % n) * n + Math.floor(i / n)]));
  const [wanted, none, yRe, yIm] = Array.from({ length: 4 }, () => new Float64Array(n));
  request.output.forEach((unknown, k) => unknown >= 0 && (wanted[unknown] += k === 0 ? 1 : -1));
  const points = request.freqHz.length;
  const [output, input] = [new Float64Array(points), new Float64Array(points)];
  const byPart = new Map(injections.map(({ element }) => [element, new Float64Array(points)]));
  const power = (from: number, to: number) =>
    ((from < 0 ? 0 : yRe[from]) - (to < 0 ? 0 : yRe[to])) ** 2 +
    ((from < 0 ? 0 : yIm[from]) - (to < 0 ? 0 : yIm[to])) ** 2;
  for (let f = 0; f < points; f++) {
    const omega = 2 * Math.PI * request.freqHz[f];
    const lu = new ComplexLu(
      n,
      gt.slice(),
      ct.map((v) => v * omega),
    );
    if (lu.singular) return failure('no-unique-solution', { unknown: structure.unknowns[lu.singularColumn] });
    lu.solve(wanted, none, yRe, yIm);
    let total = 0;
    for (const { element, from, to, density, cornerHz } of injections) {
      const share = power(from, to) * density * (1 + cornerHz / request.freqHz[f]);
      (byPart.get(element) as Float64Array)[f] += share;
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
