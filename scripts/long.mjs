import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, cpSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild, ensureChromium, ensurePackages, root, run, tool } from './setup.mjs';

/**
 * What takes too long for every run: all unit tests with all their cases, two hundred boards with a hidden fault among
 * them; the browser killed three hundred times in mid-edit; switches, tabs, number fields and a day's work by the
 * hundred; the standalone folder by itself. Ends with a table: test, tried, failed.
 */
const TALLY = join(root, 'test-results', 'attacks.csv');
const PORT = '4320';

ensurePackages();
ensureChromium();
await ensureBuild();
process.env.KILLS ??= '300';
process.env.FAULT_BUILDS ??= '200';
process.env.JAUNTY_REED_LONG = '1';

const journeys = (words, port) => {
  if (port) process.env.JOURNEYS_PORT = port;
  const status = tool('@playwright/test/cli.js', ['test', 'e2e/workshop.setup.ts', ...words]).status ?? 1;
  delete process.env.JOURNEYS_PORT;
  return status;
};
const only = ['--project=shelf', '--project=journeys'];

/** The folder that serves by itself, moved to where there are no packages, opened to a first curve. */
async function standalone() {
  run(process.execPath, ['scripts/standalone.mjs']);
  const place = mkdtempSync(join(tmpdir(), 'reed-standalone-'));
  cpSync(join(root, '.next', 'standalone'), place, { recursive: true });
  const server = spawn(process.execPath, ['scripts/serve.mjs', PORT], { cwd: place, stdio: 'inherit' });
  try {
    return journeys(['e2e/first-curve.spec.ts', 'e2e/offline.spec.ts', ...only], PORT);
  } finally {
    server.kill();
    rmSync(place, { recursive: true, force: true });
  }
}

const steps = [
  [
    'unit tests, all cases',
    () => tool('jest/bin/jest.js', ['--no-watchman', '--silent', '--testTimeout', '7200000']).status ?? 1,
  ],
  ['kills and attacks', () => journeys(['e2e/kills.spec.ts', 'e2e/attacks.spec.ts', ...only])],
  ['standalone folder', standalone],
];
rmSync(TALLY, { force: true });
const rows = [];
let tallies = '';
for (const [name, run] of steps) {
  rows.push([name, 1, (await run()) === 0 ? 0 : 1]);
  // What runs the journeys clears their results first.
  if (existsSync(TALLY)) tallies += readFileSync(TALLY, 'utf8');
}
for (const line of tallies.trim().split('\n').filter(Boolean)) rows.push(line.split(','));
console.log(`${'test'.padEnd(60)}   tried  failed`);
for (const [name, tried, failed] of rows)
  console.log(`${name.padEnd(60)} ${String(tried).padStart(7)} ${String(failed).padStart(7)}`);
process.exit(rows.some(([, , failed]) => Number(failed) > 0) ? 1 : 0);
