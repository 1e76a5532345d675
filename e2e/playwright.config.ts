import { defineConfig } from '@playwright/test'

process.env.TZ = 'Europe/London' // the tests read the same clock on the wall as the browser

export default defineConfig({
  testDir: '.',
  outputDir: 'results',
  workers: 2,
  fullyParallel: false,
  forbidOnly: true,
  retries: 0,
  timeout: 300_000, // of a busy machine; what fails does so sooner
  expect: { timeout: 60_000 },
  reporter: [['list']],
  use: {
    actionTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    trace: 'retain-on-failure',
    serviceWorkers: 'block', // but for the test of a page that opens without a network
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  projects: [
    { name: 'test', testMatch: '*.spec.ts' },
    { name: 'screenshots', testMatch: 'screenshots.ts' },
    // A recorder beside the page would be measured too.
    { name: 'measure', testMatch: 'measure.ts', use: { trace: 'off' } },
  ],
})
