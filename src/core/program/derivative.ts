import type { Graph, Node } from './graph';

/**
 * Derivatives of an expression with respect to one input, by the chain rule node by node (A. Griewank and A. Walther,
 * Evaluating Derivatives, ch. 3), in the same graph, so that shared terms stay shared. At the joints of `select`,
 * `minimum`, `maximum` and `absolute` it takes the side they take.
 */
export function derivativeOf(graph: Graph, node: Node, variable: Node, known = new Map<Node, Node>()): Node {
  if (node === variable) return graph.one;
  const found = known.get(node);
  if (found !== undefined) return found;
  const slope = (n: Node) => derivativeOf(graph, n, variable, known);
  const [a, b, c] = [graph.first[node], graph.second[node], graph.third[node]];
  const by = (): Node => {
    switch (graph.op(node)) {
      case 'constant':
      case 'input':
        return graph.zero;
      case 'add':
        return graph.add(slope(a), slope(b));
      case 'subtract':
        return graph.subtract(slope(a), slope(b));
      case 'multiply':
        return graph.add(graph.multiply(slope(a), b), graph.multiply(a, slope(b)));
      case 'divide':
        return graph.divide(graph.subtract(slope(a), graph.multiply(node, slope(b))), b);
      case 'negate':
        return graph.negate(slope(a));
      case 'absolute':
        return graph.select(a, slope(a), graph.negate(slope(a)));
      case 'minimum':
        return graph.select(graph.subtract(b, a), slope(a), slope(b));
      case 'maximum':
        return graph.select(graph.subtract(a, b), slope(a), slope(b));
      case 'squareRoot':
        return graph.divide(slope(a), graph.multiply(graph.constant(2), node));
      case 'exponential':
        return graph.multiply(node, slope(a));
      case 'logarithm':
        return graph.divide(slope(a), a);
      case 'select':
        return graph.select(a, slope(b), slope(c));
    }
  };
  const value = by();
  known.set(node, value);
  return value;
}
