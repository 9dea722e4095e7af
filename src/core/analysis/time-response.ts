import { denseMatrices, driveVector, type Assembled } from '../circuit/structure';
import { failure, success, type Result } from '../result';
import { RealLu } from './real-lu';

export interface Waveform {
  /** Value that multiplies every source's AC magnitude, at a time (s). At an edge: the value just after it. */
  readonly at: (timeS: number) => number;
  /** Times (s) of the edges in (0, stop); zero is always taken for one. */
  readonly edges: readonly number[];
}

export const stepWave: Waveform = { at: () => 1, edges: [] };

/** A square wave between +1 and −1 that starts high. */
export function squareWave(freqHz: number, stopS: number): Waveform {
  const half = 1 / (2 * freqHz);
  // Counting edges, not times, keeps the sign right at the edges themselves.
  return {
    at: (t) => (Math.floor(t / half + 1e-9) % 2 === 0 ? 1 : -1),
    edges: Array.from({ length: Math.max(0, Math.ceil(stopS / half) - 1) }, (_, i) => (i + 1) * half),
  };
}

/** Extra backward-Euler steps after an edge, so that the trapezoidal rule does not ring on what jumps. */
const EULER_STEPS = 4;

/**
 * Response of a linear circuit in time, at rest before 0, to its AC sources following a waveform. Trapezoidal rule on an even fine grid;
 * each edge begins a short run of small backward-Euler steps (J. Vlach and K. Singhal, Computer Methods for Circuit Analysis and Design, ch. 9).
 *
 * @param count output points, from 0 to stopS inclusive, evenly spaced; `substeps` integration steps between them.
 * @returns the node's voltage at those times. Fails with `no-such-node` or `no-unique-solution`.
 */
export function timeResponse(
  circuit: Assembled, node: string, wave: Waveform, stopS: number, count: number, substeps = 4,
): Result<Float64Array, 'no-such-node' | 'no-unique-solution'> {
  const index = circuit.structure.nodeOf(node);
  if (index === undefined) return failure('no-such-node', { node });
  const integrator = new Integrator(circuit, stopS / (count - 1) / substeps);
  if (integrator.singular) return failure('no-unique-solution', { unknown: node });
  const out = new Float64Array(count);
  if (index < 0) return success(out);
  const edges = [0, ...wave.edges.filter((t) => t > 0 && t < stopS)];
  const times = Array.from({ length: count }, (_, i) => (i * stopS) / (count - 1));
  let edge = 0;
  let fromEuler = 0;
  for (let i = 0; i < count; i++) {
    const end = times[i];
    while (integrator.time < end - 1e-9 * integrator.step || (edge < edges.length && edges[edge] <= end)) {
      const nextEdge = edges[edge] ?? Infinity;
      if (nextEdge <= integrator.time + 1e-9 * integrator.step) {
        fromEuler = EULER_STEPS;
        edge++;
        // The state just after an edge: the same charges, the new drive, found by one vanishing step.
        integrator.jump(wave.at(nextEdge));
        continue;
      }
      const target = Math.min(end, nextEdge, integrator.time + integrator.step);
      integrator.advance(target, wave.at(target), fromEuler > 0);
      if (fromEuler > 0) fromEuler--;
    }
    out[i] = integrator.value(index);
  }
  return success(out);
}

/** (G + C d/dt) x = b u(t), stepped. Factors are kept per step length and rule, since nearly all steps are alike. */
class Integrator {
  time = 0;
  readonly singular: boolean;
  private readonly n: number;
  private readonly g: Float64Array;
  private readonly c: Float64Array;
  private readonly b: Float64Array;
  private x: Float64Array;
  private spare: Float64Array;
  private readonly right: Float64Array;
  private drive = 0;
  private readonly factors = new Map<string, RealLu>();

  constructor({ structure, values }: Assembled, readonly step: number) {
    this.n = structure.size;
    ({ g: this.g, c: this.c } = denseMatrices(structure, values));
    this.b = driveVector(structure, values).re;
    this.x = new Float64Array(this.n);
    this.spare = new Float64Array(this.n);
    this.right = new Float64Array(this.n);
    this.singular = this.factored(1, step).singular;
  }

  value(index: number): number {
    return this.x[index];
  }

  private factored(theta: number, h: number): RealLu {
    const key = `${theta} ${h.toPrecision(9)}`;
    let lu = this.factors.get(key);
    if (!lu) {
      lu = new RealLu(this.n, this.g.map((v, i) => theta * v + this.c[i] / h));
      if (this.factors.size > 64) this.factors.clear();
      this.factors.set(key, lu);
    }
    return lu;
  }

  jump(drive: number): void {
    this.solve(1, this.step * 1e-7, drive);
    this.drive = drive;
  }

  advance(target: number, drive: number, euler: boolean): void {
    this.solve(euler ? 1 : 0.5, target - this.time, drive);
    this.time = target;
    this.drive = drive;
  }

  /** θ-rule: (θG + C/h) x₁ = (C/h − (1−θ)G) x₀ + b (θ u₁ + (1−θ) u₀). */
  private solve(theta: number, h: number, drive: number): void {
    const { n, g, c, b, x, right } = this;
    const rest = 1 - theta;
    for (let i = 0; i < n; i++) {
      let sum = b[i] * (theta * drive + rest * this.drive);
      for (let j = 0; j < n; j++) sum += (c[i * n + j] / h - rest * g[i * n + j]) * x[j];
      right[i] = sum;
    }
    this.factored(theta, h).solve(right, this.spare);
    [this.x, this.spare] = [this.spare, this.x];
  }
}
