import { ensureBuild, ensureChromium, ensurePackages, root } from './setup.mjs';
import { spawnSync } from 'node:child_process';

/** Prints the figures that depend on the machine; nothing is judged by them. */
ensurePackages();
ensureChromium();
ensureBuild();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/run.ts', ...process.argv.slice(2)], { cwd: root, stdio: 'inherit' });
process.exit(status ?? 1);
