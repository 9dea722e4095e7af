import { execFile } from 'node:child_process';
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

/** The command as it is started, in a folder where its files may lie. */
export function reedCommand(): {
  readonly folder: string;
  readonly file: (name: string) => string;
  readonly reed: (...args: string[]) => Promise<Said>;
} {
  const folder = mkdtempSync(join(tmpdir(), 'reed-'));
  const file = (name: string) => join(folder, name);
  return { folder, file, reed: (...args) => ran(folder, ['scripts/reed.mjs'], args) };
}
