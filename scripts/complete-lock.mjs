import { readFileSync, writeFileSync } from 'node:fs';

/**
 * Adds the optional packages of other platforms that the registry did not offer when the lock file was written. `npm
 * ci` refuses a lock file that lacks them, though it would never install them here. Run it after `npm install`.
 */
const path = new URL('../package-lock.json', import.meta.url);
const lock = JSON.parse(readFileSync(path, 'utf8'));
const SYSTEMS = ['darwin', 'linux', 'win32', 'android', 'freebsd', 'openbsd', 'netbsd', 'sunos', 'aix', 'openharmony'];
const PROCESSORS = {
  'arm-': 'arm',
  arm64: 'arm64',
  x64: 'x64',
  ia32: 'ia32',
  ppc64: 'ppc64',
  s390x: 's390x',
  riscv64: 'riscv64',
  loong64: 'loong64',
  mips64el: 'mips64el',
};
let added = 0;
for (const [owner, entry] of Object.entries({ ...lock.packages })) {
  for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
    if (lock.packages[`node_modules/${name}`] || lock.packages[`${owner}/node_modules/${name}`]) continue;
    const system = SYSTEMS.find((s) => name.includes(s));
    const processor = Object.entries(PROCESSORS).find(([word]) => name.includes(word))?.[1];
    if (!system) throw new Error(`${name}: no platform in its name; add it by hand`);
    lock.packages[`node_modules/${name}`] = {
      version,
      ...(processor ? { cpu: [processor] } : {}),
      ...(entry.dev ? { dev: true } : {}),
      optional: true,
      os: [system],
    };
    added++;
  }
}
lock.packages = Object.fromEntries(Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1)));
writeFileSync(path, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${added} packages of other platforms added`);
