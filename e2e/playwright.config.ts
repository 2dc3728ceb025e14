import { defineConfig } from '@playwright/test';

/** Debian's Chromium; another may be named in the environment. */
const executablePath = process.env.CHROMIUM_PATH ?? '/usr/bin/chromium';

/** Journeys in which nothing is drawn or encoded for long. */
const AT_THE_DESK = ['artwork', 'channels', 'commands', 'desk', 'everybody', 'placing', 'planning', 'team'].map((name) => `**/${name}.spec.ts`);

export default defineConfig({
  testDir: './journeys',
  // Each journey has a product of its own. Two that draw and encode real pictures at once would starve each other: `npm test` gives two cores to those at
  // the desk alone.
  workers: 1,
  projects: [
    { name: 'desk', testMatch: AT_THE_DESK },
    { name: 'stage', testIgnore: AT_THE_DESK },
  ],
  fullyParallel: false,
  timeout: 300_000,
  // Machines are shared: what takes two seconds on a quiet one may take twenty.
  expect: { timeout: 30_000 },
  // What passes only at the second try is a defect of the product or of the journey.
  retries: 0,
  reporter: [['list'], ['json', { outputFile: process.env.JOURNEYS_JSON ?? 'test-results/journeys.json' }]],
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
