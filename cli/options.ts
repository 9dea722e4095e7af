import { JobRunner } from '../src/core/jobs/run-job';
import { csvColumns, decadeGridHz, deckQuantity } from '../src/core/jobs/command-line';
import type { Result } from '../src/core/result';
import { CommandError } from './command-error';

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
  /** Text, or a file's bytes, for standard output or `--out`; or text for standard output and files for the folder that `--out` names. */
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
    if (!column.ok) throw new CommandError(2, `${file}: line ${column.data.line}: '${column.data.text}' is not a positive frequency`);
    return column.value;
  }
  const [from, to, points] = [quantity(values, 'from', 20), quantity(values, 'to', 20e3), quantity(values, 'points-per-decade', 50)];
  if (!(from > 0 && to > from)) throw new CommandError(2, '--from must be positive and below --to');
  if (!(points >= 1 && points <= 100_000)) throw new CommandError(2, '--points-per-decade must lie between 1 and 100000');
  return decadeGridHz(from, to, points);
}

/** The value of a result, or the plain line and exit code its failure calls for. */
export function valueOr<T>(result: Result<T>): T {
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
    case 'no-convergence':
      throw new CommandError(3, data.timeS === undefined ? `no operating point: '${data.node}' did not settle in ${data.iterations} steps` : `at ${data.timeS} s '${data.node}' would not settle`);
    case 'no-such-source':
      throw new CommandError(2, `--source '${data.source}': there is no such source in the deck`);
    case 'too-large':
      throw new CommandError(3, `${data.unknowns} unknowns are too many for this analysis; the most is ${data.most}`);
    case 'too-many-steps':
      throw new CommandError(3, `at ${data.timeS} s the circuit or its sources ask for steps too small to finish`);
    case 'too-many-points':
      throw new CommandError(2, `${data.points} points are too many; the most is ${data.most}`);
    case 'gain-not-reached':
      throw new CommandError(3, `these stages miss the gain asked for by ${Number(data.db).toFixed(2)} dB; try --topology multiple-feedback`);
    case 'wrong-order':
      throw new CommandError(2, `${data.topology} does not build a section of order ${data.order}`);
    case 'not-json':
    case 'not-a-design':
    case 'newer-version':
    case 'broken-design':
    case 'not-a-wav':
    case 'wav-format':
    case 'empty-file':
    case 'no-such-variant':
    case 'no-such-topology':
    case 'no-such-form':
    case 'no-such-parameter':
    case 'no-such-control':
    case 'no-mask':
    case 'mask-crossed':
      throw new CommandError(2, inputWords(code, data));
    case 'not-in-a-deck':
      throw new CommandError(3, `a deck cannot say what '${data.element}' is (${data.kind}); nothing was written`);
    case 'sings':
      throw new CommandError(3, `it sings at ${Number(data.freqHz).toPrecision(5)} Hz by itself: what is asked has no answer`);
    case 'did-not-settle':
      throw new CommandError(3, `at ${Number(data.timeS).toPrecision(4)} s the circuit would not settle; lower the level or the resonance`);
    default:
      throw new CommandError(3, `no solution: ${code} ${JSON.stringify(data)}`);
  }
}

export const GRID_HELP = { from: 'first frequency, Hz (20)', to: 'last frequency, Hz (20k)', 'points-per-decade': 'how many points a decade (50)', grid: 'take frequencies from the first column of a CSV file' };

/** What is wrong with an input, in one line. */
function inputWords(code: string, data: Readonly<Record<string, unknown>>): string {
  switch (code) {
    case 'not-json':
      return `this does not read as JSON: ${String(data.message)}`;
    case 'not-a-design':
      return 'this is JSON, but not a design of this program';
    case 'newer-version':
      return `this design was written by a newer program (version ${String(data.version)}; this one knows ${String(data.known)})`;
    case 'broken-design':
      return `this design is damaged: ${(data.issues as readonly string[]).join('; ')}`;
    case 'not-a-wav':
      return 'this is not a WAV file';
    case 'wav-format':
      return `WAV of format ${String(data.format)} with ${String(data.bits)} bits is not read; 16, 24 or 32 bits, or floats, are`;
    case 'empty-file':
      return 'the file holds no samples';
    case 'no-such-variant':
      return `there is no variant '${String(data.variant)}'${data.variants ? `; there are: ${String(data.variants)}` : ''}`;
    case 'no-such-topology':
      return `there is no circuit '${String(data.topology)}'; see: reed topologies`;
    case 'no-such-form':
      return `--mode '${String(data.form)}' is not on offer; choose from: ${String(data.forms)}`;
    case 'no-such-parameter':
      return `--set ${String(data.name)}: this circuit is not asked for that; it is for: ${String(data.names)}`;
    case 'no-such-control':
      return `--control '${String(data.control)}': there is no such control; there are: ${String(data.controls)}`;
    case 'no-mask':
      return `limits are missing (${String(data.why)}): something is to be kept, and something lost`;
    default:
      return 'something is to be kept where it is to be lost';
  }
}
