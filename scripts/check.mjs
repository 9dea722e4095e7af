import { ensurePackages, tool } from './setup.mjs';

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
  check();
}
