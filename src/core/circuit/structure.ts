import type { ElementDefinition, EntryForm, Stamper } from './element';
import type { ExcessAdmittance } from './elements/measured-port';
import { resistor, smallResistor } from './elements/resistor';
import { GROUND, mergeNodes, type ElementInstance, type Netlist, type SourceValue } from './netlist';

/** One stamp: factor · form(values[slots]) at (row, column) of G (order 0) or C (order 1). */
export interface Entry {
  readonly row: number;
  readonly column: number;
  readonly order: 0 | 1;
  readonly factor: number;
  readonly form: EntryForm;
  readonly slots: readonly number[];
}

export interface Drive {
  readonly row: number;
  readonly factor: number;
  readonly magnitudeSlot: number;
  readonly phaseSlot: number;
  /** The source's name. */
  readonly element: string;
}

/**
 * Where an element's behaviour stands among the equations: unknowns of its terminals (−1 is ground), its branch, its
 * first value slot.
 */
export interface DeviceStamp {
  readonly element: string;
  readonly definition: ElementDefinition;
  readonly terminals: readonly number[];
  readonly branch: number;
  readonly slot: number;
}

/** A measured one-port between two unknowns (−1 is ground), and the slot of the source that finds what it changes. */
export interface MeasuredPort {
  readonly plus: number;
  readonly minus: number;
  readonly slot: number;
  readonly excess: ExcessAdmittance;
}

/**
 * The equations (G + sC) x = b of a circuit without their numbers. Unknowns: node voltages first, then branch currents.
 * Circuits with equal keys share everything but their values, and so share one elimination plan.
 */
export interface Structure {
  readonly key: string;
  readonly size: number;
  readonly slotCount: number;
  /** What each unknown is: a node name, or `i(element)`. */
  readonly unknowns: readonly string[];
  readonly entries: readonly Entry[];
  readonly drives: readonly Drive[];
  /** Elements with equations of their own, in the netlist's order. */
  readonly devices: readonly DeviceStamp[];
  /** What was measured, and is no equation: the AC solver takes it into account. */
  readonly ports: readonly MeasuredPort[];
  /** Unknown of a node: −1 for ground, undefined when there is no such node. */
  nodeOf(name: string): number | undefined;
  branchOf(element: string): number | undefined;
  slotOf(element: string, index?: number): number | undefined;
}

export interface Assembled {
  readonly structure: Structure;
  readonly values: Float64Array;
  /** Rest values and waves of the sources, by name. */
  readonly sources?: ReadonlyMap<string, SourceValue>;
}

/** Below this share of the median resistance a resistor gets its current as an unknown. */
const SMALL_RESISTANCE = 1e-6;

/**
 * Resistors so small that their conductance would drown the rest in the sums at their nodes are stamped by their
 * current; no pivoting could mend that later.
 */
function stampable(elements: readonly ElementInstance[]): readonly ElementInstance[] {
  const sizes = elements
    .filter((e) => e.definition === resistor)
    .map((e) => e.values[0])
    .sort((a, b) => a - b);
  const limit = SMALL_RESISTANCE * (sizes[sizes.length >> 1] ?? 0);
  return sizes.length > 0 && sizes[0] < limit
    ? elements.map((e) => (e.definition === resistor && e.values[0] < limit ? { ...e, definition: smallResistor } : e))
    : elements;
}

/**
 * Numbers nodes, branches and value slots and collects the stamps. Throws on misuse: unknown names, wrong terminal or
 * value counts.
 */
export function assemble(netlist: Netlist): Assembled {
  const elements = stampable(netlist.elements);
  const canonical = mergeNodes(netlist);
  const { nodes, branches, slots, unknowns, values } = numbered(elements, canonical);
  const structure: Structure = {
    key: keyOf(elements, unknowns, canonical),
    size: unknowns.length,
    slotCount: values.length,
    unknowns,
    ...stampsOf(elements, { nodes, branches, slots }, canonical),
    ports: elements.flatMap(({ name, nodes: [plus, minus], excess }) =>
      excess
        ? [
            {
              plus: nodes.get(canonical(plus)) as number,
              minus: nodes.get(canonical(minus)) as number,
              slot: slots.get(name) as number,
              excess,
            },
          ]
        : [],
    ),
    nodeOf: (name) => nodes.get(canonical(name)),
    branchOf: (element) => branches.get(element),
    slotOf: (element, index = 0) => {
      const start = slots.get(element);
      return start === undefined ? undefined : start + index;
    },
  };
  const sources = new Map(elements.flatMap((e) => (e.source ? [[e.name, e.source] as const] : [])));
  return { structure, values: Float64Array.from(values), sources };
}

/** Where nodes (ground is −1), the branches of elements and the values of elements stand. */
interface Numbers {
  readonly nodes: ReadonlyMap<string, number>;
  readonly branches: ReadonlyMap<string, number>;
  readonly slots: ReadonlyMap<string, number>;
}

function numbered(
  elements: readonly ElementInstance[],
  canonical: (node: string) => string,
): Numbers & { readonly unknowns: readonly string[]; readonly values: readonly number[] } {
  const nodes = new Map<string, number>([[GROUND, -1]]);
  const [branches, slots] = [new Map<string, number>(), new Map<string, number>()];
  const [unknowns, values]: [string[], number[]] = [[], []];
  for (const { name, definition, nodes: own, values: its } of elements) {
    if (own.length !== definition.terminals || its.length !== definition.values.length)
      throw new Error(
        `${name}: ${definition.kind} takes ${definition.terminals} nodes and ${definition.values.length} values`,
      );
    if (slots.has(name)) throw new Error(`two elements are called ${name}`);
    slots.set(name, values.length);
    values.push(...its);
    for (const node of own.map(canonical))
      if (!nodes.has(node)) {
        nodes.set(node, unknowns.length);
        unknowns.push(node);
      }
  }
  for (const { name, definition } of elements) {
    if (definition.branches === 0) continue;
    branches.set(name, unknowns.length);
    for (let b = 0; b < definition.branches; b++) unknowns.push(b === 0 ? `i(${name})` : `i${b}(${name})`);
  }
  return { nodes, branches, slots, unknowns, values };
}

/** What every element stamps, and where those that bend stand. */
function stampsOf(
  elements: readonly ElementInstance[],
  { nodes, branches, slots }: Numbers,
  canonical: (node: string) => string,
): Pick<Structure, 'entries' | 'drives' | 'devices'> {
  const entries: Entry[] = [];
  const drives: Drive[] = [];
  const devices: DeviceStamp[] = [];
  const known = (map: ReadonlyMap<string, number>, name: string): number => {
    const found = map.get(name);
    if (found === undefined) throw new Error(`no element is called ${name}`);
    return found;
  };
  const push = (entry: Entry) => {
    if (entry.row >= 0 && entry.column >= 0) entries.push(entry);
  };
  for (const { name: element, definition, nodes: own } of elements) {
    const slot = known(slots, element);
    const stamper: Stamper = {
      node: (terminal) => known(nodes, canonical(own[terminal])),
      branch: (index = 0) => known(branches, element) + index,
      branchOf: (name) => known(branches, name),
      slotOf: (name, index) => (name === '' ? slot : known(slots, name)) + index,
      add: (row, column, order, factor, form, value = 0) =>
        push({ row, column, order, factor, form, slots: form === 'constant' ? [] : [slot + value] }),
      addMutual: (row, column, factor, of) => push({ row, column, order: 1, factor, form: 'mutual', slots: of }),
      drive: (row, factor, magnitude, phase) => {
        if (row >= 0) drives.push({ row, factor, magnitudeSlot: slot + magnitude, phaseSlot: slot + phase, element });
      },
    };
    definition.stamp(stamper);
    if (definition.behave)
      devices.push({
        element,
        definition,
        terminals: own.map((_, t) => stamper.node(t)),
        branch: branches.get(element) ?? -1,
        slot,
      });
  }
  return { entries, drives, devices };
}

/** What two circuits have in common that differ in their values alone. */
function keyOf(
  elements: readonly ElementInstance[],
  unknowns: readonly string[],
  canonical: (node: string) => string,
): string {
  const one = ({ definition: { kind, between }, nodes }: ElementInstance) =>
    `${between ? [kind, ...between].join(' ') : kind}:${nodes.map(canonical).join(',')}`;
  return `${elements.map(one).join(';')}|${unknowns.join(',')}`;
}

/** The number an entry stands for at these values. */
export function entryValue(entry: Entry, values: Float64Array): number {
  switch (entry.form) {
    case 'constant':
      return entry.factor;
    case 'direct':
      return entry.factor * values[entry.slots[0]];
    case 'reciprocal':
      return entry.factor / values[entry.slots[0]];
    case 'mutual':
      return entry.factor * values[entry.slots[0]] * Math.sqrt(values[entry.slots[1]] * values[entry.slots[2]]);
  }
}

/** Dense G and C (row-major, size²) of (G + sC) x = b. */
export function denseMatrices(structure: Structure, values: Float64Array): { g: Float64Array; c: Float64Array } {
  const n = structure.size;
  const g = new Float64Array(n * n);
  const c = new Float64Array(n * n);
  for (const entry of structure.entries)
    (entry.order === 0 ? g : c)[entry.row * n + entry.column] += entryValue(entry, values);
  return { g, c };
}

/** Right-hand side b of all AC sources: real parts and imaginary parts, length size each. */
export function driveVector(structure: Structure, values: Float64Array): { re: Float64Array; im: Float64Array } {
  const re = new Float64Array(structure.size);
  const im = new Float64Array(structure.size);
  for (const drive of structure.drives) {
    const angle = (values[drive.phaseSlot] * Math.PI) / 180;
    const size = drive.factor * values[drive.magnitudeSlot];
    re[drive.row] += size * Math.cos(angle);
    im[drive.row] += size * Math.sin(angle);
  }
  return { re, im };
}
