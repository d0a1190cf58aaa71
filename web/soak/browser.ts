// A browser of its own, which can be killed at any moment, and the hands that work in it.
import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Locator, type Page, chromium } from '@playwright/test';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** Starts a browser of its own on a profile; `kill` ends all its processes at once, as a power cut would. */
export async function startBrowser(profile: string): Promise<{ page: Page; kill: () => Promise<void> }> {
  const { chromiumPath, CHROMIUM_ARGS } = (await import(join(root, 'tools/chromium.mjs'))) as {
    chromiumPath: () => string;
    CHROMIUM_ARGS: string[];
  };
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
    child.once('exit', () => reject(new Error('The browser didn’t start.')));
  });
  const connected = await chromium.connectOverCDP(address);
  const page = connected.contexts()[0]!.pages()[0]!;
  page.setDefaultTimeout(240_000);
  return { page, kill: () => ended(child) };
}

/** Ends a process and its children, which are a group of their own. */
async function ended(child: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => child.once('exit', resolve));
  process.kill(-child.pid!, 'SIGKILL');
  await gone;
}

/** Opens the application; ends when its picture is there. */
export async function openAt(page: Page, port: number): Promise<void> {
  await page.goto(`http://localhost:${port}/`);
  await untilShown(page);
}

/** Ends when the picture is there. */
export async function untilShown(page: Page): Promise<void> {
  await page.waitForFunction(
    () => performance.getEntriesByName('hazy-lens-frame').length > 0 && !document.querySelector('.veil'),
  );
}

export const saturation = (page: Page): Locator =>
  page.getByRole('spinbutton', { name: 'Saturation', exact: true });

export async function toStep(page: Page, name: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Route' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
}

/** True when a saturation lies in the storage of the open project. Runs in the page. */
async function isStored(percent: number): Promise<boolean> {
  const asked = <T>(request: IDBRequest<T>): Promise<T> =>
    new Promise((resolve, reject) => {
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
    });
  // To open what is not there would make it, and be in the way of who makes it whole.
  if (!(await indexedDB.databases()).some(({ name }) => name === 'hazy-lens')) return false;
  const id = sessionStorage.getItem('hazy-lens-last-project')!;
  const database = await asked(indexedDB.open('hazy-lens'));
  try {
    const stored = (await asked(database.transaction('projects').objectStore('projects').get(id))) as
      { work: { recipe: { colour: { saturation: number } } } } | undefined;
    return Math.round((stored?.work.recipe.colour.saturation ?? -1) * 100) === percent;
  } catch {
    return false;
  } finally {
    database.close();
  }
}

/** Ends when a saturation lies in the storage of the open project. @throws where it does not within so long. */
export async function untilStored(page: Page, percent: number, ms: number): Promise<void> {
  for (const end = performance.now() + ms; !(await page.evaluate(isStored, percent));) {
    if (performance.now() > end) throw new Error(`${percent} isn’t saved after ${ms / 1000} s`);
    await page.waitForTimeout(100);
  }
}

/** From now on the storage has no room, until `makeRoom`. Runs in the page. */
export function fillDisk(): void {
  const { put } = IDBObjectStore.prototype;
  Object.assign(window, { makeRoom: () => (IDBObjectStore.prototype.put = put) });
  IDBObjectStore.prototype.put = () => {
    throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
  };
}
