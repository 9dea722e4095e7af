import { ensureBuild, ensureChromium, ensurePackages, root } from './setup.mjs';
import { spawnSync } from 'node:child_process';

/** Prints the figures that depend on the machine; nothing is judged by them. */
ensurePackages();
// The goals of the engine need neither a build nor a browser; the desk's own figures do.
const goalsOnly = process.argv.includes('--json') || process.argv.includes('--goals');
if (!goalsOnly) {
  ensureChromium();
  await ensureBuild();
}
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/run.ts', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
