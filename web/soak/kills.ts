// Kills its own browser at random moments of random work and looks at how the project opens again.
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Page, chromium } from '@playwright/test';
import { randomFrom } from './mutate';

const root = fileURLToPath(new URL('../..', import.meta.url));
const PORT = 4797;
const STEPS = 60;
/** On a full disk: after so many values there is no room any more. */
const FULL_AFTER = 5;

interface Tools {
  chromiumPath: () => string;
  CHROMIUM_ARGS: string[];
}

/** What a round does besides changing numbers. */
type Trouble = 'none' | 'export' | 'full disk';

/** Starts a browser of its own on a profile; `kill` ends all its processes at once, as a power cut would. */
async function browser({ chromiumPath, CHROMIUM_ARGS }: Tools, profile: string) {
  const child = spawn(
    chromiumPath(),
    [
      ...CHROMIUM_ARGS,
      '--headless',
      `--user-data-dir=${profile}`,
      '--remote-debugging-port=0',
      'about:blank',
    ],
    { stdio: ['ignore', 'ignore', 'pipe'], detached: true },
  );
  const address = await new Promise<string>((resolve, reject) => {
    let text = '';
    child.stderr!.on('data', (data: Buffer) => {
      text += String(data);
      const found = /DevTools listening on (\S+)/.exec(text);
      if (found) resolve(found[1]!);
    });
    child.once('exit', () => reject(new Error('The browser did not start.')));
  });
  const connected = await chromium.connectOverCDP(address);
  const page = connected.contexts()[0]!.pages()[0]!;
  page.setDefaultTimeout(240_000);
  return { page, kill: () => killed(child) };
}

/** Ends a process and its children, which are a group of their own. */
async function killed(child: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => child.once('exit', resolve));
  process.kill(-child.pid!, 'SIGKILL');
  await gone;
}

async function opened(page: Page): Promise<void> {
  await page.goto(`http://localhost:${PORT}/`);
  await page.waitForFunction(
    () => performance.getEntriesByName('hazy-lens-frame').length > 0 && !document.querySelector('.veil'),
  );
}

const saturation = (page: Page) => page.getByRole('spinbutton', { name: 'Saturation', exact: true });

async function toColour(page: Page): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Route' })
    .getByRole('button', { name: /^Colour/ })
    .click();
}

/** True when a saturation lies in the storage of the open project. Runs in the page. */
async function isStored(percent: number): Promise<boolean> {
  const asked = <T>(request: IDBRequest<T>): Promise<T> =>
    new Promise((resolve, reject) => {
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
    });
  const database = await asked(indexedDB.open('hazy-lens'));
  const id = localStorage.getItem('hazy-lens-last-project')!;
  const stored = (await asked(database.transaction('projects').objectStore('projects').get(id))) as {
    work: { recipe: { colour: { saturation: number } } };
  };
  database.close();
  return Math.round(stored.work.recipe.colour.saturation * 100) === percent;
}

/** From now on the storage has no room. Runs in the page. */
function fillDisk(): void {
  IDBObjectStore.prototype.put = () => {
    throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
  };
}

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
      await toColour(page);
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
        await page.waitForFunction(isStored, value);
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
  const tools = (await import(join(root, 'tools/chromium.mjs'))) as Tools;
  const started = performance.now();
  const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
    env: { ...process.env, PORT: String(PORT) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve) => server.stdout.once('data', resolve));
  const profile = mkdtempSync(join(tmpdir(), 'hazy-lens-kills-'));
  const open = async () => {
    const now = await browser(tools, profile);
    await opened(now.page);
    await toColour(now.page);
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
  server.kill();
  rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  const seconds = Math.round((performance.now() - started) / 1000);
  console.log(JSON.stringify({ case: 'kills', kills: rounds, ...count, seconds }));
  return count.failed;
}
