import { defineConfig } from '@playwright/test';

const WALK = process.env['KETTLE_WALK'] !== undefined;
/** How long the walk waits for one thing: only what never comes ends it, ms. */
const PATIENCE = Number(process.env['KETTLE_WALK_MS'] ?? 3_600_000);

export default defineConfig({
  testDir: 'src',
  // The walk has an application of its own: see scripts/patience.mjs.
  ...(WALK ? {} : { globalSetup: './src/shared.ts' }),
  testMatch: WALK ? /.*\.walk\.ts/ : process.env['KETTLE_SHOTS'] ? /.*\.shots\.ts/ : /.*\.e2e\.ts/,
  outputDir: 'test-results',
  // Two seldom need both cores at once: a browser waits for a server and a server for a browser. Three were no quicker.
  workers: 2,
  fullyParallel: true,
  // A test that passes only at its second try is named at the end of the run.
  retries: WALK ? 0 : 1,
  // Long enough for a machine that has other work: what never comes still ends.
  timeout: WALK ? 0 : 900_000,
  expect: { timeout: WALK ? PATIENCE : 240_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: WALK ? PATIENCE : 240_000,
    // A trace takes a picture at every step: it is kept when somebody asks for it.
    trace: process.env['KETTLE_TRACE'] ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
      ],
    },
  },
});
