import { defineConfig } from '@playwright/test'
import { launchOptions } from './support/browser'

// Limits end what hangs; they assert nothing. A crowded machine may be many times slower than one's own.
const patience = process.env.CI ? 4 : 1

export default defineConfig({
  testDir: 'tests',
  timeout: 240_000 * patience,
  expect: { timeout: 20_000 * patience },
  workers: 2,
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  // What passes only the second time is named flaky in the list.
  retries: process.env.CI ? 1 : 0,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions,
    trace: 'retain-on-failure',
    actionTimeout: 20_000 * patience,
  },
})
