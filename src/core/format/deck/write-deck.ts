import { GROUND, mergeNodes, type ElementInstance, type Netlist } from '../../circuit/netlist';
import { LIT_CELL, OTA_ON_CURRENT, OTA_WITH_PIN, type Subcircuit } from './device-subcircuits';
import { failure, success, type Result } from '../../result';

/** An ideal op-amp in a deck: a voltage source controlled by its input, this many times. */
const IDEAL_GAIN = 1e9;

export interface WriteDeckOptions {
  readonly title: string;
  /** What nodes are to be called in the deck: from the netlist's names. */
  readonly rename: Readonly<Record<string, string>>;
  readonly notes?: readonly string[];
  /** What elements are to be called: their own names when absent. */
  readonly call?: (element: string) => string;
  /** What a lit cell has at rest, ohm, by its element. */
  readonly cellOhm?: (element: string) => number | undefined;
}

/** Twelve figures: more than any part holds, fewer than would show binary dirt. */
const digits = (value: number): string => String(Number(value.toPrecision(12)));

/**
 * Writes a circuit as a deck that `readDeck` reads. A one-pole op-amp becomes a transconductance into a leaky capacitor
 * and a unity source. Fails with `not-in-a-deck` (`element`) for what the syntax cannot say.
 */
export function writeDeck(netlist: Netlist, options: WriteDeckOptions): Result<string, 'not-in-a-deck'> {
  const canonical = mergeNodes(netlist);
  const renamed = new Map(Object.entries(options.rename).map(([node, name]) => [canonical(node), name]));
  const taken = new Set(renamed.values());
  const names = new Map<string, string>();
  const node = (raw: string): string => {
    const name = canonical(raw);
    if (name === GROUND) return GROUND;
    const given = renamed.get(name) ?? names.get(name);
    if (given) return given;
    let plain = name.toLowerCase().replace(/[^a-z0-9_.]/g, '_');
    while (taken.has(plain)) plain += '_';
    taken.add(plain);
    names.set(name, plain);
    return plain;
  };
  const kinds = new Map(netlist.elements.map((e) => [e.name, e.definition.kind]));
  const call = options.call ?? ((name: string) => name);
  const cardName = (name: string) =>
    LETTERS[kinds.get(name) ?? ''] ? nameWith(LETTERS[kinds.get(name) as string], call(name)) : undefined;
  const lines = [options.title.replace(/[\r\n]+/g, ' ') || 'untitled'];
  for (const note of options.notes ?? []) lines.push(`* ${note.replace(/[\r\n]+/g, ' ')}`);
  const subcircuits = new Map<string, Subcircuit>();
  for (const element of netlist.elements) {
    const instance = instanceOf(element, options.cellOhm);
    if (instance) {
      subcircuits.set(instance.of.name, instance.of);
      lines.push(instanceCard(call(element.name), element.nodes.map(node), instance));
      continue;
    }
    const cards = cardsFor({ ...element, name: call(element.name) }, element.nodes.map(node), cardName);
    if (!cards) return failure('not-in-a-deck', { element: element.name, kind: element.definition.kind });
    lines.push(...cards);
  }
  for (const { lines: own } of subcircuits.values()) lines.push(...own);
  return success(`${lines.join('\n')}\n.end\n`);
}

/** An element as a subcircuit: of its nodes those that count, and its parameters. */
interface Instance {
  readonly of: Subcircuit;
  readonly nodes: readonly number[];
  readonly parameters: Readonly<Record<string, number>>;
}

function instanceOf(
  { name, definition, values }: ElementInstance,
  cellOhm: WriteDeckOptions['cellOhm'],
): Instance | null {
  switch (definition.kind) {
    case 'ota':
      return values[1] === 0 ? { of: OTA_ON_CURRENT, nodes: [0, 1, 2, 5], parameters: { amps: values[0] } } : null;
    case 'ota-with-pin':
      return { of: OTA_WITH_PIN, nodes: [0, 1, 2, 3, 4, 5], parameters: { is: values[0], n: values[1] } };
    case 'optocoupler': {
      const ohm = cellOhm?.(name);
      const [is, n] = values;
      return ohm === undefined ? null : { of: LIT_CELL, nodes: [0, 1, 2, 3], parameters: { is, n, ohm } };
    }
    default:
      return null;
  }
}

const instanceCard = (name: string, nodes: readonly string[], { of, nodes: taken, parameters }: Instance): string =>
  [
    `X_${plainName(name)}`,
    ...taken.map((i) => nodes[i]),
    of.name,
    ...Object.entries(parameters).map(([key, value]) => `${key}=${digits(value)}`),
  ].join(' ');

const LETTERS: Readonly<Record<string, string>> = {
  resistor: 'R',
  'small-resistor': 'R',
  capacitor: 'C',
  inductor: 'L',
  vcvs: 'E',
  vccs: 'G',
  ccvs: 'H',
  cccs: 'F',
  coupling: 'K',
  'voltage-source': 'V',
  'current-source': 'I',
  diode: 'D',
  npn: 'Q',
  pnp: 'Q',
  'n-jfet': 'J',
  'p-jfet': 'J',
  'ideal-op-amp': 'E',
  'one-pole-op-amp': 'E',
};

const plainName = (name: string): string => name.toLowerCase().replace(/[^a-z0-9_.]/g, '_');

/** An element's name with the letter that its card begins with. */
function nameWith(letter: string, name: string): string {
  const plain = plainName(name);
  return plain.startsWith(letter.toLowerCase()) ? plain.replace(/^./, letter) : `${letter}_${plain}`;
}

/** A source's rest value and wave. */
function sourceWords({ source }: ElementInstance): string {
  const words: string[] = [];
  if (source?.dc !== undefined) words.push(`DC ${digits(source.dc)}`);
  // A pulse without a period, or without an end, leaves out what is infinite.
  if (source?.wave) {
    const { kind, numbers } = source.wave.form;
    words.push(`${kind.toUpperCase()}(${numbers.filter(Number.isFinite).map(digits).join(' ')})`);
  }
  return words.length > 0 ? `${words.join(' ')} ` : '';
}

/** A transistor's model parameters, from its value slots: what is at its default is left out. */
function transistorModel(values: readonly number[]): string {
  const [is, bf, br, nf, nr, perVaf, perVar, cje, cjc, tf] = values;
  const words = [`IS=${digits(is)}`, `BF=${digits(bf)}`, `BR=${digits(br)}`, `NF=${digits(nf)}`, `NR=${digits(nr)}`];
  if (perVaf > 0) words.push(`VAF=${digits(1 / perVaf)}`);
  if (perVar > 0) words.push(`VAR=${digits(1 / perVar)}`);
  for (const [key, value] of [
    ['CJE', cje],
    ['CJC', cjc],
    ['TF', tf],
  ] as const)
    if (value > 0) words.push(`${key}=${digits(value)}`);
  return words.join(' ');
}

/** An element as its cards are written from. */
interface Written {
  readonly element: ElementInstance;
  readonly values: readonly number[];
  readonly nodes: readonly string[];
  /** Its name without what a card cannot have; and with the letter that a card of that kind begins with. */
  readonly plain: string;
  card(letter: string): string;
  /** Cards of the elements that it refers to. */
  readonly controlled: readonly string[];
}
type Writer = (written: Written) => string[];

const simple =
  (letter: string): Writer =>
  ({ card, nodes, values }) => [`${card(letter)} ${nodes.join(' ')} ${values.map(digits).join(' ')}`];
const steered =
  (letter: string): Writer =>
  ({ card, nodes, controlled, values }) => [`${card(letter)} ${nodes.join(' ')} ${controlled[0]} ${digits(values[0])}`];
const source =
  (letter: string): Writer =>
  ({ card, nodes, element, values }) => [
    `${card(letter)} ${nodes.join(' ')} ${sourceWords(element)}AC ${values.map(digits).join(' ')}`,
  ];
const bipolar =
  (model: string): Writer =>
  ({ card, nodes, plain, values }) => [
    `${card('Q')} ${nodes.join(' ')} m_${plain}`,
    `.model m_${plain} ${model}(${transistorModel(values)})`,
  ];
const junctionFet =
  (model: string): Writer =>
  ({ card, nodes, plain, values }) => {
    const [vto, beta, lambda, is, cgs, cgd] = values.map(digits);
    return [
      `${card('J')} ${nodes.join(' ')} m_${plain}`,
      `.model m_${plain} ${model}(VTO=${vto} BETA=${beta} LAMBDA=${lambda} IS=${is} CGS=${cgs} CGD=${cgd})`,
    ];
  };

/** How each kind of element is written; what is not here no deck has a card for. */
const WRITERS: Readonly<Partial<Record<string, Writer>>> = {
  resistor: simple('R'),
  'small-resistor': simple('R'),
  capacitor: simple('C'),
  inductor: simple('L'),
  vcvs: simple('E'),
  vccs: simple('G'),
  cccs: steered('F'),
  ccvs: steered('H'),
  coupling: ({ card, controlled, values }) => [`${card('K')} ${controlled.join(' ')} ${digits(values[0])}`],
  'voltage-source': source('V'),
  'current-source': source('I'),
  // A deck has no card for what was measured: the circuit fitted to it stands beside.
  'measured-port': ({ plain }) => [`* ${plain}: the measurement is not in this netlist, the circuit fitted to it is`],
  // The deck's diode holds no charge; a capacitor beside it does.
  diode: ({ card, nodes, plain, values }) => [
    `${card('D')} ${nodes.join(' ')} m_${plain}`,
    `.model m_${plain} D(IS=${digits(values[0])} N=${digits(values[1])})`,
    ...(values[2] > 0 ? [`C_${plain} ${nodes.join(' ')} ${digits(values[2])}`] : []),
  ],
  npn: bipolar('NPN'),
  pnp: bipolar('PNP'),
  'n-jfet': junctionFet('NJF'),
  'p-jfet': junctionFet('PJF'),
  'ideal-op-amp': ({ card, nodes }) => [`${card('E')} ${nodes[2]} 0 ${nodes[0]} ${nodes[1]} ${IDEAL_GAIN}`],
  'one-pole-op-amp': ({ nodes, plain, values }) => {
    const inner = `${plain}.pole`;
    return [
      `G_${plain} 0 ${inner} ${nodes[0]} ${nodes[1]} 1`,
      `R_${plain} ${inner} 0 ${digits(values[0])}`,
      `C_${plain} ${inner} 0 ${digits(1 / values[1])}`,
      `E_${plain} ${nodes[2]} 0 ${inner} 0 1`,
    ];
  },
};

/** Null where there is no card for it, or for what it refers to. */
function cardsFor(
  element: ElementInstance,
  nodes: readonly string[],
  cardName: (name: string) => string | undefined,
): string[] | null {
  const { name, definition, values } = element;
  const controlled = (definition.between ?? []).map(cardName);
  const write = WRITERS[definition.kind];
  if (!write || controlled.includes(undefined)) return null;
  return write({
    element,
    values,
    nodes,
    plain: plainName(name),
    card: (letter) => nameWith(letter, name),
    controlled: controlled as string[],
  });
}
