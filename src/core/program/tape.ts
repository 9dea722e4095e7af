import { boundedExponential, OPS, type Graph, type Node } from './graph';

const CODE = Object.fromEntries(OPS.map((op, code) => [op, code])) as Record<(typeof OPS)[number], number>;

/**
 * Runs a graph on typed arrays, one node after another: the plain reading of a program, the oracle of the compiled one
 * and its stand-in where there is no WebAssembly.
 *
 * @param outputs nodes wanted; nothing that they do not need is computed.
 */
export class Tape {
  private readonly steps: Int32Array;
  private readonly registers: Float64Array;
  private readonly inputs: readonly { readonly node: Node; readonly stage: number; readonly index: number }[];

  constructor(
    graph: Graph,
    private readonly outputs: readonly Node[],
  ) {
    const needed = new Uint8Array(graph.size);
    for (const node of outputs) needed[node] = 1;
    for (let node = graph.size - 1; node >= 0; node--)
      if (needed[node]) for (const argument of graph.argumentsOf(node)) needed[argument] = 1;
    this.registers = new Float64Array(graph.size);
    const steps: number[] = [];
    const inputs: { node: Node; stage: number; index: number }[] = [];
    for (let node = 0; node < graph.size; node++) {
      if (!needed[node]) continue;
      const op = graph.op(node);
      if (op === 'constant') this.registers[node] = graph.numbers[node];
      else if (op === 'input') inputs.push({ node, stage: graph.stages[node], index: graph.third[node] });
      else steps.push(graph.ops[node], node, graph.first[node], graph.second[node], graph.third[node]);
    }
    this.steps = Int32Array.from(steps);
    this.inputs = inputs;
  }

  /** @param inputs one array per stage, from stage 1. @param into as long as the outputs. */
  run(inputs: readonly ArrayLike<number>[], into: Float64Array): void {
    const { registers: r, steps } = this;
    for (const { node, stage, index } of this.inputs) r[node] = inputs[stage - 1][index];
    for (let i = 0; i < steps.length; i += 5) {
      const [a, b, c] = [steps[i + 2], steps[i + 3], steps[i + 4]];
      r[steps[i + 1]] = evaluate(steps[i], r[a], b < 0 ? 0 : r[b], c < 0 ? 0 : r[c]);
    }
    for (let i = 0; i < into.length; i++) into[i] = r[this.outputs[i]];
  }
}

function evaluate(code: number, a: number, b: number, c: number): number {
  switch (code) {
    case CODE.add:
      return a + b;
    case CODE.subtract:
      return a - b;
    case CODE.multiply:
      return a * b;
    case CODE.divide:
      return a / b;
    case CODE.negate:
      return -a;
    case CODE.absolute:
      return Math.abs(a);
    case CODE.minimum:
      return Math.min(a, b);
    case CODE.maximum:
      return Math.max(a, b);
    case CODE.squareRoot:
      return Math.sqrt(a);
    case CODE.exponential:
      return boundedExponential(a);
    case CODE.logarithm:
      return Math.log(a);
    default:
      return a > 0 ? b : c;
  }
}
