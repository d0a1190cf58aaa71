// npm run screenshots: one picture of each main view, from the demo data, into docs/screenshots.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { CHROMIUM_ARGS, chromiumPath } from './chromium.mjs';
import { buildServer, buildWeb, install, root } from './prepare.mjs';

install();
buildServer();
buildWeb();
const port = 4793;
const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
  env: { ...process.env, PORT: port },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const browser = await chromium.launch({ executablePath: chromiumPath(), args: CHROMIUM_ARGS });
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'dark' });
  const rest = () => page.waitForTimeout(1800);
  const shoot = async (name) => {
    await rest();
    await page.screenshot({ path: join(root, `docs/screenshots/${name}.png`) });
  };
  const startDemo = async (name) => {
    await page.getByRole('banner').getByRole('button').first().click();
    await page.getByRole('button', { name: `Start with ${name}` }).click();
    await rest();
    await rest();
  };
  await page.goto(`http://localhost:${port}/`);
  await page.getByRole('img', { name: /^Picture/ }).waitFor();
  await rest();
  await page.mouse.move(560, 240);
  await shoot('workspace');
  await page.keyboard.press('m');
  await shoot('haze-map');
  await page.keyboard.press('m');
  await startDemo('Night fair');
  await startDemo('Glasshouses');
  await page.keyboard.press('w');
  await page.getByRole('navigation', { name: 'Route' }).getByRole('button', { name: /^Blur/ }).click();
  await shoot('wipe');
  await page.keyboard.press('w');
  await page.getByRole('banner').getByRole('button').first().click();
  await shoot('shelf');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await shoot('output');
  await page.emulateMedia({ colorScheme: 'light' });
  await page
    .getByRole('navigation', { name: 'Route' })
    .getByRole('button', { name: /^Focus/ })
    .click();
  await page.mouse.move(500, 300);
  await shoot('day');
} finally {
  await browser.close();
  server.kill();
}
