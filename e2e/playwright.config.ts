import { defineConfig } from '@playwright/test'
import { launchOptions } from './support/browser'

export default defineConfig({
  testDir: 'tests',
  timeout: 180_000,
  expect: { timeout: 15_000 },
  workers: 2,
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  // A crowded machine may starve a browser; what passes only the second time is named flaky in the list.
  retries: process.env.CI ? 1 : 0,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions,
    trace: 'retain-on-failure',
    actionTimeout: 20_000,
  },
})
