import { defineConfig } from '@playwright/test'
import { launchOptions } from './support/browser'

// Limits end what hangs; they assert nothing. A crowded machine may be many times slower than one's own.
const patience = process.env.CI ? 4 : 1

export default defineConfig({
  testDir: 'tests',
  globalSetup: './support/template.ts',
  timeout: 240_000 * patience,
  expect: { timeout: 20_000 * patience },
  // As many as cores: with three on two cores each takes longer, and all of them hardly less.
  workers: 2,
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  // What passes only the second time is named flaky in the list.
  retries: process.env.CI ? 1 : 0,
  reporter: [['list']],
  use: {
    // What a worker answers cannot be watched; the tests of what it keeps allow it.
    serviceWorkers: 'block',
    viewport: { width: 1280, height: 800 },
    launchOptions,
    // Lists and dialogs are there and gone at once.
    contextOptions: { reducedMotion: 'reduce' },
    // A trace of everything costs a fifth of the time: it is made of what is tried again.
    trace: process.env.CI ? 'on-first-retry' : 'retain-on-failure',
    actionTimeout: 20_000 * patience,
  },
})
