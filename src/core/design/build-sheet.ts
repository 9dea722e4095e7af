import { success, type Result } from '../result';
import { partsList, type PartsLine } from '../parts/parts-list';
import type { Design, Variant } from './schema';
import { AS_BUILT, compile } from './compile';
import { mergeNodes, GROUND } from '../circuit/netlist';
import { stageName } from './stage-design';

export interface Connection {
  readonly net: string;
  /** What is soldered together there: `R1.2 a` is the first lead of R1 in the second stage. */
  readonly pins: readonly string[];
}

export interface BuildSheet {
  readonly parts: readonly PartsLine[];
  readonly connections: readonly Connection[];
  readonly stages: readonly { readonly name: string; readonly topology: string; readonly references: readonly string[] }[];
  readonly opAmpUnits: number;
  readonly boards: number;
}

/** A part's reference on the board: its name in the stage and the stage's number on the path. */
const referenceOf = (part: string, stageNumber: number): string => `${part}.${stageNumber}`;

/** What to buy, what meets where, and in which order it is built, for the variant with its chosen parts. Bypassed stages are not built. */
export function buildSheet(design: Design, variant: Variant): Result<BuildSheet> {
  const compiled = compile(design, variant, AS_BUILT);
  if (!compiled.ok) return compiled;
  const [way] = compiled.value.ways;
  const built = way.stages.map((designed, i) => ({ designed, number: i + 1 })).filter(({ designed }) => !designed.stage.bypassed);
  const numberOf = new Map(built.map(({ designed, number }) => [designed.stage.id, number]));
  const parts = built.flatMap(({ designed, number }) =>
    designed.parts.filter((p) => !p.choice.leftOut).map((p) => ({ reference: referenceOf(p.spec.name, number), kind: p.spec.kind, value: p.chosen, tolerancePct: p.tolerancePct })),
  );
  const { outputResistor } = variant.ways[0];
  if (outputResistor) parts.push({ reference: 'Rout', kind: 'resistor', value: outputResistor.ohm, tolerancePct: outputResistor.tolerancePct ?? design.preferences.resistorTolerancePct });
  const amplifiers = built.flatMap(({ designed, number }) => (designed.topology.opAmps > 0 ? [{ reference: referenceOf('U1', number), name: designed.device?.name ?? 'ideal op-amp (choose a real one)' }] : []));
  return success({
    parts: partsList(parts, amplifiers, design.preferences.boards),
    connections: connectionsOf(compiled.value.netlist, way, numberOf, design),
    stages: built.map(({ designed, number }) => ({
      name: designed.target.order === 0 ? 'Buffer' : stageName(variant.ways[0], designed.stage), topology: designed.topology.name, references: designed.parts.map((p) => referenceOf(p.spec.name, number)),
    })),
    opAmpUnits: amplifiers.length,
    boards: design.preferences.boards,
  });
}

const OP_AMP_PINS = ['+', '−', 'out'];

function connectionsOf(netlist: Parameters<typeof mergeNodes>[0], way: { joints: readonly string[]; output: string }, numberOf: ReadonlyMap<string, number>, design: Design): Connection[] {
  const canonical = mergeNodes(netlist);
  const pins = new Map<string, string[]>();
  const put = (node: string, pin: string) => pins.set(canonical(node), [...(pins.get(canonical(node)) ?? []), pin]);
  for (const { name, definition, nodes } of netlist.elements) {
    const [stageId, part, tail] = [name.slice(0, name.indexOf('.')), name.slice(name.indexOf('.') + 1).split('.')[0], name.split('.')[2]];
    const number = numberOf.get(stageId);
    if (number !== undefined && definition.kind.endsWith('op-amp')) nodes.slice(0, 2).forEach((node, i) => put(node, `${referenceOf(part, number)} ${OP_AMP_PINS[i]}`));
    if (number !== undefined && definition.kind === 'ideal-op-amp') put(nodes[2], `${referenceOf(part, number)} out`);
    else if (number !== undefined && tail === 'output') put(nodes[1], `${referenceOf(part, number)} out`);
    else if (number !== undefined && nodes.length === 2) nodes.forEach((node, i) => put(node, `${referenceOf(part, number)} ${i === 0 ? 'a' : 'b'}`));
    else if (name.startsWith('Rout.')) nodes.forEach((node, i) => put(node, `Rout ${i === 0 ? 'a' : 'b'}`));
  }
  put(way.joints[0], `input from ${design.brief.source.name || 'source'}`);
  put(way.output, `output to ${design.brief.load.name || 'load'}`);
  const named = new Map([[GROUND, 'ground'], [canonical('virtual-ground'), design.brief.supply.kind === 'single' ? 'virtual ground' : 'ground'], [canonical(way.joints[0]), 'input'], [canonical(way.output), 'output']]);
  let letter = 0;
  return [...pins.entries()]
    .filter(([, list]) => list.length > 1)
    .map(([node, list]) => ({ net: named.get(node) ?? `N${++letter}`, pins: list }));
}
