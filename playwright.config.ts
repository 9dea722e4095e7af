import { defineConfig } from '@playwright/test';

/** Milliseconds. */
const PATIENCE = process.env.CI ? 60_000 : 20_000;
const PORT = Number(process.env.JOURNEYS_PORT ?? 4319);

/** Journeys with sound that must not run dry: tried with nothing beside them. */
const ALONE = /@alone/;

export default defineConfig({
  testDir: 'e2e',
  // What waits, waits for what it names, however slow the machine is: these only end what hangs.
  timeout: 300_000,
  expect: { timeout: PATIENCE },
  fullyParallel: true,
  workers: 2,
  retries: process.env.CI ? 1 : 0,
  reporter: [['list'], ['json', { outputFile: 'test-results/journeys.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    colorScheme: 'light',
    acceptDownloads: true,
    // Only the journeys without a network want the application kept in the browser.
    serviceWorkers: 'block',
    actionTimeout: PATIENCE,
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  projects: [
    { name: 'shelf', testMatch: 'workshop.setup.ts' },
    { name: 'journeys', testMatch: '*.spec.ts', grepInvert: ALONE, dependencies: ['shelf'] },
    { name: 'live', testMatch: '*.spec.ts', grep: ALONE, workers: 1, dependencies: ['journeys'] },
  ],
  webServer: {
    command: `node scripts/serve.mjs ${PORT}`,
    url: `http://127.0.0.1:${PORT}/`,
    env: { JAUNTY_REED_DEMO: '', NEXT_TELEMETRY_DISABLED: '1' },
    reuseExistingServer: !process.env.CI,
    timeout: 60_000,
  },
});
