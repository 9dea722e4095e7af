import { mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { root } from './setup.mjs';

/**
 * What the bundler makes into one file each: the workers of the browser, so that a worker is there after one request,
 * and the command of the shell.
 */
const WORKERS = join(root, 'public', 'workers');
const NAMES = ['job', 'live-sound', 'reading'];
/** Where `next.config.ts` reads the workers' addresses. */
const ADDRESSES = join(WORKERS, 'addresses.json');

const workerOptions = (names) => ({
  absWorkingDir: root,
  entryPoints: Object.fromEntries(NAMES.map((name) => [name, `src/workers/${name}.worker.ts`])),
  outdir: WORKERS,
  entryNames: names,
  bundle: true,
  format: 'esm',
  target: 'es2022',
  logLevel: 'warning',
  metafile: true,
});

function writeAddresses({ outputs }) {
  const files = Object.entries(outputs).flatMap(([file, { entryPoint }]) =>
    entryPoint ? [[basename(entryPoint, '.worker.ts'), `/workers/${basename(file)}`]] : [],
  );
  writeFileSync(ADDRESSES, `${JSON.stringify(Object.fromEntries(files), null, 2)}\n`);
}

/** The workers of a build, each under a name of its content: it never changes under that name. */
export async function bundleWorkers() {
  const { build } = await import('esbuild');
  rmSync(WORKERS, { recursive: true, force: true });
  const { metafile } = await build({ ...workerOptions('[name]-[hash]'), minify: true });
  writeAddresses(metafile);
}

/** The same while developing: under their plain names, made anew whenever a source changes. */
export async function watchWorkers() {
  const { context } = await import('esbuild');
  rmSync(WORKERS, { recursive: true, force: true });
  const watching = await context(workerOptions('[name]'));
  writeAddresses((await watching.rebuild()).metafile);
  await watching.watch();
}

const SHELL = join(root, 'node_modules', '.cache', 'jaunty-reed', 'reed.mjs');
const MADE_FROM = `${SHELL}.json`;
const stateOf = (file) => {
  const { mtimeMs, size } = statSync(join(root, file));
  return `${mtimeMs} ${size}`;
};

/** Whether the command was made from the sources as they stand. */
function isUpToDate() {
  try {
    return Object.entries(JSON.parse(readFileSync(MADE_FROM, 'utf8'))).every(
      ([file, state]) => stateOf(file) === state,
    );
  } catch {
    return false;
  }
}

/** The command of the shell in one file, made anew where a source is another than it was made from; its path. */
export async function shellCommand() {
  if (isUpToDate()) return SHELL;
  const { build } = await import('esbuild');
  const begun = Date.now();
  const { outputFiles, metafile } = await build({
    absWorkingDir: root,
    entryPoints: ['cli/reed.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'warning',
    metafile: true,
    write: false,
    outfile: SHELL,
    // What is written for `require` finds it.
    banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" },
  });
  mkdirSync(dirname(SHELL), { recursive: true });
  const sources = [...Object.keys(metafile.inputs), 'scripts/bundle.mjs'];
  // One that was changed meanwhile may have been read before: it is made anew next time.
  const made = sources.map((file) => [file, statSync(join(root, file)).mtimeMs < begun ? stateOf(file) : 'changed']);
  // Whole or not at all: others may be starting it.
  for (const [file, content] of [
    [SHELL, outputFiles[0].contents],
    [MADE_FROM, JSON.stringify(Object.fromEntries(made))],
  ]) {
    const fresh = `${file}.${process.pid}`;
    writeFileSync(fresh, content);
    renameSync(fresh, file);
  }
  return SHELL;
}
