// Kills its own browser at random moments of random work and looks at how the project opens again.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { fillDisk, openAt, saturation, startBrowser, toStep, untilStored } from './browser';
import { randomFrom } from './mutate';
import { OwnServer } from './own-server';

const PORT = 4797;
const STEPS = 60;
/** On a full disk: after so many values there is no room any more. */
const FULL_AFTER = 5;

/** What a round does besides changing numbers. */
type Trouble = 'none' | 'export' | 'full disk';

/** Types one value after the other until the browser is killed; gives those that were typed whole, and the one begun last. */
async function work(
  page: Page,
  trouble: Trouble,
  random: () => number,
  killAt: Promise<void>,
): Promise<{ done: number[]; underWay: number }> {
  const done: number[] = [];
  let underWay = NaN;
  let isKilled = false;
  void killAt.then(() => (isKilled = true));
  try {
    if (trouble === 'export') {
      await page.evaluate(() => Reflect.deleteProperty(window, 'showSaveFilePicker'));
      await page.getByRole('button', { name: 'Export', exact: true }).click();
      await page.getByRole('button', { name: /^Export JPEG/ }).click();
      await toStep(page, 'Colour');
    }
    let isFull = false;
    for (let i = 0; i < STEPS && !isKilled; i++) {
      const value = Math.floor(random() * 100);
      await saturation(page).fill(String(value));
      // What comes after the disk is full is said not to be saved, and not expected back.
      if (!isFull) underWay = value;
      await saturation(page).press('Enter');
      if (!isFull) done.push(value);
      await page.waitForTimeout(random() * 60);
      if (trouble === 'full disk' && i === FULL_AFTER) {
        await untilStored(page, value, 30_000);
        await page.evaluate(fillDisk);
        isFull = true;
      }
    }
    await killAt;
  } catch (error) {
    if (!isKilled && !/closed|crash|disconnected/i.test((error as Error).message)) throw error;
  }
  return { done, underWay };
}

/** @returns how many times the project did not open at the last gesture or at the last but one. */
export async function soak(rounds: number): Promise<number> {
  const started = performance.now();
  const server = new OwnServer(PORT);
  await server.start();
  const profile = mkdtempSync(join(tmpdir(), 'hazy-lens-kills-'));
  const open = async () => {
    const now = await startBrowser(profile);
    await openAt(now.page, PORT);
    await toStep(now.page, 'Colour');
    return { ...now, value: Number(await saturation(now.page).inputValue()) };
  };
  const count = { last: 0, lastButOne: 0, failed: 0 };
  let now = await open();
  for (let i = 0; i < rounds; i++) {
    const random = randomFrom(i + 1);
    const trouble = (['none', 'export', 'full disk'] as const)[i % 3]!;
    const { page, kill, value: before } = now;
    const killAt = new Promise<void>((resolve) => setTimeout(() => resolve(kill()), 300 + random() * 2500));
    const { done: typed, underWay } = await work(page, trouble, random, killAt);
    const done = [before, ...typed];
    await killAt;
    now = await open();
    if (now.value === done.at(-1) || now.value === underWay) count.last++;
    else if (now.value === done.at(-2)) count.lastButOne++;
    else {
      count.failed++;
      process.stderr.write(
        `${i} (${trouble}): opened at ${now.value}, the last were ${done.slice(-5).join(', ')}\n`,
      );
    }
  }
  await now.kill();
  await server.remove();
  rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  const seconds = Math.round((performance.now() - started) / 1000);
  console.log(JSON.stringify({ case: 'kills', kills: rounds, ...count, seconds }));
  return count.failed;
}
