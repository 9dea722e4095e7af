import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { CommandError } from './command-error';
import { GENERAL_HELP, helpFor } from './help';
import type { VerbOptions } from './options';
import { VERBS } from './verbs';

/** Paths start where the shell stood, not where npm runs its scripts. */
const from = (path: string): string => resolve(process.env.INIT_CWD ?? process.cwd(), path);

const io = {
  readFile(path: string): string {
    try {
      return readFileSync(path === '-' ? 0 : from(path), 'utf8');
    } catch {
      throw new CommandError(2, `cannot read '${path}': there is no such file, or it may not be read`);
    }
  },
  readBytes(path: string): Uint8Array {
    try {
      return readFileSync(from(path));
    } catch {
      throw new CommandError(2, `cannot read '${path}': there is no such file, or it may not be read`);
    }
  },
  note: (text: string) => process.stderr.write(`${text}\n`),
};

async function main(argv: readonly string[]): Promise<number> {
  const [name, ...rest] = argv;
  if (name === undefined || name === '--help' || name === 'help') {
    process.stdout.write(GENERAL_HELP);
    return name === undefined ? 2 : 0;
  }
  const verb = Object.hasOwn(VERBS, name) ? VERBS[name] : undefined;
  if (!verb) throw new CommandError(2, `there is no verb '${name}'; try --help`);
  if (rest.includes('--help')) {
    process.stdout.write(helpFor(name, verb));
    return 0;
  }
  const options: VerbOptions = { ...verb.options, out: { type: 'string' } };
  let parsed;
  try {
    parsed = parseArgs({ args: negativeValuesJoined(rest), options, allowPositionals: true, strict: true });
  } catch (error) {
    throw new CommandError(2, error instanceof Error ? error.message.split('\n')[0] : String(error));
  }
  if (parsed.positionals.length !== verb.files)
    throw new CommandError(2, `${name} takes ${verb.files === 0 ? 'no file' : 'one file'}; see ${name} --help`);
  const values = parsed.values as Record<string, string | string[] | undefined>;
  const answer = await verb.run({ files: parsed.positionals, values, io });
  const { out } = values;
  if (typeof answer === 'object' && 'files' in answer) {
    if (typeof out === 'string') {
      mkdirSync(from(out), { recursive: true });
      for (const [file, content] of Object.entries(answer.files)) writeFileSync(join(from(out), file), content);
    }
    process.stdout.write(answer.text);
  } else if (typeof out === 'string') writeFileSync(from(out), answer);
  else process.stdout.write(answer);
  return 0;
}

/** `--gain -6` means a value, not an option called 6. */
function negativeValuesJoined(args: readonly string[]): string[] {
  const joined: string[] = [];
  for (const arg of args) {
    const last = joined.at(-1);
    if (/^-[\d.]/.test(arg) && last?.startsWith('--') && !last.includes('='))
      joined[joined.length - 1] = `${last}=${arg}`;
    else joined.push(arg);
  }
  return joined;
}

main(process.argv.slice(2)).then(
  (code) => (process.exitCode = code),
  (error: unknown) => {
    process.stderr.write(
      `${error instanceof CommandError ? error.message : `something went wrong inside: ${String(error)}`}\n`,
    );
    process.exitCode = error instanceof CommandError ? error.exitCode : 70;
  },
);
