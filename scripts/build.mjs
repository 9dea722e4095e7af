import { build, ensurePackages } from './setup.mjs';

/** Builds the application: workers, pages, and what keeps them in the browser. */
ensurePackages();
await build();
