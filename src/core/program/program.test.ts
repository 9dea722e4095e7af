import fc from 'fast-check';
import { derivativeOf } from './derivative';
import { emitBlock, Locals } from './emit';
import { Graph, type Node } from './graph';
import { Tape } from './tape';
import { Bytes, moduleOf } from './wasm-bytes';

const [A, B] = [1, 2];

/** Runs nodes of stage A as compiled code on some inputs. */
function compiled(graph: Graph, nodes: readonly Node[], inputs: readonly number[]): number[] {
  const memory = new WebAssembly.Memory({ initial: 1 });
  const doubles = new Float64Array(memory.buffer);
  doubles.set(inputs, 8);
  const body = new Bytes();
  const locals = new Locals(0);
  const stores = nodes.map((node, i) => ({ node, at: { offset: 4096 + 8 * i } }));
  emitBlock(
    {
      graph,
      lanes: 1,
      stage: A,
      stores,
      input: (i) => ({ offset: 64 + 8 * i }),
      cell: () => {
        throw new Error('nothing is below');
      },
    },
    body,
    locals,
  );
  const { exports } = new WebAssembly.Instance(
    new WebAssembly.Module(moduleOf([{ name: 'run', parameters: [], locals: locals.types, body }])),
    { host: { memory } },
  );
  (exports.run as () => void)();
  return Array.from(doubles.subarray(512, 512 + nodes.length));
}

const tape = (graph: Graph, nodes: readonly Node[], inputs: readonly number[]): number[] => {
  const out = new Float64Array(nodes.length);
  new Tape(graph, nodes).run([inputs], out);
  return [...out];
};

describe('graph', () => {
  test('folds constants, drops zeros and ones, and keeps equal expressions once', () => {
    const g = new Graph();
    const x = g.input(A, 0);
    expect(g.multiply(g.constant(2), g.constant(3))).toBe(g.constant(6));
    expect(g.add(x, g.zero)).toBe(x);
    expect(g.multiply(g.one, x)).toBe(x);
    expect(g.multiply(x, g.zero)).toBe(g.zero);
    expect(g.subtract(x, x)).toBe(g.zero);
    expect(g.negate(g.negate(x))).toBe(x);
    expect(g.multiply(x, g.constant(-1))).toBe(g.negate(x));
    expect(g.add(x, g.negate(g.input(A, 1)))).toBe(g.subtract(x, g.input(A, 1)));
    expect(g.add(g.input(A, 1), x)).toBe(g.add(x, g.input(A, 1)));
    expect(g.select(g.constant(1), x, g.zero)).toBe(x);
  });

  test('work is put where it changes least often', () => {
    const g = new Graph();
    const [slow, slower, fast] = [g.input(A, 0), g.input(A, 1), g.input(B, 0)];
    const product = g.multiply(slow, g.multiply(slower, fast));
    expect(product).toBe(g.multiply(g.multiply(slow, slower), fast));
    // A division by what changes seldom is a multiplication by what was divided once.
    expect(g.op(g.divide(fast, slow))).toBe('multiply');
    expect(g.stages[g.divide(g.one, slow)]).toBe(A);
    expect(g.stages[g.sum([fast, slow, slower])]).toBe(B);
  });
});

/** A random expression of two inputs, away from poles and overflow. */
const expression = fc.array(fc.tuple(fc.nat(9), fc.nat(1000), fc.nat(1000)), {
  minLength: 1,
  maxLength: 40,
});
function build(g: Graph, steps: readonly (readonly [number, number, number])[]): Node[] {
  const nodes = [g.input(A, 0), g.input(A, 1), g.constant(0.7)];
  for (const [op, i, j] of steps) {
    const [a, b] = [nodes[i % nodes.length], nodes[j % nodes.length]];
    const positive = g.add(g.constant(0.5), g.absolute(a));
    // Kept within ±3, so that forty steps neither overflow nor lose all digits.
    const bounded = (n: Node) => g.maximum(g.constant(-3), g.minimum(n, g.constant(3)));
    const made = [
      () => g.add(a, b),
      () => g.subtract(a, b),
      () => g.multiply(a, b),
      () => g.divide(a, positive),
      () => g.exponential(a),
      () => g.logarithm(positive),
      () => g.squareRoot(positive),
      () => g.select(a, b, positive),
      () => g.minimum(a, b),
      () => g.negate(a),
    ][op];
    nodes.push(bounded(made()));
  }
  return nodes;
}
const inputs = fc.tuple(fc.double({ min: -2, max: 2, noNaN: true }), fc.double({ min: -2, max: 2, noNaN: true }));

test('compiled code computes what the tape computes', () =>
  fc.assert(
    fc.property(expression, inputs, (steps, values) => {
      const g = new Graph();
      const nodes = build(g, steps);
      const [quick, plain] = [compiled(g, nodes, values), tape(g, nodes, values)];
      plain.forEach((v, i) => expect(Math.abs(quick[i] - v)).toBeLessThan(1e-11));
    }),
    { numRuns: 200, seed: 7 },
  ));

test('exponentials and logarithms are good to a few ulps over their range', () => {
  const g = new Graph();
  const nodes = [g.exponential(g.input(A, 0)), g.logarithm(g.input(A, 1))];
  for (let i = 0; i <= 400; i++) {
    const x = -690 + (i * 890) / 400;
    const y = 10 ** (-300 + 1.5 * i);
    const [e, l] = compiled(g, nodes, [x, y]);
    expect(Math.abs(e / Math.exp(x) - 1)).toBeLessThan(4e-15 + 3e-16 * Math.abs(x));
    expect(Math.abs(l - Math.log(y))).toBeLessThan(1e-15 * Math.max(1, Math.abs(Math.log(y))));
  }
  expect(compiled(g, nodes, [1e6, 1])[0]).toBeCloseTo(Math.exp(200), -80);
  expect(compiled(g, nodes, [-1e6, 1])[0]).toBeLessThan(1e-300);
});

test('derivatives agree with central differences', () =>
  fc.assert(
    fc.property(expression, inputs, (steps, [x, y]) => {
      const g = new Graph();
      const nodes = build(g, steps.slice(0, 8));
      const last = nodes[nodes.length - 1];
      const slope = derivativeOf(g, last, g.input(A, 0));
      const h = 1e-6;
      const [up, down, at] = [
        tape(g, [last], [x + h, y])[0],
        tape(g, [last], [x - h, y])[0],
        tape(g, [last], [x, y])[0],
      ];
      const [left, right] = [(at - down) / h, (up - at) / h];
      // At a kink either side will do; elsewhere both are the same.
      const got = tape(g, [slope], [x, y])[0];
      fc.pre(Math.abs(left) < 1e3 && Math.abs(left - right) < 1e-2 * (1 + Math.abs(left)));
      expect(Math.abs(got - (left + right) / 2)).toBeLessThan(2e-2 * (1 + Math.abs(left)));
    }),
    { numRuns: 300, seed: 7 },
  ));
