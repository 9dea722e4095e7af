import { ensureBuild, ensureChromium, ensurePackages, tool } from './setup.mjs';

/** What takes too long for every run: the browser killed two hundred times in mid-edit. */
ensurePackages();
ensureChromium();
ensureBuild();
process.env.KILLS ??= '200';
process.exit(tool('@playwright/test/cli.js', ['test', 'e2e/kills.spec.ts']).status ?? 1);
