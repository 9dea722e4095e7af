import { denseMatrices, type Assembled } from '../../circuit/structure';
import { RealLu } from '../../analysis/elimination/real-lu';
import { groundLift, railVolts } from '../../device/op-amps';
import { stageOfElement, type Compilation } from '../../design/compiled/compile';
import type { Brief } from '../../design/document/schema';
import type { MovedCircuit } from '../reading/built-variant';

/** Volts of a node at rest as a meter has them, from ground, and their standard deviation for what is not known. */
export interface RestVolts {
  readonly volts: number;
  readonly sigma: number;
}

/** What the usual meter loads a node with, ohm. */
const METER_OHM = 10e6;
/**
 * How far a meter is off, as a share and in volts; and what a device differs from its kind, as a share of a voltage.
 */
const METER_SHARE = 0.005;
const METER_VOLTS = 0.002;
const DEVICE_SHARE = 0.02;
const DEVICE_VOLTS = 0.02;
/** Nearer to a supply than this a node is held by resistors rather than by junctions. */
const JUNCTION_VOLTS = 0.1;
/** From every node to ground where capacitors leave it open, S; along every coil where they close a ring, ohm. */
const LEAK = 1e-12;
const COIL_OHM = 1e-9;
/** What the currents among the unknowns are called. */
const BRANCH = /^i\d*\(/;

/**
 * What a meter shows at nodes at rest. What op-amps add by offset and bias current comes from one transposed solve a
 * node (D. A. Calahan, Computer-Aided Network Design, 1972, 5.3): it is not known but in its size, and so is all that
 * an op-amp does that is dead.
 *
 * @param nodes netlist nodes. @param dead element of an op-amp that does nothing.
 */
export function restVolts(
  built: Pick<Compilation, 'ways' | 'live'>,
  brief: Brief,
  { small, rest }: MovedCircuit,
  nodes: readonly string[],
  dead: string | null = null,
): RestVolts[] {
  const { structure } = small;
  const n = structure.size;
  const { g } = denseMatrices(structure, small.values);
  const transposed = Float64Array.from(g, (_, i) => g[(i % n) * n + Math.floor(i / n)]);
  for (let i = 0; i < n; i++) transposed[i * n + i] += BRANCH.test(structure.unknowns[i]) ? -COIL_OHM : LEAK;
  const lu = new RealLu(n, transposed);
  const [rail, lift] = [railVolts(brief), groundLift(brief)];
  const fromSupply = (volts: number) => Math.max(0, Math.min(Math.abs(volts), rail - Math.abs(volts)));
  return nodes.map((node) => {
    const at = structure.nodeOf(node);
    if (at === undefined || at < 0 || lu.singular) return { volts: 0, sigma: METER_VOLTS };
    const unit = new Float64Array(n);
    unit[at] = 1;
    const moves = new Float64Array(n);
    lu.solve(unit, moves);
    const live = rest && built.live ? rest[built.live.circuit.structure.nodeOf(node) ?? at] : 0;
    // It loads the node towards its other lead, the minus of a single supply.
    const volts = live - ((live + lift) * Math.max(0, moves[at])) / (METER_OHM + Math.max(0, moves[at]));
    let square = (METER_VOLTS + METER_SHARE * Math.abs(volts + lift)) ** 2;
    if (rest) square += deviceSigma(fromSupply(volts)) ** 2;
    for (const { element, branch, terminals } of structure.devices) {
      const device = stageOfElement(built.ways, element)?.device;
      if (!device || branch < 0) continue;
      const [plus, minus] = terminals.map((t) => (t < 0 ? 0 : moves[t]));
      square += (device.offsetVolts * moves[branch]) ** 2 + (device.biasAmps * (Math.abs(plus) + Math.abs(minus))) ** 2;
    }
    const stuck = dead && stuckAt(small, dead, moves);
    if (stuck) square += (stuck * rail) ** 2;
    // No output goes beyond its rails.
    return { volts, sigma: Math.min(Math.sqrt(square), rail) };
  });
}

/** How far a node moves with its devices that rests so far from ground and rails, V: not at all where it is tied. */
const deviceSigma = (volts: number): number =>
  DEVICE_VOLTS * Math.min(1, volts / JUNCTION_VOLTS) + DEVICE_SHARE * volts;

/** Share of a dead output's own voltage that comes to where `moves` was taken from. */
function stuckAt({ structure, values }: Assembled, dead: string, moves: Float64Array): number {
  const resistor = structure.devices.find((d) => d.element === `${dead}.output`);
  const out = resistor?.terminals[1] ?? -1;
  return !resistor || out < 0 ? 0 : moves[out] / values[resistor.slot];
}
