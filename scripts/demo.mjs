import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, root } from './setup.mjs';

/** Installs, builds and starts the application with its demo designs, and prints one address. */
ensurePackages();
ensureBuild();

const port = await freePort(Number(process.env.PORT ?? 4173));
const server = spawn(
  process.execPath,
  [join(root, 'node_modules/next/dist/bin/next'), 'start', '--hostname', '127.0.0.1', '--port', String(port)],
  {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, JAUNTY_REED_DEMO: '1', NEXT_TELEMETRY_DISABLED: '1' },
  },
);
let said = false;
server.stdout.on('data', (chunk) => {
  if (said || !/ready/i.test(String(chunk))) return;
  said = true;
  console.log(`\nJaunty Reed is on  http://127.0.0.1:${port}/\n(Ctrl + C ends it; designs stay in your browser.)`);
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

function freePort(wanted) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error) => (error.code === 'EADDRINUSE' ? resolve(freePort(wanted + 1)) : reject(error)));
    probe.listen(wanted, '127.0.0.1', () => probe.close(() => resolve(wanted)));
  });
}
