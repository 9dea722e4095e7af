import { ensureBuild, ensureChromium, ensurePackages, tool } from './setup.mjs';

/**
 * What takes too long for every run: all unit tests with all their cases, two hundred boards with a hidden fault among
 * them; the browser killed as often in mid-edit.
 */
ensurePackages();
ensureChromium();
await ensureBuild();
process.env.KILLS ??= '200';
process.env.FAULT_BUILDS ??= '200';
process.env.JAUNTY_REED_LONG = '1';
const unit = tool('jest/bin/jest.js', ['--no-watchman', '--silent', '--testTimeout', '1800000']).status ?? 1;
if (unit !== 0) process.exit(unit);
process.exit(tool('@playwright/test/cli.js', ['test', 'e2e/kills.spec.ts']).status ?? 1);
