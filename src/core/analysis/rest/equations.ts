import { deviceModel, type DeviceModel } from '../../circuit/behaviour';
import { ELECTRON_CHARGE } from '../../circuit/element';
import { denseMatrices, type Assembled, type DeviceStamp, type Structure } from '../../circuit/structure';

/** Boltzmann's constant, J/K (CODATA 2018, exact). */
export const BOLTZMANN = 1.380649e-23;
/** Conductance across every junction, S, unless another is asked for. */
const JUNCTION_LEAK = 1e-12;

export interface Conditions {
  /** Degrees Celsius; 27 unless said otherwise. */
  readonly temperatureC?: number;
}

export const thermalVoltageAt = ({ temperatureC = 27 }: Conditions): number =>
  (BOLTZMANN * (temperatureC + 273.15)) / ELECTRON_CHARGE;

interface Device {
  readonly stamp: DeviceStamp;
  readonly model: DeviceModel;
  /** Values, then thermal voltage and leak. */
  readonly values: Float64Array;
  readonly junctions: Float64Array;
  /** Unknowns of each control's and each flow's two ends. */
  readonly controls: readonly (readonly [number, number])[];
  readonly flows: readonly (readonly [number, number])[];
  /** Control voltages the equations were last evaluated at. */
  readonly at: Float64Array;
  readonly result: Float64Array;
}

/**
 * The whole circuit as F(x) + d/dt Q(x) = b: linear stamps G x and C x, and the currents and charges of its devices.
 * Dense, readable, and the truth for operating points and time; sizes are those of an audio circuit.
 */
export class CircuitEquations {
  readonly size: number;
  readonly structure: Structure;
  readonly g: Float64Array;
  readonly c: Float64Array;
  readonly devices: readonly Device[];
  /** Of F and Q at the last `evaluate`: values without the linear part, and derivatives with it (row-major). */
  readonly current: Float64Array;
  readonly charge: Float64Array;
  readonly currentSlope: Float64Array;
  readonly chargeSlope: Float64Array;

  constructor(
    readonly circuit: Assembled,
    conditions: Conditions = {},
  ) {
    const { structure, values } = circuit;
    this.structure = structure;
    const n = (this.size = structure.size);
    ({ g: this.g, c: this.c } = denseMatrices(structure, values));
    [this.current, this.charge] = [new Float64Array(n), new Float64Array(n)];
    [this.currentSlope, this.chargeSlope] = [new Float64Array(n * n), new Float64Array(n * n)];
    const thermal = thermalVoltageAt(conditions);
    this.devices = structure.devices.flatMap((stamp) => {
      const model = deviceModel(stamp.definition);
      if (model.flows.length === 0) return [];
      const own = Float64Array.of(
        ...values.subarray(stamp.slot, stamp.slot + stamp.definition.values.length),
        thermal,
        JUNCTION_LEAK,
      );
      const junctions = new Float64Array(2 * model.controls.length);
      model.junctions(own, junctions);
      const ends = (pair: readonly [number, number]) =>
        pair.map((t) => (t < 0 ? -1 : stamp.terminals[t])) as unknown as readonly [number, number];
      return [
        {
          stamp,
          model,
          values: own,
          junctions,
          controls: model.controls.map((c) => ends(c.pair)),
          flows: model.flows.map((f) => ends(f.pair)),
          at: new Float64Array(model.controls.length),
          result: new Float64Array(model.flows.length * (1 + model.controls.length)),
        },
      ];
    });
  }

  get linear(): boolean {
    return this.devices.length === 0;
  }

  /**
   * Right-hand side of the independent sources: at rest, or at a time (s), which overrides rest values where there is a
   * wave.
   */
  sources(into: Float64Array, timeS: number | 'rest', scale = 1): void {
    into.fill(0);
    for (const { element, row, factor } of this.structure.drives) {
      const source = this.circuit.sources?.get(element);
      if (!source) continue;
      const value =
        timeS === 'rest' ? (source.dc ?? source.wave?.at(0) ?? 0) : (source.wave?.at(timeS) ?? source.dc ?? 0);
      into[row] += scale * factor * value;
    }
  }

  /** Forgets where the devices were last evaluated, as at the start of a search. */
  reset(): void {
    for (const device of this.devices) device.at.fill(0);
  }

  /**
   * Evaluates devices near x. Junction voltages move from where they were evaluated last by no more than their
   * exponential allows, so the equations are linear extensions from there.
   * @returns the largest distance (V) between a voltage asked for and the one used.
   */
  evaluate(x: Float64Array, limited = true): number {
    const { size: n, current, charge, currentSlope, chargeSlope } = this;
    current.fill(0);
    charge.fill(0);
    currentSlope.set(this.g);
    chargeSlope.set(this.c);
    let distance = 0;
    for (const { model, values, junctions, controls, flows, at, result } of this.devices) {
      const wanted = controls.map(([p, m]) => (p < 0 ? 0 : x[p]) - (m < 0 ? 0 : x[m]));
      wanted.forEach((v, k) => {
        at[k] =
          limited && junctions[2 * k + 1] > 0 ? limitJunction(v, at[k], junctions[2 * k], junctions[2 * k + 1]) : v;
        distance = Math.max(distance, Math.abs(at[k] - v));
      });
      model.evaluate(values, at, result);
      const count = controls.length;
      flows.forEach(([from, to], f) => {
        const isCurrent = model.flows[f].kind === 'current';
        const [value, slope] = isCurrent ? [current, currentSlope] : [charge, chargeSlope];
        let amount = result[f];
        controls.forEach(([p, m], k) => {
          const rate = result[flows.length + f * count + k];
          amount += rate * (wanted[k] - at[k]);
          if (rate === 0) return;
          if (from >= 0 && p >= 0) slope[from * n + p] += rate;
          if (from >= 0 && m >= 0) slope[from * n + m] -= rate;
          if (to >= 0 && p >= 0) slope[to * n + p] -= rate;
          if (to >= 0 && m >= 0) slope[to * n + m] += rate;
        });
        if (from >= 0) value[from] += amount;
        if (to >= 0) value[to] -= amount;
      });
    }
    return distance;
  }
}

/**
 * Keeps a Newton step along an exponential within reach: above the critical voltage, where the curve's bend is
 * sharpest, the step is taken in the current instead, which is a logarithmic step in voltage (L. Chua and P.-M. Lin,
 * Computer-Aided Analysis of Electronic Circuits, 5-4).
 */
function limitJunction(wanted: number, last: number, saturation: number, thermal: number): number {
  const critical = thermal * Math.log(thermal / (Math.SQRT2 * saturation));
  if (wanted <= critical || Math.abs(wanted - last) <= 2 * thermal) return wanted;
  if (last <= 0) return thermal * Math.log(wanted / thermal);
  const ratio = 1 + (wanted - last) / thermal;
  return ratio > 0 ? last + thermal * Math.log(ratio) : critical;
}
