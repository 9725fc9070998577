import { defineConfig } from '@playwright/test';
import { RESULTS, sessionOf } from './e2e/sign-in';
import { BROWSER } from './scripts/lib/browser.mjs';

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/sign-in.ts',
  outputDir: RESULTS,
  // The tests share one application and its records, so they take turns.
  workers: 1,
  // Long for a machine that stands still now and then; what is right comes at once all the same.
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: [['line'], ['json']],
  use: {
    baseURL: process.env.PLUM_TEST_SITE,
    // Whoever a test does not name is the owner, who may do everything.
    storageState: sessionOf('owner'),
    viewport: { width: 1280, height: 800 },
    launchOptions: BROWSER,
    // Kept only where it is asked for: recording slows every test down.
    trace: process.env.PLUM_TEST_TRACE ? 'retain-on-failure' : 'off',
  },
});
