import { existsSync } from 'node:fs'
import { defineConfig } from '@playwright/test'

/** Debian's Chromium without a window of any kind draws faster than the whole browser without a screen. */
const shell = '/usr/bin/chromium-headless-shell'

export default defineConfig({
  testDir: './src',
  testMatch: '*.spec.ts',
  workers: 1,
  timeout: 480_000,
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: process.env['HERON_E2E_RESULT'] ?? '../.data/e2e.json' }]],
  outputDir: process.env['HERON_E2E_OUTPUT'] ?? '../.data/e2e-output',
  use: {
    baseURL: process.env['HERON_URL'] ?? '',
    viewport: { width: 1280, height: 800 },
    // A trace keeps a snapshot for every key pressed, which doubles the time of a story; ask for it when looking for a fault.
    trace: process.env['HERON_TRACE'] ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: existsSync(shell) ? shell : '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
})
