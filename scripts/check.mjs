import { spawnSync } from 'node:child_process';
import { ensurePackages, root, tool } from './setup.mjs';

/** How long the registry may take to answer, ms. */
const PATIENCE_MS = 20_000;

/**
 * Whether packages that the application ships have known weaknesses of a high grade, as far as the registry answers:
 * where it does not, that is said, and nothing fails.
 */
function checkDependencies() {
  console.log('\n— known weaknesses of dependencies');
  const { stdout = '' } = spawnSync('npm', ['audit', '--omit=dev', '--json', '--loglevel=silent'], {
    cwd: root,
    encoding: 'utf8',
    timeout: PATIENCE_MS,
  });
  const answer = read(stdout);
  if (!answer?.metadata) {
    console.log(`Not checked: the registry does not answer (${answer?.message ?? 'no answer in time'}).`);
    return;
  }
  const grave = Object.values(answer.vulnerabilities).filter(({ severity }) => /high|critical/.test(severity));
  console.log(`${answer.metadata.dependencies.prod} packages checked, ${grave.length} with a grave known weakness.`);
  for (const { name, severity, range } of grave) console.error(`${name} ${range}: ${severity}`);
  if (grave.length > 0) process.exit(1);
}

function read(text) {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** The quick part: types, format, lint, boundaries, unit tests. */
export function check(jestArguments = []) {
  const steps = [
    ['types', 'typescript/bin/tsc', ['--noEmit', '-p', 'tsconfig.json']],
    ['types of the core, on its own', 'typescript/bin/tsc', ['--noEmit', '-p', 'src/core/tsconfig.json']],
    ['format', 'prettier/bin/prettier.cjs', ['--log-level', 'warn', '--check', '.']],
    ['lint', 'eslint/bin/eslint.js', ['.', '--max-warnings', '0']],
    [
      'boundaries',
      'dependency-cruiser/bin/dependency-cruise.mjs',
      ['--config', '.dependency-cruiser.cjs', 'src', 'cli'],
    ],
    ['unused code', 'knip/bin/knip.js', ['--no-progress', '--no-config-hints']],
    ['unit tests', 'jest/bin/jest.js', ['--silent', '--maxWorkers=100%', ...jestArguments]],
  ];
  for (const [name, file, args] of steps) {
    console.log(`\n— ${name}`);
    const { status } = tool(file, args);
    if (status !== 0) {
      console.error(`${name} failed.`);
      process.exit(status ?? 1);
    }
  }
}

if (process.argv[1]?.endsWith('check.mjs')) {
  ensurePackages();
  checkDependencies();
  check();
}
