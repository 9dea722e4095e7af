import type { Entry } from '../../circuit/structure';
import type { Graph, Node } from '../../program/graph';

/** The number an entry stands for, as an expression of its value slots. */
export function entryNode(graph: Graph, { form, factor, slots }: Entry, slot: (index: number) => Node): Node {
  const by = {
    constant: () => graph.one,
    direct: () => slot(slots[0]),
    reciprocal: () => graph.divide(graph.one, slot(slots[0])),
    mutual: () => graph.multiply(slot(slots[0]), graph.squareRoot(graph.multiply(slot(slots[1]), slot(slots[2])))),
  };
  return graph.multiply(graph.constant(factor), by[form]());
}
