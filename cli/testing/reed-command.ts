import { execFile } from 'node:child_process';
import { build } from 'esbuild';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ROOT = join(__dirname, '../..');

export interface Said {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** A process of Node's in a folder of its own. */
export const ran = (folder: string, node: readonly string[], args: readonly string[]): Promise<Said> =>
  new Promise((resolve) => {
    execFile(
      process.execPath,
      [...node, ...args],
      { cwd: ROOT, env: { ...process.env, INIT_CWD: folder } },
      (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });

/** The command in one file, compiled once and not anew by every call, in a folder where its files may lie. */
export function reedCommand(): {
  readonly folder: string;
  readonly file: (name: string) => string;
  readonly compiled: () => Promise<unknown>;
  readonly reed: (...args: string[]) => Promise<Said>;
} {
  const folder = mkdtempSync(join(tmpdir(), 'reed-'));
  const file = (name: string) => join(folder, name);
  const compiled = () =>
    build({
      entryPoints: [join(ROOT, 'cli/reed.ts')],
      bundle: true,
      platform: 'node',
      format: 'esm',
      outfile: file('reed.mjs'),
      logLevel: 'error',
      // What is written for `require` finds it.
      banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" },
    });
  return { folder, file, compiled, reed: (...args) => ran(folder, [file('reed.mjs')], args) };
}
