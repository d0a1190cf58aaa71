import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGS, chromiumPath } from './tools/chromium.mjs';

const port = 4791;

export default defineConfig({
  testDir: 'e2e',
  // Much of a test is waiting: two of them keep two cores busy.
  workers: 2,
  // A starved machine is slow, not wrong: no test is about time.
  timeout: 420_000,
  // What passes only the second time is told of by name, and does not hold up the rest.
  retries: 1,
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: '.cache/e2e.json' }]],
  outputDir: '.cache/test-results',
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    colorScheme: 'dark',
    launchOptions: { executablePath: chromiumPath(), args: CHROMIUM_ARGS },
  },
  webServer: {
    command: 'node server/dist/serve.mjs',
    url: `http://localhost:${port}/`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
  },
});
