import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { root } from './setup.mjs';

/** Every file under a folder, as paths of the address. */
function filesUnder(folder, at) {
  return readdirSync(folder, { recursive: true })
    .map((name) => join(folder, String(name)))
    .filter((path) => statSync(path).isFile())
    .map((path) => `${at}/${relative(folder, path).split(sep).join('/')}`);
}

/** Writes `public/service-worker.js` for the build that stands: run after every build. */
export function writeServiceWorker() {
  const version = readFileSync(join(root, '.next', 'BUILD_ID'), 'utf8').trim();
  const files = [
    ...filesUnder(join(root, '.next', 'static'), '/_next/static').filter((path) => !path.endsWith('.map')),
    ...filesUnder(join(root, 'public', 'workers'), '/workers').filter((path) => path.endsWith('.js')),
  ];
  const source = readFileSync(join(root, 'scripts', 'service-worker.js'), 'utf8')
    .replace("'@version@'", JSON.stringify(version))
    .replace("['@files@']", JSON.stringify(files.sort()));
  writeFileSync(join(root, 'public', 'service-worker.js'), source);
}

if (process.argv[1]?.endsWith('offline.mjs')) writeServiceWorker();
