import type { ElementDefinition } from './element';
import type { ExcessAdmittance } from './elements/measured-port';

/** Node 0 of every netlist. */
export const GROUND = '0';

/** A source's value in time: volts or amperes at a time (s), and when its slope jumps. */
export interface Wave {
  readonly at: (timeS: number) => number;
  /** What it is made of, so that it can be written down: the numbers in the order its maker takes them. */
  readonly form: { readonly kind: 'sin' | 'pulse' | 'pwl'; readonly numbers: readonly number[] };
  /** Times (s) in (0, stop] where the wave or its slope jumps, rising. */
  readonly breakpoints: (stopS: number) => number[];
}

/** What an independent source does besides its AC drive. */
export interface SourceValue {
  /** Volts or amperes at rest. Absent: the wave at 0, or 0. */
  readonly dc?: number;
  readonly wave?: Wave;
}

export interface ElementInstance {
  readonly name: string;
  readonly definition: ElementDefinition;
  readonly nodes: readonly string[];
  /** As many as the definition names, SI units. */
  readonly values: readonly number[];
  readonly source?: SourceValue;
  /** Of a measured one-port: what it has over the circuit beside it. */
  readonly excess?: ExcessAdmittance;
}

/**
 * A circuit: elements between named nodes, and pairs of nodes that are one (a part left short merges nodes; no 0 ohm is
 * stamped).
 */
export interface Netlist {
  readonly elements: readonly ElementInstance[];
  readonly merged: readonly (readonly [string, string])[];
}

/** Finds the name that stands for each node once merged pairs are joined; ground always stands for its own set. */
export function mergeNodes(netlist: Netlist): (node: string) => string {
  const parent = new Map<string, string>();
  const find = (node: string): string => {
    let top = node;
    for (let next = parent.get(top); next !== undefined; next = parent.get(top)) top = next;
    return top;
  };
  for (const [a, b] of netlist.merged) {
    const [x, y] = [find(a), find(b)];
    if (x === y) continue;
    if (x === GROUND) parent.set(y, x);
    else parent.set(x, y);
  }
  return find;
}
