import { couplingBetween } from '../../circuit/elements/coupling';
import { capacitor } from '../../circuit/elements/capacitor';
import { cccsFrom, ccvsFrom, vccs, vcvs } from '../../circuit/elements/controlled-sources';
import { currentSource } from '../../circuit/elements/current-source';
import { inductor } from '../../circuit/elements/inductor';
import { resistor } from '../../circuit/elements/resistor';
import { voltageSource } from '../../circuit/elements/voltage-source';
import type { ElementDefinition } from '../../circuit/element';
import { GROUND, type ElementInstance, type Netlist, type SourceValue } from '../../circuit/netlist';
import { failure, success, type Failure, type Result } from '../../result';
import { CardError, evaluateOnLine } from './card-error';
import { checkCircuit } from './check-circuit';
import { Layered } from './layered';
import { cardsOf, fieldsOf, type Card } from './lines';
import { modelOf, placeDevice, type DeckModel } from './models';
import { deckNumber } from './number';
import { isWave, readWave } from './waves';

const MOST_CARDS = 5000;
/** Subcircuits inside subcircuits beyond this are taken for a circle. */
const MOST_NESTING = 20;
const MOST_CHAINED = 200;
const MOST_DECK_LETTERS = 2_000_000;

export interface Deck {
  readonly title: string;
  readonly netlist: Netlist;
  /** Things read past, to be said on standard error. */
  readonly notes: readonly string[];
  /** Line of the card each element came from. */
  readonly lineOf: ReadonlyMap<string, number>;
}

/** A deck's failure: `code` is `deck`, with the `line` (0 when the file as a whole) and a plain `message`. */
export type DeckFailure = Failure<'deck'>;

const deckFailure = (line: number, message: string): DeckFailure => failure('deck', { line, message });

interface Scope {
  readonly prefix: string;
  readonly nodes: ReadonlyMap<string, string>;
  readonly parameters: Layered<number>;
  readonly models: Layered<DeckModel>;
  readonly depth: number;
}
interface Subcircuit {
  readonly line: number;
  readonly ports: readonly string[];
  readonly defaults: readonly (readonly [string, string])[];
  readonly cards: Card[];
}

const ANALYSES =
  /^\.(ac|op|tran|noise|print|plot|probe|save|options?|temp|ic|nodeset|four|meas(ure)?|width|step|dc|tf|sens)\b/i;

/**
 * Reads a plain-text circuit deck: R C L K V I E G F H D Q J X, .model, .subckt/.ends, .param with {expressions}, .end.
 * Analysis directives are read past with a note. Any other card is an error that names its line.
 */
export function readDeck(text: string): Result<Deck, 'deck'> {
  if (text.includes('\0')) return deckFailure(0, 'this is not a text file');
  if (text.length > MOST_DECK_LETTERS)
    return deckFailure(0, `the deck has ${text.length} letters; the most is ${MOST_DECK_LETTERS}`);
  const { title, cards } = cardsOf(text);
  if (cards.length > MOST_CARDS)
    return deckFailure(cards[MOST_CARDS].line, `the deck has more than ${MOST_CARDS} cards`);
  if (cards.length === 0) return deckFailure(0, 'the deck has no cards after its title line');
  try {
    const reader = new DeckReader();
    const top = reader.collect(cards);
    reader.expand(top, { prefix: '', nodes: new Map(), parameters: new Layered(), models: new Layered(), depth: 0 });
    const netlist: Netlist = { elements: reader.elements, merged: [] };
    const wrong = checkCircuit(netlist, reader.lineOf);
    if (wrong) return deckFailure(wrong.line, wrong.message);
    return success({ title, netlist, notes: reader.notes, lineOf: reader.lineOf });
  } catch (error) {
    if (error instanceof CardError) return deckFailure(error.line, error.message);
    throw error;
  }
}

class DeckReader {
  readonly elements: ElementInstance[] = [];
  readonly notes: string[] = [];
  readonly lineOf = new Map<string, number>();
  private readonly subcircuits = new Map<string, Subcircuit>();
  private readonly defaults = new Map<Layered<number>, Map<Subcircuit, Layered<number>>>();
  private expanded = 0;

  /** Takes subcircuit definitions out and returns the cards that are left. */
  collect(cards: readonly Card[]): Card[] {
    const rest: Card[] = [];
    let open: { name: string; definition: Subcircuit } | null = null;
    for (const card of cards) {
      const fields = fieldsOf(card.text);
      if (fields.length === 0) throw new CardError(card.line, `'${card.text}' is not understood`);
      const head = fields[0].toLowerCase();
      if (head === '.subckt') {
        if (open)
          throw new CardError(
            card.line,
            `a .subckt inside .subckt ${open.name}, which began at line ${open.definition.line}`,
          );
        if (fields.length < 3) throw new CardError(card.line, '.subckt needs a name and at least one node');
        const words = fields.slice(2).filter((f) => !/^params:?$/i.test(f));
        open = {
          name: fields[1].toLowerCase(),
          definition: {
            line: card.line,
            ports: words.filter((f) => !f.includes('=')).map((f) => f.toLowerCase()),
            defaults: assignments(words),
            cards: [],
          },
        };
      } else if (head === '.ends') {
        if (!open) throw new CardError(card.line, '.ends without a .subckt');
        this.subcircuits.set(open.name, open.definition);
        open = null;
      } else (open ? open.definition.cards : rest).push(card);
    }
    if (open) throw new CardError(open.definition.line, `.subckt ${open.name} has no .ends`);
    return rest;
  }

  expand(cards: readonly Card[], scope: Scope): void {
    const pending = new Map<string, { text: string; line: number }>();
    for (const card of cards)
      if (/^\.param\b/i.test(card.text))
        for (const [name, text] of assignments(fieldsOf(card.text).slice(1)))
          pending.set(name, { text, line: card.line });
    this.resolve(pending, scope);
    for (const card of cards)
      if (/^\.model\b/i.test(card.text)) {
        const { name, model, unknown } = modelOf(card, (n) => scope.parameters.get(n));
        scope.models.set(name, model);
        if (unknown.length > 0)
          this.note(`line ${card.line}: model ${name}: ${unknown.join(', ')} unknown here, left out`);
      }
    for (const card of cards) {
      if (++this.expanded > 10 * MOST_CARDS)
        throw new CardError(card.line, 'the deck grows without end when its subcircuits are filled in');
      if (/^\.(param|model)\b/i.test(card.text)) continue;
      if (card.text.startsWith('.')) this.directive(card);
      else this.element(card, scope);
    }
  }

  private note(text: string): void {
    if (!this.notes.includes(text)) this.notes.push(text);
  }

  private resolve(pending: Map<string, { text: string; line: number }>, scope: Scope): void {
    const busy = new Set<string>();
    const valueOf = (name: string): number | undefined => {
      const wanted = pending.get(name);
      if (!wanted) return scope.parameters.get(name);
      if (busy.has(name)) throw new CardError(wanted.line, `parameter '${name}' is defined by itself`);
      if (busy.size >= MOST_CHAINED)
        throw new CardError(wanted.line, `parameters refer to one another more than ${MOST_CHAINED} deep`);
      busy.add(name);
      const value = evaluateOnLine(wanted.text, wanted.line, valueOf);
      busy.delete(name);
      pending.delete(name);
      scope.parameters.set(name, value);
      return value;
    };
    for (const name of [...pending.keys()]) valueOf(name);
  }

  private directive(card: Card): void {
    if (ANALYSES.test(card.text)) this.note(`line ${card.line}: ${card.text.split(/\s/)[0]} is read past`);
    else throw new CardError(card.line, `'${card.text.split(/\s/)[0]}' is not understood`);
  }

  private element(card: Card, scope: Scope): void {
    const [name, ...fields] = fieldsOf(card.text);
    const full = `${scope.prefix}${name.toLowerCase()}`;
    if (this.lineOf.has(full)) throw new CardError(card.line, `two elements are called ${name}`);
    const letter = name[0].toUpperCase();
    const number = (at: number, what: string) => this.number(fields[at], card.line, scope, what, name);
    const node = (at: number) => this.node(fields[at], card.line, scope, name);
    const branch = (at: number) => `${scope.prefix}${(fields[at] ?? '').toLowerCase()}`;
    const put = (element: ElementInstance) => {
      this.lineOf.set(element.name, card.line);
      this.elements.push(element);
    };
    const push = (definition: ElementDefinition, nodes: string[], values: number[], source?: SourceValue) =>
      put({ name: full, definition, nodes, values, source });
    switch (letter) {
      case 'R':
      case 'C':
      case 'L': {
        const definition = letter === 'R' ? resistor : letter === 'C' ? capacitor : inductor;
        const what = definition.values[0];
        const value = number(2, what);
        if (value === 0) throw new CardError(card.line, `${name} has a ${what} of zero`);
        if (value < 0) throw new CardError(card.line, `${name} has a negative ${what}`);
        if (fields.slice(3).some((f) => /^ic=/i.test(f)))
          this.note(`line ${card.line}: ic= is read past: time begins at the operating point`);
        this.rest(
          card,
          fields.slice(3).filter((f) => !/^ic=/i.test(f)),
          name,
        );
        return push(definition, [node(0), node(1)], [value]);
      }
      case 'K': {
        const k = number(2, 'coupling');
        if (!(Math.abs(k) <= 1) || k === 0) throw new CardError(card.line, `${name}: a coupling lies between 0 and 1`);
        return push(couplingBetween(branch(0), branch(1)), [], [k]);
      }
      case 'V':
      case 'I': {
        const { ac, source } = this.sourceValues(card, fields.slice(2), scope, name);
        return push(letter === 'V' ? voltageSource : currentSource, [node(0), node(1)], ac, source);
      }
      case 'E':
      case 'G':
        this.rest(card, fields.slice(5), name);
        return push(letter === 'E' ? vcvs : vccs, [node(0), node(1), node(2), node(3)], [number(4, 'gain')]);
      case 'F':
      case 'H':
        this.rest(card, fields.slice(4), name);
        return push(
          letter === 'F' ? cccsFrom(branch(2)) : ccvsFrom(branch(2)),
          [node(0), node(1)],
          [number(3, 'gain')],
        );
      case 'D':
      case 'Q':
      case 'J':
        for (const element of placeDevice(card, name, full, letter, fields, {
          node,
          model: (key) => scope.models.get(key),
          number,
        }))
          put(element);
        return;
      case 'X':
        return this.instance(card, name, fields, scope);
      default:
        throw new CardError(card.line, `'${name}' is not understood: cards begin with R C L K V I E G F H D Q J or X`);
    }
  }

  private instance(card: Card, name: string, fields: string[], scope: Scope): void {
    const words = fields.filter((f) => !/^params:?$/i.test(f));
    const plain = words.filter((f) => !f.includes('='));
    const kind = plain.pop()?.toLowerCase() ?? '';
    const found = this.subcircuits.get(kind);
    if (!found) throw new CardError(card.line, `${name} asks for subcircuit '${kind}', which is not in the deck`);
    if (plain.length !== found.ports.length)
      throw new CardError(card.line, `${name} gives ${plain.length} nodes; '${kind}' has ${found.ports.length}`);
    if (scope.depth >= MOST_NESTING)
      throw new CardError(
        card.line,
        `subcircuits are nested more than ${MOST_NESTING} deep: does '${kind}' contain itself?`,
      );
    const parameters = new Layered(this.defaultsIn(found, scope));
    for (const [key, text] of assignments(words))
      parameters.set(
        key,
        evaluateOnLine(text, card.line, (n) => scope.parameters.get(n)),
      );
    const nodes: ReadonlyMap<string, string> = new Map(
      found.ports.map((port, i) => [port, this.node(plain[i], card.line, scope, name)]),
    );
    this.expand(found.cards, {
      prefix: `${scope.prefix}${name.toLowerCase()}.`,
      nodes,
      parameters,
      models: new Layered(scope.models),
      depth: scope.depth + 1,
    });
  }

  /** A subcircuit's parameters by default: the same for every instance in a scope, so worked out once. */
  private defaultsIn(found: Subcircuit, { parameters: outer }: Scope): Layered<number> {
    const known = this.defaults.get(outer)?.get(found);
    if (known) return known;
    const values = new Layered(outer);
    for (const [key, text] of found.defaults)
      values.set(
        key,
        evaluateOnLine(text, found.line, (n) => values.get(n)),
      );
    const here = this.defaults.get(outer) ?? new Map<Subcircuit, Layered<number>>();
    this.defaults.set(outer, here.set(found, values));
    return values;
  }

  /** AC magnitude and phase, rest value and wave. */
  private sourceValues(
    card: Card,
    fields: string[],
    scope: Scope,
    name: string,
  ): { ac: [number, number]; source: SourceValue } {
    let ac: [number, number] = [0, 0];
    let source: SourceValue = {};
    const next = (at: number) =>
      fields[at] !== undefined && (deckNumber(fields[at]) !== null || /^[{']/.test(fields[at]));
    for (let i = 0; i < fields.length; i++) {
      const word = fields[i].toLowerCase();
      const number = (at: number, what: string) => this.number(fields[at], card.line, scope, what, name);
      if (word === 'ac') {
        ac = [1, 0];
        if (next(i + 1)) ac[0] = number(++i, 'AC magnitude');
        if (next(i + 1)) ac[1] = number(++i, 'AC phase');
      } else if (word === 'dc') source = { ...source, dc: number(++i, 'DC value') };
      else if (isWave(word))
        source = {
          ...source,
          wave: readWave(fields[i], card.line, name, (text, what) => this.number(text, card.line, scope, what, name)),
        };
      else source = { ...source, dc: number(i, 'value') };
    }
    return { ac, source };
  }

  private number(text: string | undefined, line: number, scope: Scope, what: string, name: string): number {
    if (text === undefined) throw new CardError(line, `${name} has no ${what}`);
    const plain = deckNumber(text.replace(/^(?:value|r|c|l)=/i, ''));
    if (plain !== null) return plain;
    return evaluateOnLine(text, line, (n) => scope.parameters.get(n), `${name}: '${text}' is no ${what}: `);
  }

  private node(text: string | undefined, line: number, scope: Scope, name: string): string {
    if (text === undefined) throw new CardError(line, `${name} has too few nodes`);
    const lower = text.toLowerCase();
    if (lower === '0' || lower === 'gnd') return GROUND;
    return scope.nodes.get(lower) ?? `${scope.prefix}${lower}`;
  }

  private rest(card: Card, left: string[], name: string): void {
    if (left.length > 0) throw new CardError(card.line, `${name}: '${left[0]}' does not belong there`);
  }
}

function assignments(fields: readonly string[]): [string, string][] {
  return fields
    .filter((f) => f.includes('='))
    .map((f) => [f.slice(0, f.indexOf('=')).toLowerCase(), f.slice(f.indexOf('=') + 1)]);
}
