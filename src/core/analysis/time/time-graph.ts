import { equationsOf, type Equations, type Flow, type Pair } from '../../circuit/behaviour';
import type { Assembled, DeviceStamp } from '../../circuit/structure';
import { derivativeOf } from '../../program/derivative';
import { Graph, type Node } from '../../program/graph';
import { entryNode } from '../elimination/entry-node';
import { CircuitEquations, thermalVoltageAt, type Conditions } from '../rest/equations';
import type { OperatingPoint } from '../rest/operating-point';
import { planElimination, type Plan } from '../elimination/plan';
import { linearise } from '../rest/linearise';
import { failure, success, type Result } from '../../result';

/** How often a number of a time program changes. */
export const RUN = 1;
export const STEP = 2;
export const ITERATION = 3;
export const FINISH = 4;

/**
 * A voltage that a device's equations depend on: its two unknowns (−1 is ground), and N·Vt where it is a junction's.
 */
export interface ControlVoltage {
  readonly ends: Pair;
  readonly thermal: number;
}

/**
 * One step of the trapezoidal rule with Newton's method, as an expression graph. With a = 2/h the step is G x + f(x) +
 * a Q(x) = b + H, where the history H = a Q + dQ/dt of the last step follows as H′ = 2a Q(x) − H (J. Vlach and K.
 * Singhal, Computer Methods for Circuit Analysis and Design, 9.4).
 *
 * Inputs. RUN: value slots, a. STEP: histories of the rows that hold charge, then the sources. ITERATION: the control
 * voltages to linearise at. FINISH: the unknowns kept of the last iteration. The plan takes rows that no device touches
 * first, so they are eliminated once a run.
 */
export interface TimeGraph {
  readonly graph: Graph;
  readonly controls: readonly ControlVoltage[];
  /** Names of the sources whose values are the STEP inputs after the histories. */
  readonly sources: readonly string[];
  /** Rows that hold charge. */
  readonly chargeRows: readonly number[];
  /** Unknowns that an iteration leaves for the finish, in order. */
  readonly kept: readonly number[];
  readonly keptNodes: readonly Node[];
  /** Control voltages that come out of an iteration. */
  readonly nextControls: readonly Node[];
  /** New histories, of FINISH inputs. */
  readonly nextHistory: readonly Node[];
  readonly plan: Plan;
  /** H at the operating point: rest has no dQ/dt. */
  startingHistory(a: number): Float64Array;
}

export function timeGraph(
  circuit: Assembled,
  rest: OperatingPoint,
  stepS: number,
  wanted: readonly number[],
  conditions: Conditions = {},
): Result<TimeGraph, 'no-unique-solution'> {
  const { structure, values } = circuit;
  const small = linearise(circuit, rest, conditions);
  const linearEntries = structure.entries.length;
  const plan = planElimination(small.structure, small.values, 1 / (Math.PI * stepS), {
    changing: (e) => e >= linearEntries,
  });
  if ('singularUnknown' in plan)
    return failure('no-unique-solution', { unknown: structure.unknowns[plan.singularUnknown] });
  return success(new Builder(circuit, rest, plan, wanted, conditions).build(values));
}

class Builder {
  private readonly graph = new Graph();
  private readonly a: Node;
  private readonly thermal: Node;
  private readonly leak: Node;
  private readonly controls: ControlVoltage[] = [];
  private readonly controlIndex = new Map<string, number>();
  /** Terms of the matrix by position, of the right-hand side and of the charges by row. */
  private readonly matrix: Node[][];
  private readonly right: Node[][];
  private readonly charge: Node[][];
  /** Unknowns that are kept from step to step. */
  private readonly kept: number[];

  constructor(
    private readonly circuit: Assembled,
    private readonly rest: OperatingPoint,
    private readonly plan: Plan,
    wanted: readonly number[],
    conditions: Conditions,
  ) {
    const { graph } = this;
    const rows = () => Array.from({ length: circuit.structure.size }, (): Node[] => []);
    [this.right, this.charge] = [rows(), rows()];
    this.matrix = Array.from({ length: plan.positions }, () => []);
    this.kept = [...new Set(wanted.filter((u) => u >= 0))];
    this.a = graph.input(RUN, circuit.structure.slotCount);
    this.thermal = graph.constant(thermalVoltageAt(conditions));
    this.leak = graph.constant(1e-12);
  }

  private control(stamp: DeviceStamp, pair: Pair): { index: number; ends: Pair } {
    const ends = pair.map((t) => (t < 0 ? -1 : stamp.terminals[t])) as unknown as Pair;
    const key = ends.join();
    let index = this.controlIndex.get(key);
    if (index === undefined) {
      this.controlIndex.set(key, (index = this.controls.length));
      this.controls.push({ ends, thermal: 0 });
    }
    return { index, ends };
  }

  build(values: Float64Array): TimeGraph {
    const { graph, circuit, kept, matrix, right, charge } = this;
    this.stampLinear();
    this.stampDevices(values);
    const chargeRows = charge.flatMap((terms, row) => (terms.some((node) => node !== graph.zero) ? [row] : []));
    chargeRows.forEach((row, k) => right[row].push(graph.input(STEP, k)));
    const sources = [...new Set(circuit.structure.drives.map((d) => d.element))];
    for (const { element, row, factor } of circuit.structure.drives)
      right[row].push(
        graph.multiply(graph.constant(factor), graph.input(STEP, chargeRows.length + sources.indexOf(element))),
      );
    const x = this.solve(
      matrix.map((terms) => graph.sum(terms)),
      right.map((terms) => graph.sum(terms)),
    );
    const at = (unknown: number) => (unknown < 0 ? graph.zero : x[unknown]);
    const twice = graph.multiply(graph.constant(2), this.a);
    return {
      graph,
      controls: this.controls,
      sources,
      chargeRows,
      kept,
      plan: this.plan,
      keptNodes: kept.map(at),
      nextControls: this.controls.map(({ ends }) => graph.subtract(at(ends[0]), at(ends[1]))),
      nextHistory: chargeRows.map((row, k) =>
        graph.subtract(graph.multiply(twice, graph.sum(charge[row])), graph.input(STEP, k)),
      ),
      startingHistory: (a) => this.startingHistory(a, chargeRows),
    };
  }

  /** An unknown as it is once the step has settled: it is kept from then on. */
  private keptInput(unknown: number): Node {
    if (unknown < 0) return this.graph.zero;
    let at = this.kept.indexOf(unknown);
    if (at < 0) at = this.kept.push(unknown) - 1;
    return this.graph.input(FINISH, at);
  }

  private stampLinear(): void {
    const { graph, matrix, charge } = this;
    this.circuit.structure.entries.forEach((entry, e) => {
      const node = entryNode(graph, entry, (slot) => this.slot(slot));
      const terms = matrix[this.plan.entryPosition[e]];
      if (entry.order === 0) terms.push(node);
      else {
        terms.push(graph.multiply(this.a, node));
        charge[entry.row].push(graph.multiply(node, this.keptInput(entry.column)));
      }
    });
  }

  /**
   * The small-signal structure lists its extra entries flow by flow and control by control, leaving out ground: the
   * same walk gives their positions.
   */
  private stampDevices(values: Float64Array): void {
    const { graph } = this;
    let smallEntry = this.circuit.structure.entries.length;
    for (const stamp of this.circuit.structure.devices) {
      const equations = this.equationsWith(stamp, (pair) => graph.input(ITERATION, this.control(stamp, pair).index));
      if (equations.flows.length === 0) continue;
      const finished = this.equationsWith(stamp, (pair) => {
        const { ends } = this.control(stamp, pair);
        return graph.subtract(this.keptInput(ends[0]), this.keptInput(ends[1]));
      });
      for (const control of equations.controls) {
        const { index, ends } = this.control(stamp, control.pair);
        if (control.thermal !== undefined)
          this.controls[index] = { ends, thermal: this.constantOf(control.thermal, values) };
      }
      equations.flows.forEach((flow, f) => {
        smallEntry = this.stampFlow(stamp, equations, flow, smallEntry);
        if (flow.kind === 'charge') this.put(this.charge, stamp, flow.pair, finished.flows[f].node);
      });
    }
  }

  private equationsWith(stamp: DeviceStamp, voltage: (pair: Pair) => Node): Equations {
    return equationsOf(stamp.definition, this.graph, {
      thermalVoltage: this.thermal,
      leak: this.leak,
      value: (i: number) => this.slot(stamp.slot + i),
      voltage,
    });
  }

  /** What leaves one terminal and enters the other. */
  private put(rows: Node[][], stamp: DeviceStamp, [from, to]: Pair, node: Node): void {
    const [out, into] = [from, to].map((t) => (t < 0 ? -1 : stamp.terminals[t]));
    if (out >= 0) rows[out].push(node);
    if (into >= 0) rows[into].push(this.graph.negate(node));
  }

  /** A flow as its tangent: slopes in the matrix, the rest to the right. Returns the next of the small entries. */
  private stampFlow(stamp: DeviceStamp, { controls }: Equations, flow: Flow, firstEntry: number): number {
    const { graph, plan, matrix } = this;
    const scaled = (node: Node) => (flow.kind === 'charge' ? graph.multiply(this.a, node) : node);
    const unknown = (t: number) => (t < 0 ? -1 : stamp.terminals[t]);
    const [from, to] = flow.pair.map(unknown);
    let [known, entry] = [flow.node, firstEntry];
    for (const control of controls) {
      const [plus, minus] = control.pair.map(unknown);
      const slope = derivativeOf(graph, flow.node, control.node);
      known = graph.subtract(known, graph.multiply(slope, control.node));
      for (const [row, column, sign] of [
        [from, plus, 1],
        [from, minus, -1],
        [to, plus, -1],
        [to, minus, 1],
      ] as const) {
        if (row < 0 || column < 0) continue;
        matrix[plan.entryPosition[entry++]].push(sign > 0 ? scaled(slope) : graph.negate(scaled(slope)));
      }
    }
    if (from >= 0) this.right[from].push(graph.negate(scaled(known)));
    if (to >= 0) this.right[to].push(scaled(known));
    return entry;
  }

  /** A part value. What is zero is left out of the program (an Early voltage not given, a charge not stored). */
  private slot(slot: number): Node {
    return this.circuit.values[slot] === 0 ? this.graph.zero : this.graph.input(RUN, slot);
  }

  /** N·Vt of a junction, from the values it is built with: it only bounds steps. */
  private constantOf(node: Node, values: Float64Array): number {
    const { graph } = this;
    const op = graph.op(node);
    if (op === 'constant') return graph.numbers[node];
    if (op === 'input') return values[graph.third[node]];
    return op === 'multiply'
      ? this.constantOf(graph.first[node], values) * this.constantOf(graph.second[node], values)
      : 0.026;
  }

  /** Elimination by the plan, over expressions. */
  private solve(entries: Node[], right: Node[]): Node[] {
    const { graph, plan } = this;
    const inverse: Node[] = [];
    let t = 0;
    for (let k = 0; k < plan.size; k++) {
      inverse.push(graph.divide(graph.one, entries[plan.pivotPosition[k]]));
      for (let rows = plan.tape[t++]; rows > 0; rows--) {
        const row = plan.tape[t++];
        const factor = graph.multiply(entries[plan.tape[t++]], inverse[k]);
        for (let count = plan.tape[t++]; count > 0; count--) {
          const u = plan.tape[t++];
          const target = plan.tape[t++];
          entries[target] = graph.subtract(entries[target], graph.multiply(factor, entries[u]));
        }
        right[row] = graph.subtract(right[row], graph.multiply(factor, right[plan.pivotRow[k]]));
      }
    }
    const x = new Array<Node>(plan.size);
    t = 0;
    for (let k = plan.size - 1; k >= 0; k--) {
      let sum = right[plan.pivotRow[k]];
      for (let count = plan.backTape[t++]; count > 0; count--) {
        const u = plan.backTape[t++];
        sum = graph.subtract(sum, graph.multiply(entries[u], x[plan.backTape[t++]]));
      }
      x[plan.pivotColumn[k]] = graph.multiply(sum, inverse[k]);
    }
    return x;
  }

  private startingHistory(a: number, chargeRows: readonly number[]): Float64Array {
    const equations = new CircuitEquations(this.circuit);
    equations.evaluate(this.rest, false);
    const n = equations.size;
    return Float64Array.from(chargeRows, (row) => {
      let charge = equations.charge[row];
      for (let j = 0; j < n; j++) charge += equations.c[row * n + j] * this.rest[j];
      return a * charge;
    });
  }
}
