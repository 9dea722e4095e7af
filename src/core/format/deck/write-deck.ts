import { GROUND, mergeNodes, type ElementInstance, type Netlist } from '../../circuit/netlist';
import { failure, success, type Result } from '../../result';

/** An ideal op-amp in a deck: a voltage source controlled by its input, this many times. */
const IDEAL_GAIN = 1e9;

export interface WriteDeckOptions {
  readonly title: string;
  /** What nodes are to be called in the deck: from the netlist's names. */
  readonly rename: Readonly<Record<string, string>>;
  readonly notes?: readonly string[];
}

/** Twelve figures: more than any part holds, fewer than would show binary dirt. */
const digits = (value: number): string => String(Number(value.toPrecision(12)));

/**
 * Writes a linear circuit as a deck that `readDeck` reads. A one-pole op-amp becomes a transconductance into a leaky capacitor and a unity source.
 * Fails with `not-in-a-deck` (`element`) for what the syntax cannot say.
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
  const lines = [options.title.replace(/[\r\n]+/g, ' ') || 'untitled'];
  for (const note of options.notes ?? []) lines.push(`* ${note.replace(/[\r\n]+/g, ' ')}`);
  for (const element of netlist.elements) {
    const cards = cardsFor(element, element.nodes.map(node));
    if (!cards) return failure('not-in-a-deck', { element: element.name, kind: element.definition.kind });
    lines.push(...cards);
  }
  return success(`${lines.join('\n')}\n.end\n`);
}

function cardsFor({ name, definition, values }: ElementInstance, nodes: readonly string[]): string[] | null {
  const plain = name.toLowerCase().replace(/[^a-z0-9_.]/g, '_');
  const card = (letter: string) => (plain.startsWith(letter.toLowerCase()) ? plain.replace(/^./, letter) : `${letter}_${plain}`);
  const simple = (letter: string) => [`${card(letter)} ${nodes.join(' ')} ${values.map(digits).join(' ')}`];
  switch (definition.kind) {
    case 'resistor':
      return simple('R');
    case 'capacitor':
      return simple('C');
    case 'inductor':
      return simple('L');
    case 'vcvs':
      return simple('E');
    case 'vccs':
      return simple('G');
    case 'voltage-source':
      return [`${card('V')} ${nodes.join(' ')} AC ${values.map(digits).join(' ')}`];
    case 'current-source':
      return [`${card('I')} ${nodes.join(' ')} AC ${values.map(digits).join(' ')}`];
    case 'ideal-op-amp':
      return [`${card('E')} ${nodes[2]} 0 ${nodes[0]} ${nodes[1]} ${IDEAL_GAIN}`];
    case 'one-pole-op-amp': {
      const inner = `${plain}.pole`;
      return [
        `G_${plain} 0 ${inner} ${nodes[0]} ${nodes[1]} 1`,
        `R_${plain} ${inner} 0 ${digits(values[0])}`,
        `C_${plain} ${inner} 0 ${digits(1 / values[1])}`,
        `E_${plain} ${nodes[2]} 0 ${inner} 0 1`,
      ];
    }
    default:
      return null;
  }
}
