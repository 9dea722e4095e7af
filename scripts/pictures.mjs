import { ensureBuild, ensureChromium, ensurePackages, tool } from './setup.mjs';

/** `npm run pictures`: one current picture of each main view, of the application as it stands. */
ensurePackages();
ensureChromium();
await ensureBuild();
const { status } = tool('@playwright/test/cli.js', ['test', '--config', 'pictures.config.ts']);
process.exit(status ?? 1);
