import type { Graph, Node } from '../program/graph';

/**
 * How a matrix entry takes its number from the value slots of its element. `direct` v, `reciprocal` 1/v, `mutual`
 * k·sqrt(L1·L2) (three slots), `constant` 1. Each is multiplied by the entry's factor.
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
  /**
   * Adds `factor · form(values)` to G (order 0) or C (order 1) of the system (G + sC) x = b. `value` is an index into
   * the element's own values.
   */
  add(row: number, column: number, order: 0 | 1, factor: number, form: EntryForm, value?: number): void;
  /** Adds a mutual inductance entry: slots of the coupling and of both coils. */
  addMutual(row: number, column: number, factor: number, slots: readonly [number, number, number]): void;
  /**
   * Adds an independent source of `factor · magnitude` at the phase (degrees) to row's right-hand side: indices of the
   * element's own values.
   */
  drive(row: number, factor: number, magnitude: number, phaseDeg: number): void;
}

/**
 * What the solver knows of an element: its terminals, its values and how it stamps. It never asks what kind an element
 * is.
 */
export interface ElementDefinition {
  readonly kind: string;
  readonly terminals: number;
  /** Names of the value slots, with units in the name where they are not obvious. */
  readonly values: readonly string[];
  /** How many branch currents it adds to the unknowns. */
  readonly branches: number;
  /** Elements, by name, that it is nothing without, whose currents or values it takes. */
  readonly between?: readonly string[];
  /** The same between elements that are called otherwise. */
  readonly amid?: (names: readonly string[]) => ElementDefinition;
  /** Where it is a part on a board: its leads, in the order of its terminals; terminals past these are none. */
  readonly leads?: readonly string[];
  /** What is bought for one with such values, where that is no resistor, capacitor, coil or op-amp. */
  readonly bought?: (values: readonly number[]) => string;
  /** What it stands in, where that is a package in two rows. */
  readonly housed?: 'op-amp' | 'ota';
  stamp(stamper: Stamper): void;
  /** What the stamps cannot say: currents and charges that are not proportional to voltages, and noise. */
  readonly behave?: (behaviour: Behaviour) => void;
}

/**
 * A junction's exponential, so that Newton's steps along it can be kept in bounds: saturation current (A) and emission
 * times thermal voltage (V).
 */
export interface Junction {
  readonly saturation: Node;
  readonly thermal: Node;
}

/**
 * Receives the equations of an element as expressions of its terminals' voltages and its values. From these come the
 * operating point, the small-signal circuit, time, and noise; derivatives are taken by the receiver.
 */
export interface Behaviour {
  readonly graph: Graph;
  /** kT/q, volt. */
  readonly thermalVoltage: Node;
  /** Conductance across each junction, siemens. */
  readonly leak: Node;
  value(index: number): Node;
  /** Voltage between two terminals, as a variable. */
  voltage(plus: number, minus: number, junction?: Junction): Node;
  /** A current that leaves one terminal and enters the other through the element. */
  current(from: number, to: number, amps: Node): void;
  /** A charge held between two terminals; its change is a current from one to the other. */
  charge(from: number, to: number, coulombs: Node): void;
  /** A noise current between two terminals: A²/Hz, flat above `cornerHz` and rising as 1/f below. */
  noiseCurrent(from: number, to: number, density: Node, cornerHz?: Node): void;
  /** A noise voltage in the element's own branch equation, V²/Hz likewise. */
  noiseVoltage(density: Node, cornerHz?: Node): void;
}

/** Charge of the electron, coulomb (CODATA 2018, exact). */
export const ELECTRON_CHARGE = 1.602176634e-19;

/** Density of shot noise, 2q|I|. */
export function shotNoise({ graph }: Behaviour, amps: Node): Node {
  return graph.multiply(graph.constant(2 * ELECTRON_CHARGE), graph.absolute(amps));
}

/** Density of thermal noise of a conductance (S), 4kTG. */
export function thermalNoise({ graph, thermalVoltage }: Behaviour, conductance: Node): Node {
  return graph.multiply(graph.multiply(graph.constant(4 * ELECTRON_CHARGE), thermalVoltage), conductance);
}

/** Junction current I = Is (exp(v/(N·Vt)) − 1) (W. Shockley, Bell System Technical Journal 28, 1949). */
export function junctionCurrent(graph: Graph, voltage: Node, { saturation, thermal }: Junction): Node {
  return graph.multiply(saturation, graph.subtract(graph.exponential(graph.divide(voltage, thermal)), graph.one));
}

/** The four stamps of an admittance between two terminals. */
export function stampAdmittance(s: Stamper, order: 0 | 1, form: EntryForm, value: number): void {
  const [p, m] = [s.node(0), s.node(1)];
  s.add(p, p, order, 1, form, value);
  s.add(m, m, order, 1, form, value);
  s.add(p, m, order, -1, form, value);
  s.add(m, p, order, -1, form, value);
}

/**
 * The element's own branch: its current leaves the first node and enters the second, and its equation begins with
 * v(first) − v(second). Gives the branch's unknown.
 */
export function stampBranch(s: Stamper): number {
  const [plus, minus, branch] = [s.node(0), s.node(1), s.branch()];
  s.add(plus, branch, 0, 1, 'constant');
  s.add(minus, branch, 0, -1, 'constant');
  s.add(branch, plus, 0, 1, 'constant');
  s.add(branch, minus, 0, -1, 'constant');
  return branch;
}
