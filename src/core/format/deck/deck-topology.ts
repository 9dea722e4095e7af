import { smallSignalElements } from '../../analysis/rest/small-signal';
import type { ElementDefinition } from '../../circuit/element';
import { GROUND, type ElementInstance } from '../../circuit/netlist';
import { failure, success, type Result } from '../../result';
import { defineNetwork } from '../../topology/kit/define-network';
import type { BuildContext, NetworkTopology, PartSpec } from '../../topology/kit/define-topology';
import type { Drawing } from '../../topology/kit/drawing';
import { namedNets } from '../../topology/kit/named-nets';
import type { PartKind, PartValues } from '../../topology/kit/part';
import { readDeck, type Deck } from './read-deck';

/** A deck that stands for a stage: its text, and the nodes where the signal comes in and goes out. */
export interface DeckStage {
  readonly text: string;
  readonly input: string;
  readonly output: string;
}

/** Every topology has an id; a deck's is not in the registry, since its circuit lies in the document. */
export const DECK = 'deck';
const LONGEST_PART_NAME = 20;
const MOST_PARTS = 200;

const KINDS: Readonly<Record<string, PartKind>> = {
  resistor: 'resistor',
  capacitor: 'capacitor',
  inductor: 'inductor',
};
/** Part names go into documents and onto boards: `x1.r1` is X1_R1. */
const partName = (element: string): string => element.toUpperCase().replace(/[^A-Z0-9]+/g, '_');

const known = new Map<string, Result<NetworkTopology, 'deck'>>();
const MOST_KNOWN = 50;

/** Nodes of a deck that a signal can be led to or taken from, as they first come. Fails as reading does. */
export function deckNodes(text: string): Result<string[], 'deck'> {
  const deck = readDeck(text);
  if (!deck.ok) return deck;
  return success([...new Set(deck.value.netlist.elements.flatMap((e) => e.nodes))].filter((node) => node !== GROUND));
}

/**
 * A circuit that is not in the catalogue, from its deck: resistors, capacitors and coils are its parts, all else stands
 * as the deck has it. A source at the input node gives way to the path; diodes and transistors are what they are to a
 * small signal where the deck by itself rests. Fails with `deck` (`line`, `message`).
 */
export function deckTopology(stage: DeckStage): Result<NetworkTopology, 'deck'> {
  const key = JSON.stringify([stage.text, stage.input, stage.output]);
  const before = known.get(key);
  if (before) return before;
  if (known.size >= MOST_KNOWN) known.clear();
  const made = readTopology(stage);
  known.set(key, made);
  return made;
}

const wrong = (message: string, line = 0) => failure('deck', { line, message });

function readTopology({ text, input, output }: DeckStage): Result<NetworkTopology, 'deck'> {
  const deck = readDeck(text);
  if (!deck.ok) return deck;
  const { title, netlist } = deck.value;
  const nodes = new Set(netlist.elements.flatMap((e) => e.nodes));
  for (const [what, node] of [
    ['input', input],
    ['output', output],
  ])
    if (node === GROUND || !nodes.has(node)) return wrong(`the deck has no node '${node}' to take as its ${what}`);
  if (input === output) return wrong('input and output are the same node');
  const small = smallSignalElements(netlist);
  if (!small.ok)
    return wrong(`its devices do not come to rest: ${String(small.data.node ?? small.data.unknown)} does not settle`);
  const fed = withoutDrives(deck.value, small.value, input);
  if (!fed.ok) return fed;
  const { elements, drives } = fed.value;
  const parts = partsOf(elements);
  if (!parts.ok) return parts;
  const values: PartValues = Object.fromEntries(
    elements.flatMap((e) => (KINDS[e.definition.kind] ? [[partName(e.name), e.values[0]]] : [])),
  );
  const drawing = drawDeck(elements, netlist.elements, input, output);
  return success(
    defineNetwork({
      id: DECK,
      name: title.trim() || 'Circuit from a deck',
      shortName: shortened(title.trim()) || 'Deck',
      words: [],
      family: 'rc',
      parameters: [],
      reason: 'A circuit of one’s own, as its deck has it; it is loaded, checked, spread and built like any other.',
      cautions: cautionsOf(netlist.elements, drives, small.value !== netlist.elements),
      sources: ['the deck'],
      parts: () => parts.value,
      design: () => success(values),
      measures: () => ({}),
      working: () => [],
      drawing: () => drawing,
      build: (context) => placeDeck(context, elements, input, output),
    }),
  );
}

type Elements = readonly ElementInstance[];

/** What is left when the path takes the place of the sources at the input. */
function withoutDrives(
  { netlist, lineOf }: Deck,
  small: Elements,
  input: string,
): Result<{ elements: Elements; drives: Elements }, 'deck'> {
  const drives = netlist.elements.filter(
    (e) => e.definition.kind === 'voltage-source' && e.nodes.includes(input) && e.nodes.includes(GROUND),
  );
  const isDrive = (name: string) => drives.some((d) => d.name === name);
  const elements = small.filter((e) => !isDrive(e.name));
  const orphan = elements.find((e) => e.definition.between?.some(isDrive));
  return orphan
    ? wrong(
        `${orphan.name} is steered by the current of the source at the input, which gives way to the path`,
        lineOf.get(orphan.name),
      )
    : success({ elements, drives });
}

/** Its parts, each under a name that a document and a board can have. */
function partsOf(elements: Elements): Result<PartSpec[], 'deck'> {
  const parts = elements.flatMap((e): PartSpec[] => {
    const kind = KINDS[e.definition.kind];
    return kind
      ? [{ name: partName(e.name), kind, role: `between ${e.nodes.map(nodeWords).join(' and ')}`, leaveOut: 'open' }]
      : [];
  });
  if (parts.length === 0) return wrong('the deck has no resistor, capacitor or coil');
  if (parts.length > MOST_PARTS) return wrong(`the deck has ${parts.length} parts; a stage takes ${MOST_PARTS}`);
  const long = parts.find((p) => p.name.length > LONGEST_PART_NAME);
  if (long) return wrong(`the name ${long.name} is longer than ${LONGEST_PART_NAME} letters`);
  const twice = parts.find((p, i) => parts.findIndex((other) => other.name === p.name) !== i);
  return twice ? wrong(`two parts would be called ${twice.name}`) : success(parts);
}

/** Kinds that are drawn besides parts and amplifiers. */
const DRAWN: ReadonlySet<string> = new Set(['npn', 'pnp', 'diode']);

function cautionsOf(all: Elements, drives: Elements, atRest: boolean): string[] {
  const others = all
    .filter((e) => !KINDS[e.definition.kind] && !drives.includes(e) && !isAmplifier(e) && !DRAWN.has(e.definition.kind))
    .map((e) => `${e.name.toUpperCase()} (${e.definition.kind})`);
  return [
    ...(others.length > 0 ? [`Not drawn, but there: ${others.join(', ')}.`] : []),
    ...(atRest
      ? [
          'Diodes and transistors stand for what they are to a small signal where the deck by itself rests; ' +
            'clipping is not seen.',
        ]
      : []),
  ];
}

const MOST_LETTERS = 16;
/** As many whole words as fit on a card. */
function shortened(title: string): string {
  if (title.length <= MOST_LETTERS) return title;
  const words = title
    .slice(0, MOST_LETTERS + 1)
    .split(' ')
    .slice(0, -1)
    .join(' ');
  return words || `${title.slice(0, MOST_LETTERS - 1)}…`;
}

const nodeWords = (node: string): string => (node === GROUND ? 'ground' : node);
const isAmplifier = ({ definition, nodes }: ElementInstance): boolean =>
  definition.kind === 'vcvs' && nodes[1] === GROUND;

function placeDeck(context: BuildContext, elements: readonly ElementInstance[], input: string, output: string): void {
  const node = (name: string) =>
    name === GROUND
      ? context.reference
      : name === input
        ? context.input
        : name === output
          ? context.output
          : context.node(name);
  const inStage = (name: string) => context.node(name);
  for (const { name, definition, nodes } of elements)
    if (KINDS[definition.kind]) context.part(partName(name), node(nodes[0]), node(nodes[1]));
  for (const { name, definition, nodes, values, source } of elements) {
    if (KINDS[definition.kind]) continue;
    const still = /^(voltage|current)-source$/.test(definition.kind);
    context.element(
      name,
      renamed(definition, (part) => (isPart(elements, part) ? inStage(partName(part)) : inStage(part))),
      nodes.map(node),
      still ? values.map(() => 0) : values,
      still && source?.dc !== undefined ? { dc: source.dc } : undefined,
    );
  }
}

const isPart = (elements: readonly ElementInstance[], name: string): boolean =>
  elements.some((e) => e.name === name && KINDS[e.definition.kind] !== undefined);

/** A definition that refers to other elements by name, referring to them by their names in the stage. */
const renamed = (definition: ElementDefinition, nameOf: (element: string) => string): ElementDefinition =>
  definition.amid?.((definition.between ?? []).map(nameOf)) ?? definition;

/** Every part with the nets it lies between, then the amplifiers and devices. */
function drawDeck(
  elements: readonly ElementInstance[],
  devices: readonly ElementInstance[],
  input: string,
  output: string,
): Drawing {
  const label = (node: string): string => (node === input ? 'in' : node === output ? 'out' : nodeWords(node));
  const symbol = ({ definition }: ElementInstance) =>
    (['npn', 'pnp', 'diode'] as const).find((k) => k === definition.kind);
  return namedNets({
    parts: elements
      .filter((e) => KINDS[e.definition.kind])
      .map(({ name, definition, nodes }) => ({
        name: partName(name),
        kind: KINDS[definition.kind],
        nets: [label(nodes[0]), label(nodes[1])],
      })),
    opAmps: elements.filter(isAmplifier).map(({ name, nodes }) => ({
      name: name.toUpperCase(),
      plus: label(nodes[2]),
      minus: label(nodes[3]),
      out: label(nodes[0]),
    })),
    devices: devices.flatMap((e) =>
      symbol(e) ? [{ name: e.name.toUpperCase(), symbol: symbol(e)!, nets: e.nodes.map(label) }] : [],
    ),
  });
}
