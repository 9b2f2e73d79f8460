import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/lib/browser.mjs';

export default defineConfig({
  testDir: 'tests/e2e',
  timeout: 90_000,
  expect: { timeout: 15_000 },
  workers: 1,
  // A shared machine may stall for a minute; what fails twice has failed.
  retries: process.env.CI ? 1 : 0,
  reporter: [
    ['list'],
    ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? 'test-results/report.json' }],
  ],
  use: {
    baseURL: process.env.KERAMEUS_URL ?? 'http://127.0.0.1:4180',
    viewport: { width: 1280, height: 800 },
    launchOptions: CHROMIUM,
    trace: 'retain-on-failure',
  },
});
