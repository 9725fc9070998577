import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results',
  // The tests share one application and its records, so they take turns.
  workers: 1,
  timeout: 60_000,
  reporter: [['line'], ['json']],
  use: {
    baseURL: process.env.PLUM_TEST_SITE,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
    trace: 'retain-on-failure',
  },
});
