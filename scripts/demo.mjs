import { createServer } from 'node:net';
import { ensureBuild, ensurePackages } from './setup.mjs';

/** Installs, builds and starts the application with its demo designs, and prints one address. */
ensurePackages();
await ensureBuild();

const port = await freePort(Number(process.env.PORT ?? 4173));
process.env.JAUNTY_REED_DEMO = '1';
// Only now: on a fresh machine the framework was not there before.
const { serve } = await import('./serve.mjs');
const server = await serve(port);
console.log(`\nJaunty Reed is on  http://127.0.0.1:${port}/\n(Ctrl + C ends it; designs stay in your browser.)`);
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    server.close();
    process.exit(0);
  });

function freePort(wanted) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error) => (error.code === 'EADDRINUSE' ? resolve(freePort(wanted + 1)) : reject(error)));
    probe.listen(wanted, '127.0.0.1', () => probe.close(() => resolve(wanted)));
  });
}
