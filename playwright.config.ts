import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGS, testChromiumPath } from './tools/chromium.mjs';

const port = 4791;

export default defineConfig({
  testDir: 'e2e',
  // Much of a test is waiting: two of them keep two cores busy, also those of one file.
  workers: 2,
  fullyParallel: true,
  // A starved machine is slow, not wrong: no test is about time.
  timeout: 420_000,
  // What passes only the second time is a fault like any other.
  retries: 0,
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: '.cache/e2e.json' }]],
  outputDir: '.cache/test-results',
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    colorScheme: 'dark',
    launchOptions: { executablePath: testChromiumPath(), args: CHROMIUM_ARGS },
  },
  webServer: {
    command: 'node server/dist/serve.mjs',
    url: `http://localhost:${port}/`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
  },
});
