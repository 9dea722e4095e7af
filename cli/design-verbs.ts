import { boardVerb, chooseVerb, deckVerb, designVerb, deskVerb, limitsOf, matchVerb, partsVerb, renderVerb } from '../src/core/jobs/design-verbs';
import { deckQuantity } from '../src/core/jobs/command-line';
import { checkWords } from '../src/ui/words';
import { CommandError } from './command-error';
import { optionsOf, quantity, runner, text, valueOr, type Verb, type VerbCall } from './options';
import { SYNTH_HELP, synthRequest } from './synth-options';

/** Verbs about the product's own design files. */

const VARIANT = { variant: 'name or id (the current one)' };
const json = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

function verb(says: string, describe: Readonly<Record<string, string>>, run: Verb['run'], files: 0 | 1 = 1, repeated: readonly string[] = []): Verb {
  const options = optionsOf(describe);
  for (const name of repeated) options[name] = { type: 'string', multiple: true };
  return { says, files, describe, options, run };
}

/** `NAME=VALUE` as often as it is given. */
function pairs(values: VerbCall['values'], option: string): Record<string, number> {
  const given = values[option];
  return Object.fromEntries((Array.isArray(given) ? given : given === undefined ? [] : [given]).map((pair) => {
    const at = pair.lastIndexOf('=');
    const value = at < 1 ? null : deckQuantity(pair.slice(at + 1));
    if (value === null) throw new CommandError(2, `--${option} '${pair}' is not NAME=VALUE`);
    return [pair.slice(0, at), value];
  }));
}

const design = verb(
  'designs one path and writes it as a design file',
  {
    topology: 'a circuit of the catalogue; without it the options of synth', set: 'NAME=VALUE: what the circuit is asked for; may be repeated', mode: 'form of the circuit, or response of a section', ...SYNTH_HELP,
    source: 'ohm (0)', load: 'ohm (none)', rails: 'V (12)', supply: 'dual or single (dual)', 'series-resistors': 'E6 to E192 (E24)', 'series-capacitors': 'E6 to E192 (E6)', 'op-amp': 'ideal or an id (jfet-audio-3mhz)',
  },
  async ({ values }) => {
    const topology = text(values, 'topology');
    const planned = text(values, 'alignment') !== undefined || text(values, 'order') !== undefined || topology === undefined;
    const load = text(values, 'load');
    return valueOr(designVerb({
      ...(planned || topology === undefined ? {} : { topology }), ...(text(values, 'mode') === undefined ? {} : { form: text(values, 'mode') as string }), wanted: pairs(values, 'set'), synth: planned ? synthRequest(values) : null,
      sourceOhm: quantity(values, 'source', 0), loadOhm: load === undefined || load === 'none' ? null : quantity(values, 'load'), rails: quantity(values, 'rails', 12), supply: text(values, 'supply') ?? 'dual',
      resistors: text(values, 'series-resistors') ?? 'E24', capacitors: text(values, 'series-capacitors') ?? 'E6', opAmp: text(values, 'op-amp') ?? 'jfet-audio-3mhz',
    }));
  },
  0,
  ['set'],
);

const desk = verb('what the desk says of a design, as JSON', VARIANT, async ({ files, values, io }) => json(valueOr(await deskVerb(io.readFile(files[0]), text(values, 'variant'), runner, (check) => checkWords(check).text))));

const deck = verb('a design as a deck: in driven by Vin, out, every part by its designator', { ...VARIANT, values: 'exact or chosen (chosen)', devices: 'ideal or real (real)' }, async ({ files, values, io }) =>
  valueOr(deckVerb(io.readFile(files[0]), text(values, 'variant'), text(values, 'values') ?? 'chosen', text(values, 'devices') ?? 'real')));

const choose = verb('chooses the parts of a design, as JSON { claimedErrorDb, design }', { ...VARIANT, how: 'nearest, together or pairs (together)', 'series-resistors': 'E6 to E192 (the design’s)', 'series-capacitors': 'E6 to E192 (the design’s)', stage: 'number on the path, from 1 (all)' }, async ({ files, values, io }) =>
  json(valueOr(chooseVerb(io.readFile(files[0]), text(values, 'variant'), {
    how: text(values, 'how') ?? 'together', ...(text(values, 'series-resistors') === undefined ? {} : { resistors: text(values, 'series-resistors') as string }), ...(text(values, 'series-capacitors') === undefined ? {} : { capacitors: text(values, 'series-capacitors') as string }),
    ...(text(values, 'stage') === undefined ? {} : { stage: quantity(values, 'stage') }),
  }, runner))));

const match = verb('plans that meet every limit, smallest order first, as JSON', { keep: 'DB@HZ..HZ: at most so far down; one end may be empty; may be repeated', lose: 'DB@HZ..HZ: at least so far down; may be repeated' }, async ({ values }) => {
  const list = (name: 'keep' | 'lose') => [values[name] ?? []].flat().flatMap((given) => valueOr(limitsOf(`--${name}`, name === 'keep' ? 'at-most' : 'at-least', given, deckQuantity)));
  return json(valueOr(await matchVerb([...list('keep'), ...list('lose')], runner)));
}, 0, ['keep', 'lose']);

const render = verb('a recording through a design, as a 32-bit float WAV of the same rate and length', { ...VARIANT, in: 'WAV file', control: 'NAME=POSITION, 0 to 1; may be repeated', 'volts-per-full-scale': 'V (1)' }, async ({ files, values, io }) => {
  const from = text(values, 'in');
  if (from === undefined) throw new CommandError(2, '--in is missing');
  if (text(values, 'out') === undefined) throw new CommandError(2, '--out is missing');
  return valueOr(await renderVerb(io.readFile(files[0]), text(values, 'variant'), io.readBytes(from), quantity(values, 'volts-per-full-scale', 1), pairs(values, 'control')));
}, 1, ['control']);

const parts = verb('everything to buy, as CSV', { ...VARIANT, boards: 'how many (1)' }, async ({ files, values, io }) => valueOr(partsVerb(io.readFile(files[0]), text(values, 'variant'), quantity(values, 'boards', 1))));

const board = verb('a board’s plan, as JSON; with --out a folder, into it too', { ...VARIANT, kind: 'strip', seed: 'number: the plan is the same every time (unused)' }, async ({ files, values, io }) => {
  const plan = json(valueOr(boardVerb(io.readFile(files[0]), text(values, 'variant'), text(values, 'kind') ?? 'strip')));
  return { text: plan, files: { 'strip-plan.json': plan } };
});

export const DESIGN_VERBS: Readonly<Record<string, Verb>> = { design, desk, deck, choose, match, render, parts, board };
