// The application, served and in headless Chromium, for as long as a piece of work takes.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { CHROMIUM_ARGS, chromiumPath } from './chromium.mjs';
import { root } from './prepare.mjs';

/** Calls `work` with a browser and the address; it is built already. */
export async function withApplication(port, work) {
  const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
    env: { ...process.env, PORT: port },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve) => server.stdout.once('data', resolve));
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: CHROMIUM_ARGS });
  try {
    await work(browser, `http://localhost:${port}/`);
  } finally {
    await browser.close();
    server.kill();
  }
}
