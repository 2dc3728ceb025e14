import { defineConfig } from '@playwright/test';

/** Debian's Chromium; another may be named in the environment. */
const executablePath = process.env.CHROMIUM_PATH ?? '/usr/bin/chromium';

export default defineConfig({
  testDir: './journeys',
  // Each journey has a product of its own and draws and encodes real pictures: two at once would starve each other.
  workers: 1,
  fullyParallel: false,
  timeout: 300_000,
  // Machines are shared: what takes two seconds on a quiet one may take twenty.
  expect: { timeout: 30_000 },
  // What passes only at the second try is a defect of the product or of the journey.
  retries: 0,
  reporter: [['list'], ['json', { outputFile: 'test-results/journeys.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Dublin',
    permissions: ['camera', 'microphone', 'clipboard-write', 'clipboard-read'],
    trace: 'off',
    // What is not there is told after a minute, not at the end of the journey's time.
    actionTimeout: 60_000,
    launchOptions: {
      executablePath,
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking']
        .concat(['--disable-component-update', '--disable-sync'])
        .concat(['--use-fake-ui-for-media-stream', '--use-fake-device-for-media-stream']),
    },
  },
});
