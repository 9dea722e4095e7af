import { CommandError } from './command-error';
import { DECK_VERBS } from './deck-verbs';
import { optionsOf, quantity, runner, text, valueOr, type Verb } from './options';

const synth: Verb = {
  says: 'designs a filter and writes its deck: input node in driven by Vin, output node out',
  files: 0,
  describe: {
    response: 'lowpass or highpass', alignment: 'butterworth, bessel, chebyshev, linkwitz-riley or critically-damped', order: '1 to 8', cutoff: 'Hz', 'cutoff-at': '-3db, or own: the alignment’s own mark',
    ripple: 'dB, for chebyshev (0.5)', topology: 'see: reed topologies', gain: 'pass-band peak gain, dB (0)', series: 'exact, E6, E12, E24, E48, E96 or E192 (exact)', 'op-amp': 'ideal or an id (ideal)',
  },
  get options() {
    return optionsOf(this.describe);
  },
  async run({ values }) {
    const at = text(values, 'cutoff-at')?.toLowerCase();
    if (at !== undefined && at !== '-3db' && at !== 'own') throw new CommandError(2, `--cutoff-at '${at}' is not on offer; choose from: -3db, own`);
    const answer = valueOr(
      await runner.run<'synth'>({
        kind: 'synth', response: text(values, 'response') ?? 'lowpass', alignment: text(values, 'alignment') ?? 'butterworth', order: quantity(values, 'order'), cutoffHz: quantity(values, 'cutoff'),
        cutoffAt: at, rippleDb: quantity(values, 'ripple', 0.5), topology: text(values, 'topology'), gainDb: quantity(values, 'gain', 0), series: text(values, 'series') ?? 'exact', opAmp: text(values, 'op-amp') ?? 'ideal',
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

export const VERBS: Readonly<Record<string, Verb>> = { ...DECK_VERBS, synth, topologies };
