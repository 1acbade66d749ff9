import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'src',
  globalSetup: './src/shared.ts',
  testMatch: process.env['KETTLE_SHOTS'] ? /.*\.shots\.ts/ : /.*\.e2e\.ts/,
  outputDir: 'test-results',
  // Two seldom need both cores at once: a browser waits for a server and a server for a browser. Three were no quicker.
  workers: 2,
  fullyParallel: true,
  retries: 0,
  // Long enough for a machine that has other work: what never comes still ends.
  timeout: 900_000,
  expect: { timeout: 240_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 240_000,
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
