import { success, type Result } from '../../result';
import { assignPackages, inPackageOrder, opAmpLeads, otaLeads, type Package } from '../../parts/packages';
import { partsList, type PartsLine, type PlacedPartValue } from '../../parts/parts-list';
import { besidesOf, type Besides } from './besides';
import { isPassive } from '../making/create';
import type { Control, Design, Variant } from '../document/schema';
import { AS_BUILT, compile, type Compilation } from '../compiled/compile';
import { designatorsOf, outputResistorName } from '../stages/designators';
import { mergeNodes, GROUND, type Netlist } from '../../circuit/netlist';
import type { StripPart } from '../../parts/strip-board';
import { stageName, type DesignedPart } from '../stages/stage-design';

export interface Connection {
  readonly net: string;
  /** What is soldered together there: `R101 a` is the first lead of R101. */
  readonly pins: readonly string[];
}

export interface BuildSheet {
  readonly parts: readonly PartsLine[];
  readonly connections: readonly Connection[];
  readonly stages: readonly {
    readonly name: string;
    readonly topology: string;
    readonly references: readonly string[];
  }[];
  readonly opAmpUnits: number;
  readonly packages: readonly Package[];
  readonly boards: number;
  /** What belongs to each board besides its circuit. */
  readonly besides: readonly Besides[];
  /** Parts that are to be sorted to one another. */
  readonly batches: readonly {
    readonly name: string;
    readonly matchPct: number;
    readonly references: readonly string[];
  }[];
}

/**
 * What to buy, what meets where, and in which order it is built, for the variant with its chosen parts. Bypassed stages
 * are not built.
 */
export function buildSheet(design: Design, variant: Variant): Result<BuildSheet> {
  const compiled = compile(design, variant, AS_BUILT);
  if (!compiled.ok) return compiled;
  const built = compiled.value.ways
    .flatMap((way, w) => way.stages.map((designed) => ({ designed, way: variant.ways[w] })))
    .filter(({ designed }) => !designed.stage.bypassed);
  const names = namesOn(compiled.value);
  const parts: PlacedPartValue[] = built.flatMap(({ designed }) =>
    designed.parts
      .filter((p) => !p.choice.leftOut && !p.spec.given)
      .flatMap((p) => boughtParts(p, names(designed.stage.id, p.spec.name), variant.controls)),
  );
  for (const way of variant.ways) {
    const { outputResistor } = way;
    if (outputResistor)
      parts.push({
        reference: outputResistorName(variant, way),
        kind: 'resistor',
        value: outputResistor.ohm,
        tolerancePct: outputResistor.tolerancePct ?? design.preferences.resistorTolerancePct,
      });
  }
  const inStages = compiled.value.netlist.elements.flatMap(({ name, definition: { kind }, values }) => {
    const stage = built.find(({ designed }) => name.startsWith(`${designed.stage.id}.`));
    return stage
      ? [
          {
            reference: names(stage.designed.stage.id, name.slice(stage.designed.stage.id.length + 1).split('.')[0]),
            kind,
            values,
            device: stage.designed.device,
          },
        ]
      : [];
  });
  const amplifiers = inStages
    .filter((e) => e.kind.endsWith('op-amp'))
    .map(({ reference, device }) => ({ reference, name: device?.name ?? 'ideal op-amp (choose a real one)' }));
  const devices = inStages
    .filter((e) => DEVICE_NAMES[e.kind])
    .map(({ reference, kind, values }) => ({ reference, name: deviceName(kind, values) }));
  const several = variant.ways.length > 1;
  const packages = assignPackages(amplifiers, design.preferences.opAmpPackage ?? 2);
  return success({
    parts: partsList(parts, amplifiers, design.preferences.boards, devices),
    connections: connectionsOf(compiled.value, namedWays(compiled.value.ways, variant), design),
    stages: built.map(({ designed, way }) => ({
      name: several ? `${way.name}: ${stageName(way, designed.stage)}` : stageName(way, designed.stage),
      topology: designed.topology.name,
      references: designed.parts.map((p) => names(designed.stage.id, p.spec.name)),
    })),
    opAmpUnits: amplifiers.length,
    packages,
    boards: design.preferences.boards,
    besides: variant.ways.every(isPassive)
      ? []
      : besidesOf(design, variant, packages, {
          otas: inStages.filter((e) => OTA_KINDS.has(e.kind)).length,
          rails: compiled.value.netlist.elements.some((e) => e.name === 'Vplus' || e.name === 'Vminus'),
        }),
    batches: (variant.batches ?? []).map(({ name, matchPct, parts: members }) => ({
      name,
      matchPct,
      references: members.flatMap(({ stage, part }) =>
        built.some(({ designed }) => designed.stage.id === stage) ? [names(stage, part)] : [],
      ),
    })),
  });
}

/** A part's designator, by its stage and its name there; of what has none, the element's own name. */
function namesOn({ ways }: Compilation): (stageId: string, part: string) => string {
  const names = designatorsOf(ways);
  return (stageId, part) => names.get(`${stageId}.${part}`) ?? part;
}

const taperWords = (controls: readonly Control[], id: string): string => {
  const taper = controls.find((c) => c.id === id)?.taper ?? 'linear';
  return typeof taper === 'object' ? 'pot, measured taper' : `pot, ${taper.replace('-', ' ')}`;
};

/**
 * What a place on the board is filled with: one part, or two in series or parallel, or a pot and what keeps it from its
 * end, or a switch and its resistors.
 */
function boughtParts(part: DesignedPart, reference: string, controls: readonly Control[]): PlacedPartValue[] {
  const { kind } = part.spec;
  if (kind === 'current' || kind === 'voltage') return [];
  const {
    choice: { control: held },
    chosen: value,
    tolerancePct,
  } = part;
  if (held?.kind === 'rheostat') {
    const track = {
      reference,
      kind: 'potentiometer' as const,
      value: held.totalOhm,
      tolerancePct: 20,
      name: taperWords(controls, held.control),
    };
    return held.endOhm > 0
      ? [track, { reference: `${reference} stop`, kind: 'resistor', value: held.endOhm, tolerancePct }]
      : [track];
  }
  if (held?.kind === 'switch')
    return [
      { reference, kind: 'switch', value: held.ohms.length, tolerancePct: 0, name: 'switch, positions' },
      ...held.ohms.map((ohm, i): PlacedPartValue => ({
        reference: `${reference} ${i + 1}`,
        kind: 'resistor',
        value: ohm,
        tolerancePct,
      })),
    ];
  const { use } = part.choice;
  if (use && use.kind !== 'single' && use.values.length === 2)
    return use.values.map((each, i): PlacedPartValue => {
      const trimmer = i === 1 ? part.choice.trimmerOhm : undefined;
      if (trimmer !== undefined)
        return {
          reference: `${reference}b`,
          kind: 'potentiometer',
          value: trimmer,
          tolerancePct: TRIMMER_PCT,
          name: 'trimmer',
        };
      return {
        reference: `${reference}${i === 0 ? 'a' : 'b'}`,
        kind,
        value: each,
        tolerancePct,
      };
    });
  const name = held?.kind === 'wiper' ? taperWords(controls, held.control) : part.grade?.name;
  return [{ reference, kind, value, tolerancePct, ...(name === undefined ? {} : { name }) }];
}

/** Of a trimmer's track. */
const TRIMMER_PCT = 10;

const OP_AMP_PINS = ['+', '−', 'out'];
/** Leads of devices, in the order of their elements' terminals; terminals past these are not leads. */
const DEVICE_PINS: Readonly<Record<string, readonly string[]>> = {
  npn: ['collector', 'base', 'emitter'],
  pnp: ['collector', 'base', 'emitter'],
  'n-jfet': ['drain', 'gate', 'source'],
  'p-jfet': ['drain', 'gate', 'source'],
  diode: ['anode', 'cathode'],
  ota: ['+', '−', 'out'],
  'ota-with-pin': ['+', '−', 'out', 'control'],
  optocoupler: ['lamp +', 'lamp −', 'cell a', 'cell b'],
};
const DEVICE_NAMES: Readonly<Record<string, string>> = {
  npn: 'small NPN transistor',
  pnp: 'small PNP transistor',
  'n-jfet': 'n-channel JFET',
  'p-jfet': 'p-channel JFET',
  diode: 'small silicon diode',
  ota: 'OTA',
  'ota-with-pin': 'OTA',
  optocoupler: 'lamp and cell (optocoupler)',
};
/** Junctions of so little saturation current glow. */
const GLOWS_BELOW = 1e-15;
const deviceName = (kind: string, values: readonly number[]): string =>
  kind === 'diode' && values[0] < GLOWS_BELOW ? 'LED' : DEVICE_NAMES[kind];

const STRIP_KINDS: Readonly<Record<string, StripPart['kind']>> = {
  R: 'resistor',
  C: 'capacitor',
  L: 'inductor',
  P: 'potentiometer',
};

const OTA_KINDS: ReadonlySet<string> = new Set(['ota', 'ota-with-pin']);

/** Where a control current, or what is plugged in, meets the board. */
const CONTROL_PINS: ReadonlySet<string> = new Set(['into', 'mirrored into', 'out of', 'tip', 'sleeve']);

interface Pin {
  readonly reference: string;
  /** As a strip board has it. */
  readonly kind: StripPart['kind'] | 'op-amp' | 'ota';
  readonly pin: string;
  readonly node: string;
}

/** Every lead of every part on the board, and the node of the netlist that it is soldered to. */
function pinsOf(compiled: Compilation, ways: readonly NamedWay[]): Pin[] {
  const { netlist } = compiled;
  const names = namesOn(compiled);
  const built = new Set(
    compiled.ways.flatMap((way) => way.stages).flatMap(({ stage }) => (stage.bypassed ? [] : [stage.id])),
  );
  const pins: Pin[] = [];
  for (const {
    name,
    definition: { kind },
    nodes,
  } of netlist.elements) {
    const way = ways.find((w) => name === `Rout.${w.wayId}`);
    if (way)
      nodes.forEach((node, i) =>
        pins.push({ reference: `Rout${way.suffix}`, kind: 'resistor', pin: i === 0 ? 'a' : 'b', node }),
      );
    const [stageId, part, tail] = [
      name.slice(0, name.indexOf('.')),
      name.slice(name.indexOf('.') + 1).split('.')[0],
      name.split('.')[2],
    ];
    if (!built.has(stageId)) continue;
    const amplifier = kind.endsWith('op-amp') || tail === 'output';
    const put = (pin: string, node: string) =>
      pins.push({
        reference: names(stageId, part),
        kind: amplifier
          ? 'op-amp'
          : OTA_KINDS.has(kind)
            ? 'ota'
            : DEVICE_PINS[kind]
              ? 'device'
              : (STRIP_KINDS[part[0].toUpperCase()] ?? 'device'),
        pin,
        node,
      });
    if (kind.endsWith('op-amp')) nodes.slice(0, 2).forEach((node, i) => put(OP_AMP_PINS[i], node));
    if (kind === 'ideal-op-amp') put('out', nodes[2]);
    else if (DEVICE_PINS[kind]) DEVICE_PINS[kind].forEach((pin, i) => put(pin, nodes[i]));
    else if (kind === 'voltage-source') ['tip', 'sleeve'].forEach((pin, i) => put(pin, nodes[i]));
    else if (kind === 'current-source')
      put(
        nodes[1].startsWith('rail.') ? 'out of' : tail === 'mirror' ? 'mirrored into' : 'into',
        nodes[nodes[1].startsWith('rail.') ? 0 : 1],
      );
    else if (tail === 'output') put('out', nodes[1]);
    else if (tail === 'low' || tail === 'high')
      nodes.forEach((node, i) => (i === 0 || tail === 'low') && put(i === 0 ? tail : 'wiper', node));
    else if (tail === 'loss') put('b', nodes[1]);
    else if (nodes.length === 2 && nodes[1].endsWith('.inner')) put('a', nodes[0]);
    else if (nodes.length === 2) nodes.forEach((node, i) => put(i === 0 ? 'a' : 'b', node));
  }
  return pins;
}

/**
 * A way with what tells its input, output and output resistor from those of others: nothing where it is the only one.
 */
interface NamedWay {
  readonly wayId: string;
  readonly joints: readonly string[];
  readonly output: string;
  readonly suffix: string;
}
const namedWays = (ways: readonly Omit<NamedWay, 'suffix'>[], variant: Variant): NamedWay[] =>
  ways.map((way, i) => ({
    wayId: way.wayId,
    joints: way.joints,
    output: way.output,
    suffix: ways.length > 1 ? ` ${variant.ways[i].name}` : '',
  }));

/** The nets' names by the node that stands for each: what leaves the board by what it is, the rest by letters. */
function netNames(netlist: Netlist, ways: readonly NamedWay[], design: Design): Map<string, string> {
  const canonical = mergeNodes(netlist);
  const single = design.brief.supply.kind === 'single';
  const named = new Map([
    [GROUND, 'ground'],
    [canonical('virtual-ground'), single ? 'virtual ground' : 'ground'],
    [canonical('rail.plus'), '+V'],
    [canonical('rail.minus'), single ? 'battery −' : '−V'],
  ]);
  for (const { joints, output, suffix } of ways) {
    named.set(canonical(joints[0]), `input${suffix}`);
    named.set(canonical(output), `output${suffix}`);
  }
  return named;
}

function connectionsOf(compiled: Compilation, ways: readonly NamedWay[], design: Design): Connection[] {
  const { netlist } = compiled;
  const canonical = mergeNodes(netlist);
  const pins = new Map<string, string[]>();
  const put = (node: string, pin: string) => pins.set(canonical(node), [...(pins.get(canonical(node)) ?? []), pin]);
  for (const { reference, pin, node } of pinsOf(compiled, ways)) put(node, `${reference} ${pin}`);
  for (const { joints, output, suffix } of ways) {
    put(joints[0], `input${suffix} from ${design.brief.source.name || 'source'}`);
    put(output, `output${suffix} to ${design.brief.load.name || 'load'}`);
  }
  const named = netNames(netlist, ways, design);
  let letter = 0;
  return [...pins.entries()]
    .filter(([, list]) => list.length > 1)
    .map(([node, list]) => ({ net: named.get(node) ?? `N${++letter}`, pins: list }));
}

/** Where a meter is put to for a node: an op-amp's output, a device's pin, or what meets there. */
export function meterPoints(compiled: Compilation, variant: Variant): (node: string) => string {
  const canonical = mergeNodes(compiled.netlist);
  const met = new Map<string, Pin[]>();
  for (const pin of pinsOf(compiled, namedWays(compiled.ways, variant)))
    met.set(canonical(pin.node), [...(met.get(canonical(pin.node)) ?? []), pin]);
  return (node) => {
    const pins = met.get(canonical(node)) ?? [];
    const told =
      pins.find((p) => p.pin === 'out') ?? pins.find((p) => p.kind === 'device') ?? pins.find((p) => p.pin === 'wiper');
    if (told) return `${told.reference} ${told.pin}`;
    return [...new Set(pins.map((p) => p.reference))].slice(0, 3).join(', ');
  };
}

/** What a strip board is planned from: parts with their nets, op-amps with their supply, and what leaves the board. */
export function stripParts(
  design: Design,
  variant: Variant,
): Result<{ parts: StripPart[]; leaving: { label: string; net: string }[] }> {
  // A pot at its end would be no pot.
  const half = { ...variant, controls: variant.controls.map((c) => ({ ...c, position: 0.5 })) };
  const compiled = compile(design, half, AS_BUILT);
  if (!compiled.ok) return compiled;
  const { netlist } = compiled.value;
  const ways = namedWays(compiled.value.ways, variant);
  const canonical = mergeNodes(netlist);
  const named = netNames(netlist, ways, design);
  const netOf = (node: string) => named.get(canonical(node)) ?? canonical(node);
  const byReference = new Map<string, { kind: Pin['kind']; pins: { name: string; net: string }[] }>();
  const leaving: { label: string; net: string }[] = [];
  for (const { reference, kind, pin, node } of pinsOf(compiled.value, ways)) {
    // A control current comes from off the board.
    if (CONTROL_PINS.has(pin)) leaving.push({ label: `${reference} ${pin}`, net: netOf(node) });
    else
      byReference.set(reference, {
        kind,
        pins: [...(byReference.get(reference)?.pins ?? []), { name: pin, net: netOf(node) }],
      });
  }
  const rails = { plus: netOf('rail.plus'), minus: netOf('rail.minus'), spare: netOf('virtual-ground') };
  const parts: StripPart[] = [];
  for (const [reference, { kind, pins }] of byReference) {
    if (kind === 'op-amp') continue;
    if (kind === 'ota') {
      // Without a chain its control current comes in at a pin that the circuit has no node for.
      if (!pins.some((p) => p.name === 'control'))
        leaving.push({ label: `${reference} control`, net: `${reference} control` });
      parts.push({ reference, kind: 'package', pins: otaLeads(reference, pins, rails) });
    } else parts.push({ reference, kind, pins: inPackageOrder(pins) });
  }
  const amplifiers = [...byReference]
    .filter(([, { kind }]) => kind === 'op-amp')
    .map(([reference]) => ({ reference, name: 'op-amp' }));
  for (const { name, units } of assignPackages(amplifiers, design.preferences.opAmpPackage ?? 2))
    parts.push({
      reference: name,
      kind: 'package',
      pins: opAmpLeads(name, units, (reference) => byReference.get(reference)?.pins ?? [], rails),
    });
  const nets = new Set(parts.flatMap((p) => p.pins.flatMap((pin) => (pin ? [pin.net] : []))));
  leaving.push(...[...new Set(named.values())].filter((net) => nets.has(net)).map((net) => ({ label: net, net })));
  return success({ parts, leaving });
}
