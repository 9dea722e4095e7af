import type { Assembled } from '../../circuit/structure';
import { success, type Result } from '../../result';
import { LinearMotion, STAGES } from '../time/linear-motion';

/**
 * A linear circuit sample by sample: the state a step takes it to, and its output, as one matrix, the input straight
 * between samples (first-order hold). Only unknowns that store anything are carried. The step is Radau IIA of order 5:
 * at a rate eight times what is heard it is exact to seven figures.
 */
export class LinearSound {
  private state: Float64Array;
  private next: Float64Array;
  private before = 0;

  private constructor(
    private readonly order: number,
    private readonly p: Float64Array,
    private readonly q: Float64Array,
    private readonly outP: Float64Array,
    private readonly outQ: Float64Array,
  ) {
    this.state = new Float64Array(order);
    this.next = new Float64Array(order);
  }

  /** At rest. Fails with `no-unique-solution` (`unknown`). @param unknowns of the outputs. */
  static of(
    circuit: Assembled,
    unknowns: readonly number[],
    sampleRateHz: number,
  ): Result<LinearSound, 'no-unique-solution'> {
    const motion = new LinearMotion(circuit);
    const step = motion.propagator(1 / sampleRateHz);
    if (!step.ok) return step;
    const { p, q } = step.value;
    const n = motion.size;
    const storing = Array.from({ length: n }, (_, j) => j).filter((j) =>
      Array.from({ length: n }, (_, i) => p[i * n + j]).some((v) => v !== 0),
    );
    const m = storing.length;
    const rowOf = (i: number) => Float64Array.from(storing, (j) => p[i * n + j]);
    return success(
      new LinearSound(
        m,
        Float64Array.from(storing.flatMap((i) => Array.from(rowOf(i)))),
        heldAtFirstOrder(storing, q),
        Float64Array.from(unknowns.flatMap((i) => Array.from(rowOf(i)))),
        heldAtFirstOrder(unknowns, q),
      ),
    );
  }

  /** The outputs' next samples, volts, for the source's. */
  process(input: Float64Array): Float64Array[] {
    const { order: m, p, q, outP, outQ } = this;
    const outputs = Array.from({ length: outQ.length / 2 }, () => new Float64Array(input.length));
    for (let k = 0; k < input.length; k++) {
      const [u0, u1] = [this.before, input[k]];
      outputs.forEach((out, o) => {
        let sum = outQ[2 * o] * u0 + outQ[2 * o + 1] * u1;
        for (let j = 0; j < m; j++) sum += outP[o * m + j] * this.state[j];
        out[k] = sum;
      });
      for (let i = 0; i < m; i++) {
        let sum = q[2 * i] * u0 + q[2 * i + 1] * u1;
        for (let j = 0; j < m; j++) sum += p[i * m + j] * this.state[j];
        this.next[i] = sum;
      }
      [this.state, this.next] = [this.next, this.state];
      this.before = u1;
    }
    return outputs;
  }
}

/** What the drive at both ends of a step does, when it runs straight between them. */
const heldAtFirstOrder = (rows: readonly number[], q: Float64Array): Float64Array =>
  Float64Array.from(
    rows.flatMap((i) => [
      STAGES.reduce((sum, s, t) => sum + (1 - s) * q[3 * i + t], 0),
      STAGES.reduce((sum, s, t) => sum + s * q[3 * i + t], 0),
    ]),
  );
