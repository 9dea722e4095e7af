import { deckQuantity } from '../src/core/jobs/shell/command-line';
import { boardVerb } from '../src/core/jobs/shell/board-verb';
import { chooseVerb } from '../src/core/jobs/shell/choose-verb';
import { deckVerb } from '../src/core/jobs/shell/deck-verb';
import { designVerb } from '../src/core/jobs/shell/design-verb';
import { deskVerb } from '../src/core/jobs/shell/desk-verb';
import { crossoverDesign, type CrossoverGiven } from '../src/core/jobs/shell/crossover-design';
import { judgeVerb } from '../src/core/jobs/shell/judge-verb';
import { limitsOf, maskOf, matchVerb } from '../src/core/jobs/shell/match-verb';
import { partsVerb } from '../src/core/jobs/shell/parts-verb';
import { renderVerb } from '../src/core/jobs/shell/render-verb';
import { trimVerb } from '../src/core/jobs/shell/trim-verb';
import { timeVerb } from '../src/core/jobs/shell/time-verb';
import { checkWords } from '../src/ui/words/checks';
import { CommandError } from './command-error';
import { optionsOf, quantity, runner, text, valueOr, type Verb, type VerbCall } from './options';
import { SYNTH_HELP, synthRequest } from './synth-options';

/** Verbs about the product's own design files. */

type Values = VerbCall['values'];

export const VARIANT = { variant: 'name or id (the current one)' };
const SERIES = (usual: string) => ({
  'series-resistors': `E6 to E192 (${usual})`,
  'series-capacitors': `E6 to E192 (${usual})`,
});
const json = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

interface VerbGiven extends Pick<Verb, 'says' | 'describe' | 'run'> {
  readonly files?: 0 | 1;
  /** Options that may be given several times. */
  readonly repeated?: readonly string[];
}

export function verbOf({ files = 1, repeated = [], ...given }: VerbGiven): Verb {
  const options = optionsOf(given.describe);
  for (const name of repeated) options[name] = { type: 'string', multiple: true };
  return { ...given, files, options };
}

export const all = (values: Values, option: string): string[] => [values[option] ?? []].flat();

/** `NAME=VALUE` as often as it is given. */
function pairs(values: Values, option: string): Record<string, number> {
  return Object.fromEntries(
    all(values, option).map((pair) => {
      const at = pair.lastIndexOf('=');
      const value = at < 1 ? null : deckQuantity(pair.slice(at + 1));
      if (value === null) throw new CommandError(2, `--${option} '${pair}' is not NAME=VALUE`);
      return [pair.slice(0, at), value];
    }),
  );
}

const design = verbOf({
  says: 'designs one path and writes it as a design file',
  describe: {
    ...SYNTH_HELP,
    topology: 'a circuit of the catalogue; without it the options of synth',
    set: 'NAME=VALUE: what the circuit is asked for; may be repeated',
    mode: 'form of the circuit, or response of a section',
    source: 'ohm (0)',
    load: 'ohm (none)',
    rails: 'V (12; 9 for a pedal)',
    supply: 'dual or single (dual; single for a pedal)',
    'series-resistors': 'E6 to E192 (E24)',
    'series-capacitors': 'E6 to E192 (E6)',
    'op-amp': 'ideal or an id (jfet-audio-3mhz)',
    pass: 'DOWN[,UP]@HZ..HZ: a limit of the pass band; may be repeated',
    stop: 'DOWN@HZ..HZ: a limit of the stop band; may be repeated',
    ways: 'a passive crossover of 1 to 4 ways; then --cutoff takes one frequency fewer, set apart by commas',
    impedance: 'of the drivers, ohm, or one a way set apart by commas (8)',
    'driver-files': 'WAY=RESPONSE[,IMPEDANCE]: measured files of a way, counted from 1; may be repeated',
  },
  async run(call) {
    const { values } = call;
    const mask = [
      ...valueOr(maskOf('at-most', all(values, 'pass'), deckQuantity)),
      ...valueOr(maskOf('at-least', all(values, 'stop'), deckQuantity)),
    ];
    if (text(values, 'ways') !== undefined) return valueOr(crossoverDesign(crossoverGiven(call, mask)));
    const topology = text(values, 'topology');
    const load = text(values, 'load');
    const planned = text(values, 'alignment') !== undefined || text(values, 'order') !== undefined;
    return valueOr(
      designVerb({
        path:
          topology === undefined || planned
            ? { synth: synthRequest(values) }
            : { topology, form: text(values, 'mode'), wanted: pairs(values, 'set') },
        sourceOhm: quantity(values, 'source', 0),
        loadOhm: load === undefined || load === 'none' ? null : quantity(values, 'load'),
        rails: text(values, 'rails') === undefined ? null : quantity(values, 'rails'),
        supply: text(values, 'supply') ?? null,
        resistors: text(values, 'series-resistors') ?? 'E24',
        capacitors: text(values, 'series-capacitors') ?? 'E6',
        opAmp: text(values, 'op-amp') ?? 'jfet-audio-3mhz',
        mask,
      }),
    );
  },
  files: 0,
  repeated: ['set', 'pass', 'stop', 'driver-files'],
});

/** Numbers with suffixes, set apart by commas. */
const listOf = (values: Values, option: string, fallback: string): number[] =>
  (text(values, option) ?? fallback)
    .split(',')
    .filter((part) => part.trim() !== '')
    .map((part) => quantity({ [option]: part.trim() }, option));

function crossoverGiven({ values, io }: VerbCall, mask: CrossoverGiven['mask']): CrossoverGiven {
  const files = all(values, 'driver-files').flatMap((given) => {
    const [, way, names] = /^(\d)=(.+)$/.exec(given) ?? [];
    if (!names) throw new CommandError(2, `--driver-files '${given}' is not WAY=RESPONSE[,IMPEDANCE]`);
    return names.split(',').map((name) => ({
      way: Number(way) - 1,
      name: name.replace(/^.*[/\\]/, ''),
      text: io.readFile(name),
    }));
  });
  return {
    ways: quantity(values, 'ways'),
    cutoffsHz: listOf(values, 'cutoff', ''),
    order: quantity(values, 'order', 2),
    alignment: text(values, 'alignment') ?? 'linkwitz-riley',
    rippleDb: quantity(values, 'ripple', 0.5),
    impedancesOhm: listOf(values, 'impedance', '8'),
    sourceOhm: quantity(values, 'source', 0),
    resistors: text(values, 'series-resistors') ?? 'E12',
    capacitors: text(values, 'series-capacitors') ?? 'E12',
    files,
    mask,
  };
}

const time = verbOf({
  says: 'what a design does in time, as JSON: a step of 1 V at the source, or a square wave’s rising edge',
  describe: { ...VARIANT, drive: 'step or square (step)', frequency: 'of the square wave, Hz' },
  run: async ({ files, values, io }) =>
    json(
      valueOr(
        timeVerb(
          io.readFile(files[0]),
          text(values, 'variant'),
          text(values, 'drive') ?? 'step',
          text(values, 'frequency') === undefined ? undefined : quantity(values, 'frequency'),
        ),
      ),
    ),
});

const judge = verbOf({
  says: 'every limit of a design’s specification and whether it is met, as JSON',
  describe: VARIANT,
  run: async ({ files, values, io }) =>
    json(valueOr(await judgeVerb(io.readFile(files[0]), text(values, 'variant'), runner))),
});

const desk = verbOf({
  says: 'what the desk says of a design, as JSON',
  describe: VARIANT,
  run: async ({ files, values, io }) =>
    json(
      valueOr(
        await deskVerb(io.readFile(files[0]), text(values, 'variant'), runner, (check) => checkWords(check).text),
      ),
    ),
});

const deck = verbOf({
  says: 'a design as a deck: in driven by Vin, out, every part by its designator',
  describe: { ...VARIANT, values: 'exact or chosen (chosen)', devices: 'ideal or real (real)' },
  run: async ({ files, values, io }) =>
    valueOr(
      deckVerb(
        io.readFile(files[0]),
        text(values, 'variant'),
        text(values, 'values') ?? 'chosen',
        text(values, 'devices') ?? 'real',
      ),
    ),
});

const choose = verbOf({
  says: 'chooses the parts of a design, as JSON { claimedErrorDb, design }',
  describe: {
    ...VARIANT,
    how: 'nearest, together or pairs (together)',
    ...SERIES('the design’s'),
    stage: 'number on the path, from 1 (all)',
  },
  async run({ files, values, io }) {
    const given = {
      how: text(values, 'how') ?? 'together',
      resistors: text(values, 'series-resistors'),
      capacitors: text(values, 'series-capacitors'),
      stage: text(values, 'stage') === undefined ? undefined : quantity(values, 'stage'),
    };
    return json(valueOr(chooseVerb(io.readFile(files[0]), text(values, 'variant'), given, runner.solver)));
  },
});

const match = verbOf({
  says: 'plans that meet every limit, smallest order first, as JSON',
  describe: {
    keep: 'DB@HZ..HZ: at most so far down; one end may be empty; may be repeated',
    lose: 'DB@HZ..HZ: at least so far down; may be repeated',
  },
  async run({ values }) {
    const limits = (['keep', 'lose'] as const).flatMap((name) =>
      all(values, name).flatMap((given) =>
        valueOr(limitsOf(`--${name}`, name === 'keep' ? 'at-most' : 'at-least', given, deckQuantity)),
      ),
    );
    return json(valueOr(await matchVerb(limits, runner)));
  },
  files: 0,
  repeated: ['keep', 'lose'],
});

const render = verbOf({
  says: 'a recording through a design, as a 32-bit float WAV of the same rate and length',
  describe: {
    ...VARIANT,
    in: 'WAV file',
    control: 'NAME=POSITION, 0 to 1; may be repeated',
    'volts-per-full-scale': 'V (1)',
  },
  async run({ files, values, io }) {
    const from = text(values, 'in');
    if (from === undefined) throw new CommandError(2, '--in is missing');
    if (text(values, 'out') === undefined) throw new CommandError(2, '--out is missing');
    const [volts, controls] = [quantity(values, 'volts-per-full-scale', 1), pairs(values, 'control')];
    return valueOr(
      await renderVerb(io.readFile(files[0]), text(values, 'variant'), io.readBytes(from), volts, controls),
    );
  },
  repeated: ['control'],
});

const parts = verbOf({
  says: 'everything to buy, as CSV',
  describe: { ...VARIANT, boards: 'how many (1)' },
  run: async ({ files, values, io }) =>
    valueOr(partsVerb(io.readFile(files[0]), text(values, 'variant'), quantity(values, 'boards', 1))),
});

const board = verbOf({
  says: 'a board’s plan, as JSON; with --out a folder, into it too',
  describe: { ...VARIANT, kind: 'strip', seed: 'number: the plan is the same every time (unused)' },
  async run({ files, values, io }) {
    const plan = json(
      valueOr(boardVerb(io.readFile(files[0]), text(values, 'variant'), text(values, 'kind') ?? 'strip')),
    );
    return { text: plan, files: { 'strip-plan.json': plan } };
  },
});

const trim = verbOf({
  says: 'how a design is trimmed, step by step, as JSON: every target is what an instrument reads',
  describe: VARIANT,
  run: async ({ files, values, io }) =>
    json(valueOr(await trimVerb(io.readFile(files[0]), text(values, 'variant'), runner))),
});

export const DESIGN_VERBS: Readonly<Record<string, Verb>> = {
  design,
  desk,
  deck,
  netlist: deck,
  time,
  judge,
  trim,
  choose,
  match,
  render,
  parts,
  board,
};
