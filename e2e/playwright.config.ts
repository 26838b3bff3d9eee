import { defineConfig } from '@playwright/test'
import { launchOptions } from './support/browser'

export default defineConfig({
  testDir: 'tests',
  timeout: 60_000,
  expect: { timeout: 10_000 },
  workers: 2,
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions,
    trace: 'retain-on-failure',
    actionTimeout: 10_000,
  },
})
