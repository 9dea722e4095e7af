import { defineConfig } from '@playwright/test';
import base from './playwright.config';

/** `npm run pictures`: one current picture of each main view, from the demo designs, into docs/screenshots. */
export default defineConfig({
  ...base,
  projects: [
    { name: 'shelf', testMatch: 'workshop.setup.ts' },
    { name: 'pictures', testMatch: 'pictures.ts', dependencies: ['shelf'] },
  ],
  fullyParallel: false,
  workers: 1,
  reporter: 'list',
});
