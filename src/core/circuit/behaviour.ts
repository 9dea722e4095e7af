import type { Behaviour, ElementDefinition } from './element';
import { derivativeOf } from '../program/derivative';
import { Graph, type Node } from '../program/graph';
import { Tape } from '../program/tape';

/** A pair of an element's terminals; −1 is ground. */
export type Pair = readonly [number, number];

export interface Control {
  readonly pair: Pair;
  readonly node: Node;
  readonly saturation?: Node;
  readonly thermal?: Node;
}

export interface Flow {
  readonly kind: 'current' | 'charge';
  readonly pair: Pair;
  readonly node: Node;
}

export interface NoiseSource {
  /** Null: a voltage in the element's branch equation. */
  readonly pair: Pair | null;
  readonly density: Node;
  readonly corner: Node;
}

/** Where an element's expressions get their numbers from. */
export interface Binding {
  readonly thermalVoltage: Node;
  readonly leak: Node;
  value(index: number): Node;
  /** The variable that stands for the voltage between two terminals. */
  voltage(pair: Pair): Node;
}

export interface Equations {
  readonly controls: readonly Control[];
  readonly flows: readonly Flow[];
  readonly noises: readonly NoiseSource[];
}

/** Writes an element's equations into a graph. */
export function equationsOf(definition: ElementDefinition, graph: Graph, binding: Binding): Equations {
  const controls = new Map<string, Control>();
  const flows: Flow[] = [];
  const noises: NoiseSource[] = [];
  const behaviour: Behaviour = {
    graph,
    thermalVoltage: binding.thermalVoltage,
    leak: binding.leak,
    value: binding.value,
    voltage(plus, minus, junction) {
      const key = `${plus},${minus}`;
      const known = controls.get(key);
      if (known) return known.node;
      const node = binding.voltage([plus, minus]);
      controls.set(key, { pair: [plus, minus], node, saturation: junction?.saturation, thermal: junction?.thermal });
      return node;
    },
    current: (from, to, node) => flows.push({ kind: 'current', pair: [from, to], node }),
    charge: (from, to, node) => flows.push({ kind: 'charge', pair: [from, to], node }),
    noiseCurrent: (from, to, density, corner = graph.zero) => noises.push({ pair: [from, to], density, corner }),
    noiseVoltage: (density, corner = graph.zero) => noises.push({ pair: null, density, corner }),
  };
  definition.behave?.(behaviour);
  return { controls: [...controls.values()], flows, noises };
}

/** An element's equations ready to be evaluated: one per definition, whatever the number of elements of its kind. */
export interface DeviceModel {
  readonly controls: readonly { readonly pair: Pair; readonly junction: boolean }[];
  readonly flows: readonly { readonly kind: 'current' | 'charge'; readonly pair: Pair }[];
  readonly noises: readonly { readonly pair: Pair | null }[];
  /**
   * @param values the element's values, then thermal voltage and leak. @param voltages one per control.
   * @param into flows, then the derivative of each flow by each control, row by row (length flows · (1 + controls)).
   */
  evaluate(values: ArrayLike<number>, voltages: ArrayLike<number>, into: Float64Array): void;
  /** Per control: saturation current and N·Vt of its junction, or zeros. */
  junctions(values: ArrayLike<number>, into: Float64Array): void;
  /** Per noise source: density above its corner, and the corner (Hz). */
  noiseDensities(values: ArrayLike<number>, voltages: ArrayLike<number>, into: Float64Array): void;
}

const models = new WeakMap<ElementDefinition, DeviceModel>();

export function deviceModel(definition: ElementDefinition): DeviceModel {
  const known = models.get(definition);
  if (known) return known;
  const graph = new Graph();
  const [VALUES, VOLTAGES] = [1, 2];
  const count = definition.values.length;
  let controlCount = 0;
  const { controls, flows, noises } = equationsOf(definition, graph, {
    thermalVoltage: graph.input(VALUES, count),
    leak: graph.input(VALUES, count + 1),
    value: (index) => graph.input(VALUES, index),
    voltage: () => graph.input(VOLTAGES, controlCount++),
  });
  const slopes = flows.flatMap((flow) => controls.map((control) => derivativeOf(graph, flow.node, control.node)));
  const main = new Tape(graph, [...flows.map((f) => f.node), ...slopes]);
  const limits = new Tape(
    graph,
    controls.flatMap((c) => [c.saturation ?? graph.zero, c.thermal ?? graph.zero]),
  );
  const noise = new Tape(
    graph,
    noises.flatMap((n) => [n.density, n.corner]),
  );
  const model: DeviceModel = {
    controls: controls.map((c) => ({ pair: c.pair, junction: c.saturation !== undefined })),
    flows,
    noises,
    evaluate: (values, voltages, into) => main.run([values, voltages], into),
    junctions: (values, into) => limits.run([values], into),
    noiseDensities: (values, voltages, into) => noise.run([values, voltages], into),
  };
  models.set(definition, model);
  return model;
}
