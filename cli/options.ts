import { JobRunner } from '../src/core/jobs/run-job';
import { csvColumns, decadeGridHz, deckQuantity } from '../src/core/jobs/shell/command-line';
import type { Result } from '../src/core/result';
import { CommandError } from './command-error';
import { FAILURE_WORDS } from './failure-words';

export type VerbOptions = Record<string, { type: 'string'; multiple?: boolean }>;

export interface VerbCall {
  readonly files: readonly string[];
  readonly values: Readonly<Record<string, string | string[] | undefined>>;
  readonly io: { readFile(path: string): string; readBytes(path: string): Uint8Array; note(text: string): void };
}

export interface Verb {
  readonly says: string;
  readonly files: 0 | 1;
  readonly options: VerbOptions;
  readonly describe: Readonly<Record<string, string>>;
  /**
   * Text, or a file's bytes, for standard output or `--out`; or text for standard output and files for the folder that
   * `--out` names.
   */
  run(call: VerbCall): Promise<string | Uint8Array | FilesAnswer>;
}

export interface FilesAnswer {
  readonly text: string;
  readonly files: Readonly<Record<string, string>>;
}

export const runner = new JobRunner();

export function optionsOf(describe: Readonly<Record<string, string>>): VerbOptions {
  return Object.fromEntries(Object.keys(describe).map((name) => [name, { type: 'string' as const }]));
}

export function text(values: VerbCall['values'], name: string): string | undefined {
  const value = values[name];
  return typeof value === 'string' ? value : undefined;
}

export function quantity(values: VerbCall['values'], name: string, fallback?: number): number {
  const given = text(values, name);
  if (given === undefined) {
    if (fallback !== undefined) return fallback;
    throw new CommandError(2, `--${name} is missing`);
  }
  const value = deckQuantity(given);
  if (value === null) throw new CommandError(2, `--${name} '${given}' is not a number`);
  return value;
}

export function gridOf({ values, io }: VerbCall): Float64Array {
  const file = text(values, 'grid');
  if (file !== undefined) {
    const column = csvColumns(io.readFile(file));
    if (!column.ok)
      throw new CommandError(2, `${file}: line ${column.data.line}: '${column.data.text}' is not a positive frequency`);
    return column.value;
  }
  const [from, to, points] = [
    quantity(values, 'from', 20),
    quantity(values, 'to', 20e3),
    quantity(values, 'points-per-decade', 50),
  ];
  if (!(from > 0 && to > from)) throw new CommandError(2, '--from must be positive and below --to');
  if (!(points >= 1 && points <= 100_000))
    throw new CommandError(2, '--points-per-decade must lie between 1 and 100000');
  return decadeGridHz(from, to, points);
}

/** The value of a result, or the plain line and exit code its failure calls for. */
export function valueOr<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  const { code, data } = result;
  const words = FAILURE_WORDS[code];
  if (!words) throw new CommandError(3, `no solution: ${code} ${JSON.stringify(data)}`);
  throw new CommandError(words.exitCode, words.say(data));
}

export const GRID_HELP = {
  from: 'first frequency, Hz (20)',
  to: 'last frequency, Hz (20k)',
  'points-per-decade': 'how many points a decade (50)',
  grid: 'take frequencies from the first column of a CSV file',
};
