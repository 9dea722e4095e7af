/**
 * How a matrix entry takes its number from the value slots of its element.
 * `direct` v, `reciprocal` 1/v, `mutual` k·sqrt(L1·L2) (three slots), `constant` 1. Each is multiplied by the entry's factor.
 */
export type EntryForm = 'constant' | 'direct' | 'reciprocal' | 'mutual';

/** Receives the stamps of one element. Rows and columns are unknowns: −1 is ground and is dropped. */
export interface Stamper {
  /** Unknown of the element's n-th node. */
  node(terminal: number): number;
  /** Unknown of the element's own n-th branch current. */
  branch(index?: number): number;
  /** Unknown of the branch current of another element, by name. */
  branchOf(name: string): number;
  /** Value slot of another element, by name and index. */
  slotOf(name: string, index: number): number;
  /** Adds `factor · form(values)` to G (order 0) or C (order 1) of the system (G + sC) x = b. `value` is an index into the element's own values. */
  add(row: number, column: number, order: 0 | 1, factor: number, form: EntryForm, value?: number): void;
  /** Adds a mutual inductance entry: slots of the coupling and of both coils. */
  addMutual(row: number, column: number, factor: number, slots: readonly [number, number, number]): void;
  /** Adds an independent source of `factor · magnitude` at the phase (degrees) to row's right-hand side: indices of the element's own values. */
  drive(row: number, factor: number, magnitude: number, phaseDeg: number): void;
}

/** What the solver knows of an element: its terminals, its values and how it stamps. It never asks what kind an element is. */
export interface ElementDefinition {
  readonly kind: string;
  readonly terminals: number;
  /** Names of the value slots, with units in the name where they are not obvious. */
  readonly values: readonly string[];
  /** How many branch currents it adds to the unknowns. */
  readonly branches: number;
  stamp(stamper: Stamper): void;
}

/** The four stamps of an admittance between two terminals. */
export function stampAdmittance(s: Stamper, order: 0 | 1, form: EntryForm, value: number): void {
  const [p, m] = [s.node(0), s.node(1)];
  s.add(p, p, order, 1, form, value);
  s.add(m, m, order, 1, form, value);
  s.add(p, m, order, -1, form, value);
  s.add(m, p, order, -1, form, value);
}

/** A branch current that leaves the first node of a pair and enters the second. */
export function stampBranchCurrent(s: Stamper, plus: number, minus: number, branch: number): void {
  s.add(plus, branch, 0, 1, 'constant');
  s.add(minus, branch, 0, -1, 'constant');
}
