import type { Structure } from '../../circuit/structure';
import { Graph, type Node } from '../../program/graph';
import { entryNode } from '../elimination/entry-node';
import type { Plan } from '../elimination/plan';

/** How often a number of an AC program changes. */
export const DRAW = 1;
export const FREQUENCY = 2;

/** A complex expression: real and imaginary nodes. */
export interface ComplexNode {
  readonly re: Node;
  readonly im: Node;
}

/** Which parts of each drive may differ from zero: it belongs to the program, since what is zero is left out of it. */
export type DrivePattern = readonly { readonly re: boolean; readonly im: boolean }[];

/**
 * The equations (G + jωC) x = b of a structure, eliminated by a plan, as one expression graph. Inputs of stage DRAW:
 * the value slots, then re and im of every drive; of stage FREQUENCY: the frequency in Hz. What does not hold the
 * frequency lands in stage DRAW by itself: every elimination among resistors and op-amps alone is done once a draw.
 */
export class AcGraph {
  readonly graph = new Graph();
  /** Entries before elimination, by position. */
  private readonly matrix: readonly ComplexNode[];
  private readonly omega: Node;
  private readonly drive: ComplexNode[];
  private readonly solved: readonly ComplexNode[];
  private readonly pivotInverse: ComplexNode[] = [];
  private readonly multipliers: { step: number; row: number; value: ComplexNode }[] = [];
  private readonly eliminated: ComplexNode[];

  constructor(
    readonly structure: Structure,
    private readonly plan: Plan,
    pattern: DrivePattern,
  ) {
    const { graph } = this;
    const n = structure.size;
    this.omega = graph.multiply(graph.input(FREQUENCY, 0), graph.constant(2 * Math.PI));
    const [g, c] = [0, 1].map(() => Array.from({ length: plan.positions }, (): Node[] => []));
    structure.entries.forEach((entry, e) =>
      (entry.order === 0 ? g : c)[plan.entryPosition[e]].push(
        entryNode(graph, entry, (slot) => graph.input(DRAW, slot)),
      ),
    );
    this.matrix = g.map((terms, p) => ({ re: graph.sum(terms), im: graph.multiply(this.omega, graph.sum(c[p])) }));
    const terms = Array.from({ length: n }, (): ComplexNode[] => []);
    structure.drives.forEach((drive, d) => {
      const input = (part: number, live: boolean) =>
        live
          ? graph.multiply(graph.constant(drive.factor), graph.input(DRAW, structure.slotCount + 2 * d + part))
          : graph.zero;
      terms[drive.row].push({ re: input(0, pattern[d].re), im: input(1, pattern[d].im) });
    });
    this.drive = terms.map((list) => ({ re: graph.sum(list.map((t) => t.re)), im: graph.sum(list.map((t) => t.im)) }));
    this.eliminated = [...this.matrix];
    this.eliminate();
    this.solved = this.backward(this.forward(this.drive));
  }

  multiply(a: ComplexNode, b: ComplexNode): ComplexNode {
    const { graph } = this;
    return {
      re: graph.subtract(graph.multiply(a.re, b.re), graph.multiply(a.im, b.im)),
      im: graph.add(graph.multiply(a.re, b.im), graph.multiply(a.im, b.re)),
    };
  }

  subtract(a: ComplexNode, b: ComplexNode): ComplexNode {
    return { re: this.graph.subtract(a.re, b.re), im: this.graph.subtract(a.im, b.im) };
  }

  private inverse({ re, im }: ComplexNode): ComplexNode {
    const { graph } = this;
    if (im === graph.zero) return { re: graph.divide(graph.one, re), im: graph.zero };
    if (re === graph.zero) return { re: graph.zero, im: graph.negate(graph.divide(graph.one, im)) };
    const scale = graph.divide(graph.one, graph.add(graph.multiply(re, re), graph.multiply(im, im)));
    return { re: graph.multiply(re, scale), im: graph.negate(graph.multiply(im, scale)) };
  }

  private eliminate(): void {
    const { plan, eliminated } = this;
    const { tape } = plan;
    let t = 0;
    for (let k = 0; k < plan.size; k++) {
      const inverse = this.inverse(eliminated[plan.pivotPosition[k]]);
      this.pivotInverse.push(inverse);
      for (let rows = tape[t++]; rows > 0; rows--) {
        const row = tape[t++];
        const value = this.multiply(eliminated[tape[t++]], inverse);
        this.multipliers.push({ step: k, row, value });
        for (let count = tape[t++]; count > 0; count--) {
          const u = tape[t++];
          const target = tape[t++];
          eliminated[target] = this.subtract(eliminated[target], this.multiply(value, eliminated[u]));
        }
      }
    }
  }

  private forward(b: readonly ComplexNode[]): ComplexNode[] {
    const right = [...b];
    for (const { step, row, value } of this.multipliers)
      right[row] = this.subtract(right[row], this.multiply(value, right[this.plan.pivotRow[step]]));
    return right;
  }

  private backward(right: readonly ComplexNode[]): ComplexNode[] {
    const { plan } = this;
    const x = new Array<ComplexNode>(plan.size);
    let t = 0;
    for (let k = plan.size - 1; k >= 0; k--) {
      let sum = right[plan.pivotRow[k]];
      for (let count = plan.backTape[t++]; count > 0; count--) {
        const u = plan.backTape[t++];
        sum = this.subtract(sum, this.multiply(this.eliminated[u], x[plan.backTape[t++]]));
      }
      x[plan.pivotColumn[k]] = this.multiply(sum, this.pivotInverse[k]);
    }
    return x;
  }

  /** The solution for one unknown. */
  unknown(index: number): ComplexNode {
    return this.solved[index];
  }

  /**
   * Largest componentwise backward error over the rows (W. Oettli and W. Prager, Numerische Mathematik 6, 1964): |b − A
   * x| against |A| |x| + |b|.
   */
  backwardError(): Node {
    const { graph, structure, plan } = this;
    const size = ({ re, im }: ComplexNode) => graph.add(graph.absolute(re), graph.absolute(im));
    const seen = new Set<number>();
    const residual = [...this.drive];
    const weight = this.drive.map(size);
    structure.entries.forEach(({ row, column }, e) => {
      const position = plan.entryPosition[e];
      if (seen.has(position)) return;
      seen.add(position);
      const entry = this.matrix[position];
      const x = this.unknown(column);
      residual[row] = this.subtract(residual[row], this.multiply(entry, x));
      weight[row] = graph.add(weight[row], graph.multiply(size(entry), size(x)));
    });
    const tiny = graph.constant(1e-290);
    return residual.reduce(
      (worst, r, i) =>
        weight[i] === graph.zero ? worst : graph.maximum(worst, graph.divide(size(r), graph.add(weight[i], tiny))),
      graph.zero,
    );
  }
}
