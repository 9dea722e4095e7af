import type { Compilation } from '../../design/compiled/compile';
import { runningCircuit } from '../reading/built-variant';

/** Where a circuit stands while it sounds: its values, and what its sources rest at. */
export interface Place {
  readonly values: Float64Array;
  readonly dc: ReadonlyMap<string, number>;
}

/** Where a circuit's values and sources stand. */
export function placeOf(built: Compilation): Place {
  const circuit = runningCircuit(built);
  return { values: circuit.values, dc: new Map([...(circuit.sources ?? [])].map(([name, s]) => [name, s.dc ?? 0])) };
}

/**
 * A share t of the way from one place to another: what is positive at both ends moves evenly in the logarithm, as
 * currents of a control do.
 */
export function onTheWay(a: Place, b: Place, t: number): Place {
  const mix = (from: number, to: number) => (from > 0 && to > 0 ? from * (to / from) ** t : from + t * (to - from));
  return {
    values: a.values.map((v, i) => (v === b.values[i] ? v : mix(v, b.values[i]))),
    dc: new Map([...a.dc].map(([name, v]) => [name, mix(v, b.dc.get(name) ?? v)])),
  };
}
