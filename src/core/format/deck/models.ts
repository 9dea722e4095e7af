import { npn, pnp } from '../../circuit/elements/bipolar';
import { nJunctionFet, pJunctionFet } from '../../circuit/elements/junction-fet';
import { diode } from '../../circuit/elements/diode';
import { resistor } from '../../circuit/elements/resistor';
import type { ElementInstance } from '../../circuit/netlist';
import { CardError, evaluateOnLine } from './card-error';
import { fieldsOf, type Card } from './lines';
import { deckNumber } from './number';

type Kind = 'd' | 'npn' | 'pnp' | 'njf' | 'pjf';

export interface DeckModel {
  readonly kind: Kind;
  readonly parameters: Readonly<Record<string, number>>;
}

const TRANSISTOR = {
  is: 1e-16,
  bf: 100,
  br: 1,
  nf: 1,
  nr: 1,
  vaf: 0,
  var: 0,
  rb: 0,
  rc: 0,
  re: 0,
  cje: 0,
  cjc: 0,
  tf: 0,
};
const FIELD_EFFECT = { vto: -2, beta: 1e-4, lambda: 0, is: 1e-14, cgs: 0, cgd: 0, rd: 0, rs: 0 };
/** What is implemented of each kind, with its defaults. An Early voltage of 0 stands for none. */
const DEFAULTS: Readonly<Record<Kind, Readonly<Record<string, number>>>> = {
  d: { is: 1e-14, n: 1, rs: 0 },
  npn: TRANSISTOR,
  pnp: TRANSISTOR,
  njf: FIELD_EFFECT,
  pjf: FIELD_EFFECT,
};
const POSITIVE = new Set(['is', 'n', 'bf', 'br', 'nf', 'nr', 'beta']);
/** A pinch-off voltage lies on either side of nothing. */
const SIGNED = new Set(['vto']);

/** Reads a `.model` card. Parameters that have no part in our equations come back by name. */
export function modelOf(
  card: Card,
  lookup: (name: string) => number | undefined,
): { name: string; model: DeckModel; unknown: string[] } {
  const match = /^\.model\s+(\S+)\s+([a-z]\w*)\s*(.*)$/is.exec(card.text);
  if (!match) throw new CardError(card.line, '.model needs a name and a kind: D, NPN, PNP, NJF or PJF');
  const [, name, kindText, rest] = match;
  const kind = kindText.toLowerCase();
  if (!Object.hasOwn(DEFAULTS, kind))
    throw new CardError(card.line, `model ${name}: '${kindText}' is none of D, NPN, PNP, NJF, PJF`);
  const defaults = DEFAULTS[kind as Kind];
  const parameters: Record<string, number> = { ...defaults };
  const unknown: string[] = [];
  for (const field of fieldsOf(rest.trim().replace(/^\(([\s\S]*)\)$/, '$1'))) {
    const equals = field.indexOf('=');
    const key = field.slice(0, equals).toLowerCase();
    if (equals < 1) throw new CardError(card.line, `model ${name}: '${field}' does not belong there`);
    if (!Object.hasOwn(defaults, key)) {
      unknown.push(key.toUpperCase());
      continue;
    }
    const text = field.slice(equals + 1);
    const value =
      deckNumber(text) ??
      evaluateOnLine(text, card.line, lookup, `model ${name}: '${text}' is no ${key.toUpperCase()}: `);
    if ((value < 0 && !SIGNED.has(key)) || (value === 0 && POSITIVE.has(key)))
      throw new CardError(
        card.line,
        `model ${name}: ${key.toUpperCase()} must be ${POSITIVE.has(key) ? 'positive' : 'zero or more'}`,
      );
    parameters[key] = value;
  }
  return { name: name.toLowerCase(), model: { kind: kind as Kind, parameters }, unknown };
}

interface Reading {
  node(at: number): string;
  model(name: string): DeckModel | undefined;
  number(at: number, what: string): number;
}

const LEADS: Readonly<Record<Letter, readonly string[]>> = {
  D: ['a', 'k'],
  Q: ['c', 'b', 'e'],
  J: ['d', 'g', 's'],
};
export type Letter = 'D' | 'Q' | 'J';
const LETTER_OF: Readonly<Record<Kind, Letter>> = { d: 'D', npn: 'Q', pnp: 'Q', njf: 'J', pjf: 'J' };

/**
 * The elements of a `D`, `Q` or `J` card: the device, and a resistor with a node of its own for each terminal
 * resistance.
 */
export function placeDevice(
  card: Card,
  name: string,
  full: string,
  letter: Letter,
  fields: readonly string[],
  reading: Reading,
): ElementInstance[] {
  const terminals = LEADS[letter];
  const wanted = fields[terminals.length];
  if (wanted === undefined)
    throw new CardError(card.line, `${name} has too few fields: ${terminals.length} nodes and a model`);
  const model = reading.model(wanted.toLowerCase());
  if (!model) throw new CardError(card.line, `${name} asks for model '${wanted}', which is not in the deck`);
  if (LETTER_OF[model.kind] !== letter)
    throw new CardError(card.line, `${name}: '${wanted}' is a model of another kind, ${model.kind.toUpperCase()}`);
  const area = fields[terminals.length + 1] === undefined ? 1 : reading.number(terminals.length + 1, 'area');
  if (!(area > 0)) throw new CardError(card.line, `${name}: an area must be positive`);
  if (fields.length > terminals.length + 2)
    throw new CardError(card.line, `${name}: '${fields[terminals.length + 2]}' does not belong there`);
  const p = model.parameters;
  const extra: ElementInstance[] = [];
  const resistances: Record<string, number> =
    letter === 'D' ? { a: p.rs } : letter === 'J' ? { d: p.rd, s: p.rs } : { c: p.rc, b: p.rb, e: p.re };
  const nodes = terminals.map((terminal, t) => {
    const outer = reading.node(t);
    if (resistances[terminal] === undefined || resistances[terminal] === 0) return outer;
    const inner = `${full}.${terminal}`;
    extra.push({
      name: `${full}.r${terminal}`,
      definition: resistor,
      nodes: [outer, inner],
      values: [resistances[terminal] / area],
    });
    return inner;
  });
  const inverse = (volts: number) => (volts === 0 ? 0 : 1 / volts);
  if (letter === 'J')
    return [
      {
        name: full,
        definition: model.kind === 'njf' ? nJunctionFet : pJunctionFet,
        nodes,
        values: [p.vto, p.beta * area, p.lambda, p.is * area, p.cgs * area, p.cgd * area],
      },
      ...extra,
    ];
  const device: ElementInstance =
    letter === 'D'
      ? { name: full, definition: diode, nodes, values: [p.is * area, p.n, 0] }
      : {
          name: full,
          definition: model.kind === 'npn' ? npn : pnp,
          nodes,
          values: [
            p.is * area,
            p.bf,
            p.br,
            p.nf,
            p.nr,
            inverse(p.vaf),
            inverse(p.var),
            p.cje * area,
            p.cjc * area,
            p.tf,
          ],
        };
  return [device, ...extra];
}
