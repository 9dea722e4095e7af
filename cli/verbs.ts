import { CommandError } from './command-error';
import { DECK_VERBS } from './deck-verbs';
import { DESIGN_VERBS } from './design-verbs';
import { MEASURE_VERBS } from './measure-verbs';
import { cutoffAt, SYNTH_HELP, synthRequest } from './synth-options';
import { optionsOf, quantity, runner, text, valueOr, type Verb, type VerbCall } from './options';

const synth: Verb = {
  says: 'designs a filter and writes its deck: input node in driven by Vin, output node out',
  files: 0,
  describe: {
    ...SYNTH_HELP,
    topology: 'see: reed topologies',
    series: 'exact, E6, E12, E24, E48, E96 or E192 (exact)',
    'op-amp': 'ideal or an id (ideal)',
  },
  get options() {
    return optionsOf(this.describe);
  },
  async run({ values }) {
    return valueOr(await runner.run<'synth'>(synthRequest(values))).deck;
  },
};

/** Numbers with suffixes, set apart by commas. */
function quantities(values: VerbCall['values'], name: string, fallback?: string): number[] {
  const given = text(values, name) ?? fallback;
  if (given === undefined) throw new CommandError(2, `--${name} is missing`);
  return given.split(',').map((part) => quantity({ [name]: part.trim() }, name));
}

const crossover: Verb = {
  says: 'designs a passive parallel crossover and writes its deck: loads at low, mid and high',
  files: 0,
  describe: {
    ways: '2 or 3 (2)',
    cutoff: 'Hz, or two of them set apart by a comma',
    alignment: 'as for synth (linkwitz-riley)',
    order: 'of each edge',
    'cutoff-at': '-3db, or own: the alignment’s own mark',
    impedance: 'load, ohm, or one for each way (8)',
    ripple: 'dB, for chebyshev (0.5)',
    series: 'exact, E6, E12, E24, E48, E96 or E192 (exact)',
  },
  get options() {
    return optionsOf(this.describe);
  },
  async run({ values }) {
    const answer = valueOr(
      await runner.run<'crossover'>({
        kind: 'crossover',
        ways: quantity(values, 'ways', 2),
        cutoffsHz: quantities(values, 'cutoff'),
        alignment: text(values, 'alignment') ?? 'linkwitz-riley',
        order: quantity(values, 'order'),
        cutoffAt: cutoffAt(values),
        impedancesOhm: quantities(values, 'impedance', '8'),
        rippleDb: quantity(values, 'ripple', 0.5),
        series: text(values, 'series') ?? 'exact',
      }),
    );
    return answer.deck;
  },
};

const topologies: Verb = {
  says: 'JSON list of the circuits on offer',
  files: 0,
  describe: {},
  options: {},
  async run() {
    return `${JSON.stringify(valueOr(await runner.run<'topologies'>({ kind: 'topologies' })), null, 2)}\n`;
  },
};

export const VERBS: Readonly<Record<string, Verb>> = {
  ...DECK_VERBS,
  ...DESIGN_VERBS,
  ...MEASURE_VERBS,
  synth,
  crossover,
  topologies,
};
