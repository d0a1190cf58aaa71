// Something breaks in the middle of random work: every job ends in a result or a sentence, and what was saved is there.
import { spawnSync } from 'node:child_process';
import { closeSync, mkdirSync, mkdtempSync, openSync, rmSync, writeFileSync, writeSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page, Worker } from '@playwright/test';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { fillDisk, openAt, saturation, startBrowser, toStep, untilShown, untilStored } from './browser';
import { randomFrom } from './mutate';
import { OwnServer } from './own-server';

const PORT = 4798;
/** A job ends, or says why not, within so long after the fault is over; twice as long as a worker is waited for. */
const PATIENCE_MS = 30_000;

/** The saturation of a new project. */
const AT_FIRST = 20;

type Fault = (typeof FAULTS)[number];
type Job = (typeof JOBS)[number];
const FAULTS = [
  'kill the browser',
  'crash the page',
  'silence a worker',
  'loop a worker',
  'end the server',
  'fill the disk',
  'fill a small disk',
  'spoil a row',
  'drop the network',
  'open a second tab',
  'jump the clock',
] as const;
const JOBS = ['edit', 'export', 'batch', 'film', 'import', 'update'] as const;
/** Enough for the browser's profile and some projects. */
const SMALL_DISK_MB = 600;

interface Round {
  page: Page;
  kill: () => Promise<void>;
  random: () => number;
  folder: string;
  server: OwnServer;
}

/** Saturations that the page may open at: the one that was saved last, and one that was under way. */
interface Expected {
  values: number[];
}

const notices = (page: Page) => page.locator('[role=alert], [role=status]');

async function type(page: Page, value: number, expected: Expected): Promise<void> {
  await toStep(page, 'Colour');
  expected.values.push(value);
  await saturation(page).fill(String(value));
  await saturation(page).press('Enter');
}

async function choose(page: Page, button: string, files: string[]): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: button }).click(),
  ]);
  await chooser.setFiles(files);
}

/** Begins a job; gives what waits for its end. */
async function begin(
  job: Job,
  { page, random, folder, server }: Round,
  expected: Expected,
): Promise<() => Promise<void>> {
  const value = Math.floor(random() * 100);
  const ends = (text: RegExp) => async (): Promise<void> => {
    await notices(page).filter({ hasText: text }).first().waitFor({ timeout: PATIENCE_MS });
  };
  switch (job) {
    case 'edit':
      await type(page, value, expected);
      await type(page, Math.floor(random() * 100), expected);
      return async () => undefined;
    case 'export':
      await toStep(page, 'Output');
      await page.getByRole('button', { name: /^Export JPEG/ }).click();
      return ends(/Exported|couldn’t be exported|Cancelled/);
    case 'film': {
      expected.values.push(AT_FIRST);
      await toStep(page, 'Source');
      const name = `blink ${Math.floor(random() * 1e9)}`;
      await copyFile(join(folder, 'blink.zip'), join(folder, `${name}.zip`));
      await choose(page, 'Open file', [join(folder, `${name}.zip`)]);
      await page.getByRole('banner').getByRole('button', { name }).or(page.getByRole('alert')).first().waitFor(); // prettier-ignore
      expected.values = [Number(await readSaturation(page))];
      await toStep(page, 'Output');
      await page
        .getByRole('button', { name: /^Export (MP4|GIF|WebM)/ })
        .first()
        .click();
      return ends(/Exported|couldn’t be exported|Cancelled/);
    }
    case 'import': {
      const path = join(folder, 'look.recipe.json');
      const recipe = { format: 'hazy-lens-recipe', version: 1, colour: { saturation: value / 100 } };
      writeFileSync(path, JSON.stringify(recipe));
      await toStep(page, 'Source');
      expected.values.push(value);
      await choose(page, 'Open file', [path]);
      return async () => {
        const step = page.getByRole('button', { name: /^Undo: recipe/ });
        await step.or(page.getByRole('alert')).first().waitFor({ timeout: PATIENCE_MS });
      };
    }
    case 'update':
      server.offerVersion(`${Math.floor(random() * 0x70000000) + 0x10000000}`.slice(0, 8));
      // What it serves it has read when it started.
      await server.start();
      await askForVersion(page);
      return async () => {
        // The server, or the way to it, may have been gone.
        await askForVersion(page);
        const offer = notices(page).filter({ hasText: 'A new version is ready' });
        await page.evaluate(() => Object.assign(window, { isOld: true }));
        await offer.getByRole('button', { name: 'Update now' }).click();
        await page.waitForFunction(() => !('isOld' in window), undefined, { timeout: PATIENCE_MS });
        await untilShown(page);
      };
    case 'batch': {
      await toStep(page, 'Source');
      await page.getByRole('button', { name: 'Batch' }).click();
      const dialog = page.getByRole('dialog');
      if ((await dialog.getByText('lamp.png').count()) === 0)
        await choose(page, 'Add pictures', [join(folder, 'lamp.png'), join(folder, 'kiosk.png')]);
      await dialog.getByText('lamp.png').first().or(page.getByRole('alert')).first().waitFor();
      const render = dialog.getByRole('button', { name: /^Render/ });
      if (await render.isEnabled()) await render.click();
      return async () => {
        await page.waitForFunction(() => !document.querySelector('hl-queue-strip [role=group]'), undefined, {
          timeout: PATIENCE_MS,
        });
        await page.keyboard.press('Escape');
      };
    }
  }
}

/** Has the page look for a new version now, not some time later. */
async function askForVersion(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const registration = await navigator.serviceWorker.getRegistration();
    await registration?.update().catch(() => undefined);
  });
}

async function readSaturation(page: Page): Promise<number> {
  await toStep(page, 'Colour');
  return Number(await saturation(page).inputValue());
}

async function renderWorker(page: Page, random: () => number): Promise<Worker | undefined> {
  const workers = page.workers();
  return workers[Math.floor(random() * workers.length)];
}

/** Another project whose row makes no sense. Runs in the page. */
async function spoilRow(): Promise<void> {
  const database = await new Promise<IDBDatabase>((resolve) => {
    indexedDB.open('hazy-lens').onsuccess = ({ target }) => resolve((target as IDBOpenDBRequest).result);
  });
  database
    .transaction('projects', 'readwrite')
    .objectStore('projects')
    .put({ id: `spoiled-${Date.now()}`, source: null, work: 'nothing', changed: 'yesterday' });
  database.close();
}

/** Has something break; gives what makes it whole again, or null where the page is gone. */
async function breaks(
  fault: Fault,
  round: Round,
  disk: SmallDisk | null,
): Promise<(() => Promise<void>) | null> {
  const { page, kill, random, server } = round;
  switch (fault) {
    case 'kill the browser':
      await kill();
      return null;
    case 'crash the page': {
      const session = await page.context().newCDPSession(page);
      session.send('Page.crash').catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, 500));
      await kill();
      return null;
    }
    case 'silence a worker':
      await (await renderWorker(page, random))?.evaluate(() => self.close()).catch(() => undefined);
      return async () => undefined;
    case 'loop a worker':
      (await renderWorker(page, random))?.evaluate('for(;;);').catch(() => undefined);
      return async () => undefined;
    case 'end the server':
      await server.stop();
      return () => server.start();
    case 'fill a small disk':
      disk?.fill();
      return async () => disk?.makeRoom();
    case 'fill the disk':
      await page.evaluate(fillDisk);
      return async () => void (await page.evaluate('makeRoom()'));
    case 'spoil a row':
      await page.evaluate(spoilRow);
      return async () => undefined;
    case 'drop the network':
      await page.context().setOffline(true);
      return () => page.context().setOffline(false);
    case 'open a second tab': {
      const other = await page.context().newPage();
      await openAt(other, PORT);
      return () => other.close();
    }
    case 'jump the clock': {
      const by = (random() - 0.5) * 4 * 86_400_000;
      await page.evaluate((ms) => {
        const { now } = Date;
        Date.now = () => now() + ms;
      }, by);
      return async () => undefined;
    }
  }
}

/**
 * A file system of its own that is soon full, where this machine may make one, else null. A browser whose profile lies on it
 * meets what a full disk really does.
 */
class SmallDisk {
  private readonly ballast: string;

  private constructor(readonly folder: string) {
    this.ballast = join(folder, 'ballast');
  }

  static at(folder: string): SmallDisk | null {
    mkdirSync(folder);
    const { status } = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${SMALL_DISK_MB}m`, 'tmpfs', folder]);
    return status === 0 ? new SmallDisk(folder) : null;
  }

  /** Nothing more goes onto it. */
  fill(): void {
    const piece = Buffer.alloc(1 << 20);
    const file = openSync(this.ballast, 'w');
    try {
      for (;;) if (writeSync(file, piece) < piece.length) break;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
    } finally {
      closeSync(file);
    }
  }

  makeRoom(): void {
    rmSync(this.ballast, { force: true });
  }

  remove(): void {
    spawnSync('umount', ['-l', this.folder]);
  }
}

/** @param only one fault of those. @returns how many rounds did not hold what they ought to. */
export async function soak(rounds: number, only?: string): Promise<number> {
  const started = performance.now();
  const server = new OwnServer(PORT);
  await server.start();
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-faults-'));
  const disk = SmallDisk.at(join(folder, 'disk'));
  const profile = join(disk?.folder ?? folder, 'profile');
  const flat = (background: string) => sharp({ create: { width: 120, height: 80, channels: 3, background } });
  await flat('#a05030').png().toFile(join(folder, 'lamp.png'));
  await flat('#3060a0').png().toFile(join(folder, 'kiosk.png'));
  const frames = await Promise.all(
    ['#a05030', '#3060a0', '#50a030'].map(async (colour, k) => [
      `${k}.png`,
      await flat(colour).png().toBuffer(),
    ]),
  );
  writeFileSync(join(folder, 'blink.zip'), zipSync(Object.fromEntries(frames)));
  const open = async () => {
    const browser = await startBrowser(profile);
    await browser.page.addInitScript(() => {
      Reflect.deleteProperty(window, 'showSaveFilePicker');
      Reflect.deleteProperty(window, 'showOpenFilePicker');
    });
    browser.page.on('dialog', (dialog) => void dialog.accept().catch(() => undefined));
    browser.page.setDefaultTimeout(PATIENCE_MS);
    await openAt(browser.page, PORT);
    // As for who was here before: the application lies in the browser.
    await browser.page.evaluate(async () => void (await navigator.serviceWorker.ready));
    return browser;
  };
  const count: Record<string, number> = { held: 0, failed: 0 };
  let now = await open();
  for (let i = 0; i < rounds; i++) {
    const random = randomFrom(i + 1);
    const faults = FAULTS.filter((one) => (disk || one !== 'fill a small disk') && (!only || one === only));
    const fault = faults[Math.floor(random() * faults.length)]!;
    const job = JOBS[Math.floor(random() * JOBS.length)]!;
    const round: Round = { ...now, random, folder, server };
    const expected: Expected = { values: [] };
    try {
      expected.values.push(await readSaturation(now.page));
      let isGone = false;
      const working = begin(job, round, expected).catch((error: Error) => {
        if (!isGone) throw error;
        return async () => undefined;
      });
      working.catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, 200 + random() * 1500));
      isGone = fault === 'kill the browser' || fault === 'crash the page';
      const mend = await breaks(fault, round, disk);
      if (mend) {
        await new Promise((resolve) => setTimeout(resolve, 500 + random() * 1500));
        await mend();
        await (
          await working
        )();
        const last = expected.values.at(-1)!;
        const now = await readSaturation(round.page);
        if (now !== last) throw new Error(`shows ${now} where ${expected.values.join(', ')} were typed`);
        // Once there is room, all is saved within a few seconds.
        await untilStored(round.page, last, 5000);
        await openAt(round.page, PORT);
        expected.values = [last];
      } else {
        now = await open();
      }
      const value = await readSaturation(now.page);
      // What was under way when it was killed may be saved or not; nothing older may come back.
      if (!expected.values.slice(-3).includes(value))
        throw new Error(`opened at ${value}, the last were ${expected.values.slice(-4).join(', ')}`);
      count['held']!++;
    } catch (error) {
      count['failed']!++;
      process.stderr.write(`${i} (${fault}, ${job}): ${(error as Error).message.split('\n')[0]}\n`);
      await now.kill().catch(() => undefined);
      disk?.makeRoom();
      await server.stop();
      await server.start();
      now = await open();
    }
  }
  await now.kill();
  await server.remove();
  disk?.remove();
  rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  const seconds = Math.round((performance.now() - started) / 1000);
  console.log(JSON.stringify({ case: 'faults', rounds, ...count, seconds }));
  return count['failed']!;
}
