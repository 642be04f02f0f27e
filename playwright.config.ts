// End-to-end tests on the built application, in Debian's Chromium.
import { defineConfig } from '@playwright/test'
import { launch } from './scripts/browser.mjs'

const port = Number(process.env['E2E_PORT'] ?? 4178)

export default defineConfig({
  testDir: 'tests/e2e',
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 2,
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: launch
  },
  webServer: {
    command: 'node build',
    env: { PORT: String(port), HOST: '127.0.0.1' },
    url: `http://127.0.0.1:${port}/`,
    reuseExistingServer: false
  }
})
