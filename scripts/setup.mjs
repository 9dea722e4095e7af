import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));
export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';
process.env.NEXT_TELEMETRY_DISABLED = '1';

const fingerprint = (path) =>
  createHash('sha256')
    .update(readFileSync(join(root, path)))
    .digest('hex');

/** Installs the packages of the lock file when they are not there, or are those of another lock file. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules', '.lock-fingerprint');
  const wanted = fingerprint('package-lock.json');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  console.error('Installing packages (once; about two minutes) …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(stamp, wanted);
}

/** The browser that the journeys are driven in: Debian's, installed when it is missing and this is root. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  if (process.getuid?.() !== 0) {
    console.error(
      `No browser at ${CHROMIUM}. Install Debian's package chromium ` +
        '(apt-get install chromium), or set CHROMIUM to one.',
    );
    process.exit(1);
  }
  console.error('Installing Debian’s Chromium (once) …');
  run('apt-get', ['update', '-qq']);
  run('apt-get', ['install', '-y', '-qq', 'chromium']);
}

export function run(command, args, options = {}) {
  // What set-up has to say goes to standard error: standard output belongs to the command it is for.
  execFileSync(command, args, { cwd: root, stdio: ['inherit', 2, 'inherit'], ...options });
}

/** Runs one of the project's own tools by its file, so that its process is ours to end. */
export function tool(file, args, options = {}) {
  return spawnSync(process.execPath, [join(root, 'node_modules', file), ...args], {
    cwd: root,
    stdio: 'inherit',
    ...options,
  });
}

/** Builds the application unless the sources are those of the build that stands. */
export async function ensureBuild() {
  const files = ['.next/BUILD_ID', 'public/service-worker.js', 'public/workers/addresses.json'];
  const made = files.every((file) => existsSync(join(root, file)));
  if (!made || newerThanBuild() !== '') await build();
}

function newerThanBuild() {
  return execFileSync(
    'find',
    [
      ...['src', 'public', 'scripts/service-worker.js', 'scripts/bundle.mjs'],
      ...['next.config.ts', 'package-lock.json', '-type', 'f'],
      // It is written after every build.
      ...['-not', '-path', 'public/service-worker.js', '-newer', '.next/BUILD_ID'],
    ],
    { cwd: root, encoding: 'utf8' },
  ).trim();
}

export async function build() {
  const { bundleWorkers } = await import('./bundle.mjs');
  await bundleWorkers();
  const { status } = tool('next/dist/bin/next', ['build']);
  if (status !== 0) process.exit(status ?? 1);
  const { status: written } = spawnSync(process.execPath, [join(root, 'scripts', 'offline.mjs')], { stdio: 'inherit' });
  if (written !== 0) process.exit(written ?? 1);
}
