import { GROUND, type Netlist } from '../../circuit/netlist';

/** Kinds whose branch fixes a voltage: a ring of them has no solution. */
const FIXES_VOLTAGE = /^(voltage-source|vcvs|ccvs)$/;
const JOINS_ALL = /^(npn|pnp)$/;
const NO_PATH = /^(current-source|vccs|cccs|coupling)$/;

/**
 * Finds what makes a circuit unsolvable by its shape alone: no ground, a node with no path to it, a ring of voltage
 * sources, an unknown control.
 */
export function checkCircuit(
  netlist: Netlist,
  lineOf: ReadonlyMap<string, number>,
): { line: number; message: string } | null {
  const { elements } = netlist;
  const line = (name: string) => lineOf.get(name) ?? 0;
  if (!elements.some((e) => e.nodes.includes(GROUND)))
    return { line: 0, message: 'nothing is connected to ground (node 0)' };
  const names = new Map(elements.map((e) => [e.name, e]));
  for (const element of elements) {
    const { kind, between = [] } = element.definition;
    for (const control of between) {
      const found = names.get(control);
      const fits = kind === 'coupling' ? found?.definition.kind === 'inductor' : found && found.definition.branches > 0;
      if (!fits)
        return {
          line: line(element.name),
          message:
            `${element.name} refers to '${control}', which is not ` +
            `${kind === 'coupling' ? 'a coil' : 'a voltage source'} of this deck`,
        };
    }
  }
  const connected = new Sets();
  const rings = new Sets();
  for (const { name, definition, nodes } of elements) {
    if (FIXES_VOLTAGE.test(definition.kind)) {
      if (nodes[0] === nodes[1] || !rings.join(nodes[0], nodes[1]))
        return { line: line(name), message: `${name} closes a loop of voltage sources` };
    }
    // A device ties all its terminals together; a linear element, the ends of its branch.
    const tied = JOINS_ALL.test(definition.kind) ? nodes : NO_PATH.test(definition.kind) ? [] : nodes.slice(0, 2);
    for (const node of tied.slice(1)) connected.join(tied[0], node);
  }
  for (const { name, nodes } of elements)
    for (const node of nodes)
      if (!connected.same(node, GROUND))
        return { line: line(name), message: `node '${node}' is floating: nothing gives it a path to ground` };
  return null;
}

/** Disjoint sets of names. */
class Sets {
  private readonly parent = new Map<string, string>();

  private find(name: string): string {
    let top = name;
    for (let next = this.parent.get(top); next !== undefined; next = this.parent.get(top)) top = next;
    return top;
  }

  /** False when they were together already. */
  join(a: string, b: string): boolean {
    const [x, y] = [this.find(a), this.find(b)];
    if (x === y) return false;
    this.parent.set(x, y);
    return true;
  }

  same(a: string, b: string): boolean {
    return this.find(a) === this.find(b);
  }
}
