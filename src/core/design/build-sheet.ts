import { success, type Result } from '../result';
import { assignPackages, type Package } from '../parts/packages';
import { partsList, type PartsLine, type PlacedPartValue } from '../parts/parts-list';
import type { Control, Design, Variant } from './schema';
import { AS_BUILT, compile } from './compile';
import { mergeNodes, GROUND } from '../circuit/netlist';
import { drawingOf, stageName, valuesOf, type DesignedPart } from './stage-design';

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
  readonly packages: readonly Package[];
  readonly boards: number;
  /** Parts that are to be sorted to one another. */
  readonly batches: readonly { readonly name: string; readonly matchPct: number; readonly references: readonly string[] }[];
}

/** A part's reference on the board: its name in the stage and the stage's number on the path. */
const referenceOf = (part: string, stageNumber: number): string => `${part}.${stageNumber}`;

/** What to buy, what meets where, and in which order it is built, for the variant with its chosen parts. Bypassed stages are not built. */
export function buildSheet(design: Design, variant: Variant): Result<BuildSheet> {
  const compiled = compile(design, variant, AS_BUILT);
  if (!compiled.ok) return compiled;
  let count = 0;
  const built = compiled.value.ways.flatMap((way, w) => way.stages.map((designed) => ({ designed, number: ++count, way: variant.ways[w] }))).filter(({ designed }) => !designed.stage.bypassed);
  const numberOf = new Map(built.map(({ designed, number }) => [designed.stage.id, number]));
  const parts: PlacedPartValue[] = built.flatMap(({ designed, number }) => designed.parts.filter((p) => !p.choice.leftOut && !p.spec.given).flatMap((p) => boughtParts(p, referenceOf(p.spec.name, number), variant.controls)));
  const several = variant.ways.length > 1;
  for (const { outputResistor, name } of variant.ways) if (outputResistor) parts.push({ reference: several ? `Rout ${name}` : 'Rout', kind: 'resistor', value: outputResistor.ohm, tolerancePct: outputResistor.tolerancePct ?? design.preferences.resistorTolerancePct });
  const amplifiers = built.flatMap(({ designed, number }) => drawingOf(designed.topology, designed.form, valuesOf(designed, 'chosen')).opAmps.map(({ name }) => ({ reference: referenceOf(name, number), name: designed.device?.name ?? 'ideal op-amp (choose a real one)' })));
  return success({
    parts: partsList(parts, amplifiers, design.preferences.boards),
    connections: connectionsOf(compiled.value.netlist, compiled.value.ways, numberOf, design),
    stages: built.map(({ designed, number, way }) => ({
      name: several ? `${way.name}: ${stageName(way, designed.stage)}` : stageName(way, designed.stage), topology: designed.topology.name, references: designed.parts.map((p) => referenceOf(p.spec.name, number)),
    })),
    opAmpUnits: amplifiers.length,
    packages: assignPackages(amplifiers, design.preferences.opAmpPackage ?? 2),
    boards: design.preferences.boards,
    batches: (variant.batches ?? []).map(({ name, matchPct, parts: members }) => ({ name, matchPct, references: members.flatMap(({ stage, part }) => (numberOf.has(stage) ? [referenceOf(part, numberOf.get(stage) as number)] : [])) })),
  });
}

const taperWords = (controls: readonly Control[], id: string): string => {
  const taper = controls.find((c) => c.id === id)?.taper ?? 'linear';
  return typeof taper === 'object' ? 'pot, measured taper' : `pot, ${taper.replace('-', ' ')}`;
};

/** What a place on the board is filled with: one part, or two in series or parallel, or a pot and what keeps it from its end, or a switch and its resistors. */
function boughtParts(part: DesignedPart, reference: string, controls: readonly Control[]): PlacedPartValue[] {
  const { kind } = part.spec;
  if (kind === 'current') return [];
  const { choice: { control: held }, chosen: value, tolerancePct } = part;
  if (held?.kind === 'rheostat') {
    const track = { reference, kind: 'potentiometer' as const, value: held.totalOhm, tolerancePct: 20, name: taperWords(controls, held.control) };
    return held.endOhm > 0 ? [track, { reference: `${reference} stop`, kind: 'resistor', value: held.endOhm, tolerancePct }] : [track];
  }
  if (held?.kind === 'switch') return [{ reference, kind: 'switch', value: held.ohms.length, tolerancePct: 0, name: 'switch, positions' }, ...held.ohms.map((ohm, i): PlacedPartValue => ({ reference: `${reference} ${i + 1}`, kind: 'resistor', value: ohm, tolerancePct }))];
  const { use } = part.choice;
  if (use && use.kind !== 'single' && use.values.length === 2) return use.values.map((each, i): PlacedPartValue => ({ reference: `${reference}${i === 0 ? 'a' : 'b'}`, kind, value: each, tolerancePct }));
  const name = held?.kind === 'wiper' ? taperWords(controls, held.control) : part.grade?.name;
  return [{ reference, kind, value, tolerancePct, ...(name === undefined ? {} : { name }) }];
}

const OP_AMP_PINS = ['+', '−', 'out'];

function connectionsOf(netlist: Parameters<typeof mergeNodes>[0], ways: readonly { joints: readonly string[]; output: string }[], numberOf: ReadonlyMap<string, number>, design: Design): Connection[] {
  const canonical = mergeNodes(netlist);
  const pins = new Map<string, string[]>();
  const put = (node: string, pin: string) => pins.set(canonical(node), [...(pins.get(canonical(node)) ?? []), pin]);
  for (const { name, definition, nodes } of netlist.elements) {
    const [stageId, part, tail] = [name.slice(0, name.indexOf('.')), name.slice(name.indexOf('.') + 1).split('.')[0], name.split('.')[2]];
    const number = numberOf.get(stageId);
    if (number !== undefined && definition.kind.endsWith('op-amp')) nodes.slice(0, 2).forEach((node, i) => put(node, `${referenceOf(part, number)} ${OP_AMP_PINS[i]}`));
    if (number !== undefined && definition.kind === 'ideal-op-amp') put(nodes[2], `${referenceOf(part, number)} out`);
    else if (number !== undefined && tail === 'output') put(nodes[1], `${referenceOf(part, number)} out`);
    else if (number !== undefined && (tail === 'low' || tail === 'high')) nodes.forEach((node, i) => (i === 0 || tail === 'low') && put(node, `${referenceOf(part, number)} ${i === 0 ? tail : 'wiper'}`));
    else if (number !== undefined && tail === 'loss') put(nodes[1], `${referenceOf(part, number)} b`);
    else if (number !== undefined && nodes.length === 2 && nodes[1].endsWith('.inner')) put(nodes[0], `${referenceOf(part, number)} a`);
    else if (number !== undefined && nodes.length === 2) nodes.forEach((node, i) => put(node, `${referenceOf(part, number)} ${i === 0 ? 'a' : 'b'}`));
    else if (name.startsWith('Rout.')) nodes.forEach((node, i) => put(node, `Rout ${i === 0 ? 'a' : 'b'}`));
  }
  const named = new Map([[GROUND, 'ground'], [canonical('virtual-ground'), design.brief.supply.kind === 'single' ? 'virtual ground' : 'ground']]);
  ways.forEach((way, i) => {
    const number = ways.length > 1 ? ` ${i + 1}` : '';
    put(way.joints[0], `input${number} from ${design.brief.source.name || 'source'}`);
    put(way.output, `output${number} to ${design.brief.load.name || 'load'}`);
    named.set(canonical(way.joints[0]), `input${number}`);
    named.set(canonical(way.output), `output${number}`);
  });
  let letter = 0;
  return [...pins.entries()]
    .filter(([, list]) => list.length > 1)
    .map(([node, list]) => ({ net: named.get(node) ?? `N${++letter}`, pins: list }));
}
