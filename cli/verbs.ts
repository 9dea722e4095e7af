import { JobRunner } from '../src/core/jobs/run-job';
import { csvColumns, decadeGridHz, deckQuantity, responseCsv } from '../src/core/jobs/command-line';
import type { Result } from '../src/core/result';
import { CommandError } from './command-error';

export type VerbOptions = Record<string, { type: 'string'; multiple?: boolean }>;

interface VerbCall {
  readonly files: readonly string[];
  readonly values: Readonly<Record<string, string | string[] | undefined>>;
  readonly io: { readFile(path: string): string; note(text: string): void };
}

export interface Verb {
  readonly says: string;
  readonly files: 0 | 1;
  readonly options: VerbOptions;
  readonly describe: Readonly<Record<string, string>>;
  run(call: VerbCall): Promise<string>;
}

const runner = new JobRunner();

function optionsOf(describe: Readonly<Record<string, string>>): VerbOptions {
  return Object.fromEntries(Object.keys(describe).map((name) => [name, { type: 'string' as const }]));
}

function text(values: VerbCall['values'], name: string): string | undefined {
  const value = values[name];
  return typeof value === 'string' ? value : undefined;
}

function quantity(values: VerbCall['values'], name: string, fallback?: number): number {
  const given = text(values, name);
  if (given === undefined) {
    if (fallback !== undefined) return fallback;
    throw new CommandError(2, `--${name} is missing`);
  }
  const value = deckQuantity(given);
  if (value === null) throw new CommandError(2, `--${name} '${given}' is not a number`);
  return value;
}

function gridOf({ values, io }: VerbCall): Float64Array {
  const file = text(values, 'grid');
  if (file !== undefined) {
    const column = csvColumns(io.readFile(file));
    if (!column.ok) throw new CommandError(2, `${file}: line ${column.data.line}: '${column.data.text}' is not a positive frequency`);
    return column.value;
  }
  const [from, to, points] = [quantity(values, 'from', 20), quantity(values, 'to', 20e3), quantity(values, 'points-per-decade', 50)];
  if (!(from > 0 && to > from)) throw new CommandError(2, '--from must be positive and below --to');
  if (!(points >= 1 && points <= 100_000)) throw new CommandError(2, '--points-per-decade must lie between 1 and 100000');
  return decadeGridHz(from, to, points);
}

/** The value of a result, or the plain line and exit code its failure calls for. */
function valueOr<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  const { code, data } = result;
  switch (code) {
    case 'deck':
      throw new CommandError(2, Number(data.line) > 0 ? `line ${data.line}: ${data.message}` : String(data.message));
    case 'bad-option':
      throw new CommandError(2, `${data.option} '${data.value}' is not on offer; choose from: ${data.allowed}`);
    case 'no-such-probe':
      throw new CommandError(2, `--probe '${data.probe}': there is no such node or source in the deck`);
    case 'no-unique-solution':
      throw new CommandError(3, `the circuit has no single solution: '${data.unknown}' is not determined`);
    case 'gain-not-reached':
      throw new CommandError(3, `these stages miss the gain asked for by ${Number(data.db).toFixed(2)} dB; try --topology multiple-feedback`);
    case 'wrong-order':
      throw new CommandError(2, `${data.topology} does not build a section of order ${data.order}`);
    default:
      throw new CommandError(3, `no solution: ${code} ${JSON.stringify(data)}`);
  }
}

const GRID_HELP = { from: 'first frequency, Hz (20)', to: 'last frequency, Hz (20k)', 'points-per-decade': 'how many points a decade (50)', grid: 'take frequencies from the first column of a CSV file' };

const response: Verb = {
  says: 'AC response of a deck, as CSV frequency_hz,magnitude_db,phase_deg',
  files: 1,
  describe: { probe: 'node, v(a,b) or i(Vname) (out)', ...GRID_HELP },
  get options() {
    return optionsOf(this.describe);
  },
  async run(call) {
    const freqHz = gridOf(call);
    const answer = valueOr(await runner.run<'response'>({ kind: 'response', deck: call.io.readFile(call.files[0]), probe: text(call.values, 'probe') ?? 'out', freqHz }));
    answer.notes.forEach(call.io.note);
    return responseCsv(freqHz, answer.levelDb, answer.phaseDeg);
  },
};

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

export const VERBS: Readonly<Record<string, Verb>> = { response, synth, topologies };
