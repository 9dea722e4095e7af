import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { check } from './check.mjs';
import { ensureBuild, ensureChromium, ensurePackages, root, tool } from './setup.mjs';

/**
 * Everything: the quick part, the build, and the journeys in the browser. Sets up what is missing on a fresh machine.
 */
ensurePackages();
ensureChromium();
mkdirSync(join(root, 'test-results'), { recursive: true });
const unitReport = join(root, 'test-results', 'unit.json');
check(['--json', '--outputFile', unitReport]);
console.log('\n— build');
await ensureBuild();
console.log('\n— journeys');
// Playwright clears its results folder, so the unit figures are read first.
const unit = JSON.parse(readFileSync(unitReport, 'utf8'));
const { status } = tool('@playwright/test/cli.js', ['test']);
const { stats } = JSON.parse(readFileSync(join(root, 'test-results', 'journeys.json'), 'utf8'));
const passed = unit.numPassedTests + stats.expected + stats.flaky;
const failed = unit.numFailedTests + stats.unexpected;
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(status ?? 1);
