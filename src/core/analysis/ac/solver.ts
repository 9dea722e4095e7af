import type { Assembled, Structure } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { canCompile, compiledKernel } from './compiled';
import { rowOf, type AcKernel } from './kernel';
import { withMeasuredPorts } from './measured-ports';
import { planElimination, type Plan } from '../elimination/plan';
import { replayKernel } from './replay';

export type SolverFailure = 'no-unique-solution' | 'no-such-node';

/**
 * Solves circuits in AC and remembers one plan per structure. Lives as long as its worker, so a whole drag or a
 * thousand draws make one plan. To change how circuits are solved (compiled code, say), change `makeKernel` and nothing
 * else.
 */
export class AcSolver {
  /** How many elimination plans have been made so far: tests count them. */
  plansMade = 0;
  private readonly kernels = new Map<string, AcKernel>();

  /**
   * Voltages of nodes against frequency.
   * @returns one interleaved re, im array (length 2·frequencies) per node asked for, in order; ground is all zeros.
   * Fails with `no-such-node` (`node`) or `no-unique-solution` (`unknown`: a floating node, or a source loop's branch).
   */
  sweep(
    circuit: Assembled,
    frequenciesHz: Float64Array,
    nodes: readonly string[],
  ): Result<Float64Array[], SolverFailure> {
    return this.sweepUnknowns(circuit, frequenciesHz, nodes, (node) => circuit.structure.nodeOf(node));
  }

  /** Currents through voltage sources and coils, from + to −, likewise. */
  branchCurrents(
    circuit: Assembled,
    frequenciesHz: Float64Array,
    elements: readonly string[],
  ): Result<Float64Array[], SolverFailure> {
    return this.sweepUnknowns(circuit, frequenciesHz, elements, (element) => circuit.structure.branchOf(element));
  }

  /** Difference of two unknowns (−1 is ground) against frequency, interleaved re, im. */
  difference(
    circuit: Assembled,
    frequenciesHz: Float64Array,
    [plus, minus]: readonly [number, number],
  ): Result<Float64Array, SolverFailure> {
    const wanted = [plus, minus].filter((unknown) => unknown >= 0).map(String);
    const solved = this.sweepUnknowns(circuit, frequenciesHz, wanted, Number);
    if (!solved.ok) return solved;
    const [first, second] = solved.value;
    if (plus < 0) return success(first ? first.map((v) => -v) : new Float64Array(2 * frequenciesHz.length));
    return success(second ? first.map((v, i) => v - second[i]) : first);
  }

  private sweepUnknowns(
    circuit: Assembled,
    frequenciesHz: Float64Array,
    names: readonly string[],
    indexOf: (name: string) => number | undefined,
  ): Result<Float64Array[], SolverFailure> {
    const { structure } = circuit;
    const wanted: number[] = [];
    for (const name of names) {
      const index = indexOf(name);
      if (index === undefined) return failure('no-such-node', { node: name });
      if (index >= 0) wanted.push(index);
    }
    const kernel = this.kernelFor(circuit, frequenciesHz);
    if (!kernel.ok) return kernel;
    const rows = this.solved(kernel.value, circuit, frequenciesHz, wanted);
    for (const [k, row] of rows.entries())
      if (!row.every(Number.isFinite)) return failure('no-unique-solution', { unknown: structure.unknowns[wanted[k]] });
    let next = 0;
    return success(
      names.map((name) => (indexOf(name) === -1 ? new Float64Array(2 * frequenciesHz.length) : rows[next++])),
    );
  }

  /** Rows of some unknowns, measured one-ports taken into account. */
  private solved(
    kernel: AcKernel,
    { structure, values }: Assembled,
    frequenciesHz: Float64Array,
    wanted: readonly number[],
  ): Float64Array[] {
    const { ports, drives } = structure;
    const rowsFor = (of: Float64Array, unknowns: readonly number[]): Float64Array[] => {
      const points = kernel.solve(of, frequenciesHz, Int32Array.from(unknowns));
      return unknowns.map((_, k) => rowOf(points, k, unknowns.length, frequenciesHz.length));
    };
    if (ports.length === 0) return rowsFor(values, wanted);
    const ends = ports.flatMap(({ plus, minus }) => [plus, minus]).filter((unknown) => unknown >= 0);
    const all = [...wanted, ...ends];
    const voltage = (rows: readonly Float64Array[], unknown: number) =>
      unknown < 0 ? null : rows[all.indexOf(unknown, wanted.length)];
    const atPorts = (rows: readonly Float64Array[]) =>
      ports.map(({ plus, minus }) => {
        const [p, m] = [voltage(rows, plus), voltage(rows, minus)];
        return Float64Array.from({ length: 2 * frequenciesHz.length }, (_, i) => (p ? p[i] : 0) - (m ? m[i] : 0));
      });
    const own = rowsFor(values, all);
    // A current source flows through itself from its first node to its second: into the port is the other way.
    const driven = ports.map(({ slot }) => {
      const alone = values.slice();
      for (const { magnitudeSlot } of drives) alone[magnitudeSlot] = 0;
      alone[slot] = -1;
      return rowsFor(alone, all);
    });
    return withMeasuredPorts(
      ports,
      frequenciesHz,
      own.slice(0, wanted.length),
      driven.map((rows) => rows.slice(0, wanted.length)),
      { own: atPorts(own), driven: driven.map(atPorts) },
    );
  }

  private kernelFor(circuit: Assembled, frequenciesHz: Float64Array): Result<AcKernel, 'no-unique-solution'> {
    const { key } = circuit.structure;
    const known = this.kernels.get(key);
    if (known) return success(known);
    const made = this.makeKernel(
      circuit,
      Math.sqrt(frequenciesHz[0] * frequenciesHz[frequenciesHz.length - 1]) || frequenciesHz[0],
    );
    if (made.ok) {
      // A long session meets many structures; the oldest plans are cheap to make again.
      if (this.kernels.size >= 200) this.kernels.delete(this.kernels.keys().next().value as string);
      this.kernels.set(key, made.value);
    }
    return made;
  }

  private makeKernel(circuit: Assembled, sampleHz: number): Result<AcKernel, 'no-unique-solution'> {
    const plan = planElimination(circuit.structure, circuit.values, sampleHz);
    if ('singularUnknown' in plan)
      return failure('no-unique-solution', { unknown: circuit.structure.unknowns[plan.singularUnknown] });
    this.plansMade++;
    return success(this.kernelOf(circuit.structure, plan));
  }

  private kernelOf(structure: Structure, plan: Plan): AcKernel {
    // A better plan that the guard's repairs came upon serves from then on.
    const replay = replayKernel(structure, plan, (better) => {
      this.plansMade++;
      this.kernels.set(structure.key, this.kernelOf(structure, better));
    });
    return canCompile(plan) ? compiledKernel(structure, plan, replay) : replay;
  }
}
