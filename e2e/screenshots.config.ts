import { defineConfig } from '@playwright/test'
import { launchOptions } from './support/browser'

export default defineConfig({
  testDir: 'screenshots',
  timeout: 120_000,
  workers: 1,
  reporter: [['list']],
  use: { viewport: { width: 1280, height: 800 }, launchOptions },
})
