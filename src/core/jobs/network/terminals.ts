import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { currentSource } from '../../circuit/elements/current-source';
import { resistor } from '../../circuit/elements/resistor';
import { GROUND, type Netlist } from '../../circuit/netlist';
import { assemble } from '../../circuit/structure';
import { AS_BUILT, compile, FED_NODE } from '../../design/compiled/compile';
import { failure, success, type Result } from '../../result';

const terminalsRequest = requestOf('terminals', { ...ofVariant });
export type TerminalsRequest = z.infer<typeof terminalsRequest>;

/** What a meter reads between a pair of terminals before power, ohm; null for an open circuit. */
export interface TerminalReading {
  readonly pair: string;
  readonly with: 'drivers off' | 'drivers on';
  readonly ohm: number | null;
}

/** Hz: so slow that capacitors are open and coils are their wire. */
const AT_REST_HZ = 1e-5;
const OPEN_OHM = 1e6;

/**
 * Resistances at every pair of a passive crossover's terminals, the amplifier taken off: with the drivers off, and with
 * them on. Fails as the design does.
 */
function runTerminals({ design, variantId }: TerminalsRequest, solver: AcSolver): Result<readonly TerminalReading[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const { netlist, ways } = built.value;
  const readings: TerminalReading[] = [];
  for (const drivers of ['drivers off', 'drivers on'] as const) {
    const elements = netlist.elements.filter(
      (e) => e.name !== 'Vin' && e.name !== 'Rs' && (drivers === 'drivers on' || !e.name.startsWith('load.')),
    );
    const merged = netlist.merged.filter(([a, b]) => !(a === 'source' || b === 'source'));
    const read = (pair: string, plus: string, minus: string) =>
      readings.push({ pair, with: drivers, ohm: resistance({ elements, merged }, plus, minus, solver) });
    read('input + and −', FED_NODE, GROUND);
    if (drivers === 'drivers off')
      ways.forEach((way, w) => read(`${variant.ways[w].name} + and −`, way.output, way.ground));
    if (drivers === 'drivers off')
      ways.forEach((way, w) => read(`input + and ${variant.ways[w].name} +`, FED_NODE, way.output));
  }
  return success(readings);
}

function resistance({ elements, merged }: Netlist, plus: string, minus: string, solver: AcSolver): number | null {
  // A megohm or so from every node holds what would float.
  const nodes = [...new Set(elements.flatMap((e) => e.nodes))].filter((n) => n !== GROUND);
  const held = nodes.map((node, i) => ({
    name: `held.${i}`,
    definition: resistor,
    nodes: [node, GROUND],
    values: [1e9],
  }));
  const circuit = assemble({
    elements: [
      ...elements,
      ...held,
      { name: 'meter', definition: currentSource, nodes: [minus, plus], values: [1, 0] },
    ],
    merged,
  });
  const ends = [plus, minus].map((node) => circuit.structure.nodeOf(node) ?? -1) as unknown as readonly [
    number,
    number,
  ];
  const solved = solver.difference(circuit, Float64Array.of(AT_REST_HZ), ends);
  if (!solved.ok) return null;
  const ohm = Math.hypot(solved.value[0], solved.value[1]);
  return ohm > OPEN_OHM ? null : ohm;
}

export const terminalsJob = defineJob(terminalsRequest, (request, { solver }) => runTerminals(request, solver));
