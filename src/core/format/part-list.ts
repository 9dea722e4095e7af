import { failure, success, type Result } from '../result';
import type { Arm } from '../topology/kit/arm';
import { inLine, paired, stacked, toGround } from '../topology/kit/ladder';
import type { PartKind, PartValues } from '../topology/kit/part';
import { PART_UNITS } from '../topology/kit/part-units';
import { parseQuantity } from '../units/quantity';
import { deckTopology, type DeckStage } from './deck/deck-topology';

/** A network as a list of its parts says it, from the amplifier on. */
export interface ListedNetwork {
  readonly arms: readonly Arm[];
  readonly values: PartValues;
  /** The same as a deck, to stand on a path. */
  readonly deck: DeckStage;
}

/** By the unit's letter: henry, farad, ohm; 3R3 and 8.2R are ohms too. */
const KINDS: readonly (readonly [kind: PartKind, letter: string, told: RegExp])[] = [
  ['inductor', 'L', /h$/i],
  ['capacitor', 'C', /f$/i],
  ['resistor', 'R', /(ohms?|Ω|Ω|r\d*)$/i],
];
const ACROSS = /^(across|to ground|\|(?!\|))\s*|\s*(across|to ground)$/i;
const MOST_PARTS = 30;

/**
 * Reads what is found in a cabinet, part by part from the amplifier to the driver: `1.2 mH, across 10 uF + 1R, 3R3 ||
 * 4.7 uF`. What says nothing is in line; “across” is from there to the other terminal; + one behind the other, || side
 * by side. Commas, semicolons and lines part what follows. Fails with `part-list` (`item`, `message`).
 */
export function readPartList(text: string): Result<ListedNetwork, 'part-list'> {
  const arms: Arm[] = [];
  const values: Record<string, number> = {};
  const lines: string[] = [];
  const count: Record<string, number> = {};
  let [node, nodes] = ['in', 0];
  // Decimal commas stand between digits; all others part.
  const items = text
    .split(/[;\n]|,(?!\d)/)
    .map((item) => item.replace(/\s+/g, ' ').trim())
    .filter((item) => item !== '');
  const wrong = (item: string, message: string) => failure('part-list', { item: item.slice(0, 40), message });
  for (const item of items) {
    const across = ACROSS.test(item);
    const body = item.replace(ACROSS, '').trim();
    const beside = body.includes('||');
    if (beside && body.includes('+')) return wrong(item, 'either + or || in one place; give it as two');
    const names: string[] = [];
    for (const typed of body.split(beside ? '||' : '+')) {
      const part = partOf(typed.trim());
      if (!part) return wrong(item, `“${typed.trim()}” does not read as a part: say 1.2 mH, 10 uF or 3R3`);
      const name = `${part.letter}${(count[part.letter] = (count[part.letter] ?? 0) + 1)}`;
      names.push(name);
      values[name] = part.value;
    }
    if (Object.keys(values).length > MOST_PARTS) return wrong(item, `more than ${MOST_PARTS} parts`);
    const put = (name: string, a: string, b: string) => lines.push(`${name} ${a} ${b} ${values[name]}`);
    const chain = (from: string, to: string) =>
      names.forEach((name, i) => {
        const [a, b] = [i === 0 ? from : `m${nodes}`, i === names.length - 1 ? to : `m${++nodes}`];
        put(name, a, b);
      });
    if (across) {
      arms.push(names.length === 1 ? toGround(names[0]) : beside ? paired(...names) : stacked(...names));
      if (beside) for (const name of names) put(name, node, '0');
      else chain(node, '0');
      continue;
    }
    const next = `n${++nodes}`;
    if (beside) {
      arms.push(inLine(...names));
      for (const name of names) put(name, node, next);
    } else {
      for (const name of names) arms.push(inLine(name));
      chain(node, next);
    }
    node = next;
  }
  if (items.length === 0) return wrong('', 'there is no part in it');
  if (node === 'in')
    return wrong(items[0], 'nothing is in line: what is only across the driver goes on the path by itself');
  const deck = { text: ['Found network', 'Vin in 0 AC 1', ...lines].join('\n'), input: 'in', output: node };
  const made = deckTopology(deck);
  return made.ok ? success({ arms, values, deck }) : wrong(items[0], String(made.data.message));
}

function partOf(typed: string): { letter: string; value: number } | null {
  const found = KINDS.find(([, , told]) => told.test(typed));
  if (!found) return null;
  const [kind, letter] = found;
  const read = parseQuantity(kind === 'resistor' ? typed.replace(/ohms?$/i, 'Ω') : typed, PART_UNITS[kind]);
  return read.ok && read.value > 0 ? { letter, value: read.value } : null;
}

/** Forms that networks in cabinets mostly have, as lists to begin with. */
export const TYPICAL_FORMS: readonly { readonly name: string; readonly list: string }[] = [
  { name: 'coil alone', list: '0.68 mH' },
  { name: 'coil and capacitor', list: '1 mH, across 10 uF' },
  { name: 'low-pass of third order', list: '1.5 mH, across 15 uF, 0.47 mH' },
  { name: 'with its correction', list: '1 mH, across 10 uF, across 8R2 + 12 uF' },
  { name: 'capacitor alone', list: '4.7 uF' },
  { name: 'capacitor and coil', list: '6.8 uF, across 0.33 mH' },
  { name: 'high-pass of third order', list: '5.6 uF, across 0.27 mH, 12 uF' },
  { name: 'with a pad', list: '6.8 uF, across 0.33 mH, 2R7, across 8R2' },
  { name: 'with a trap in line', list: '1 mH, across 10 uF, 0.15 mH || 6.8 uF || 15R' },
];
