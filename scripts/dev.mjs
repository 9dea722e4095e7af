import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { watchWorkers } from './bundle.mjs';
import { ensurePackages, root } from './setup.mjs';

/** The application while it is being changed: pages and workers are made anew as their sources change. */
ensurePackages();
await watchWorkers();
const next = spawn(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'dev', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
next.on('exit', (status) => process.exit(status ?? 1));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => next.kill(signal));
