import { cpSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, ensurePackages, root } from './setup.mjs';

/**
 * Puts together a folder that serves the application by itself, on a machine with Node and nothing else: `npm run
 * standalone`, then `node scripts/serve.mjs [port]` in it.
 */
const ALONE = join(root, '.next', 'standalone');
ensurePackages();
process.env.STANDALONE = '1';
rmSync(ALONE, { recursive: true, force: true });
await build();
cpSync(join(root, '.next', 'static'), join(ALONE, '.next', 'static'), { recursive: true });
cpSync(join(root, 'public'), join(ALONE, 'public'), { recursive: true });
cpSync(join(root, 'scripts', 'serve.mjs'), join(ALONE, 'scripts', 'serve.mjs'));
console.log(`It stands in ${ALONE}: there, node scripts/serve.mjs 3000`);
