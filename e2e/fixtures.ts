import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { AxeBuilder } from '@axe-core/playwright';
import { type Locator, type Page, test as base, expect } from '@playwright/test';
import sharp, { type Sharp } from 'sharp';

const root = fileURLToPath(new URL('..', import.meta.url));

interface Fixtures {
  /** The demo's still and clip smaller than they are, where their size is not the point: they are there sooner. Off for who looks at their pixels. */
  smallDemo: boolean;
  /** The application before it is opened, for tests that open it themselves. */
  unopened: App;
  /** The application, opened on its demo project, nothing on the console that a person would not expect. */
  app: App;
  folder: string;
}

const small: Record<string, { type: string; make: () => Promise<Buffer>; made?: Promise<Buffer> }> = {
  'tram-loop.jpg': {
    type: 'image/jpeg',
    make: () => sharp(join(root, 'demo/pictures/tram-loop.jpg')).resize(960).jpeg({ quality: 92 }).toBuffer(),
  },
  'tram-loop.mp4': {
    type: 'video/mp4',
    make: async () => {
      const how = [
        '-vf',
        'scale=640:360',
        '-c:v',
        'libx264',
        '-preset',
        'veryfast',
        '-crf',
        '16',
        '-g',
        '60',
      ];
      const out = ['-movflags', 'frag_keyframe+empty_moov', '-f', 'mp4', '-'];
      const path = join(root, 'demo/footage/tram-loop.mp4');
      const { stdout } = await promisify(execFile)('ffmpeg', ['-v', 'error', '-i', path, ...how, ...out], {
        encoding: 'buffer',
        maxBuffer: 2 ** 26,
      });
      return stdout;
    },
  },
};

function smallDemoFile(name: string): Promise<Buffer> {
  const file = small[name]!;
  return (file.made ??= file.make());
}

/** Has the application get the demo's still and clip smaller than they are. */
async function makeDemoSmall(page: Page): Promise<void> {
  for (const [name, { type }] of Object.entries(small))
    await page.route(`**/demo/${name}`, async (route) =>
      route.fulfill({ contentType: type, body: await smallDemoFile(name) }),
    );
}

export const test = base.extend<Fixtures>({
  smallDemo: [true, { option: true }],
  folder: async ({}, use) => {
    const folder = await mkdtemp(join(tmpdir(), 'hazy-lens-'));
    await use(folder);
    await rm(folder, { recursive: true });
  },
  unopened: async ({ page, smallDemo }, use) => {
    // As patient as everything else: downloads and choosers are waited for too.
    page.setDefaultTimeout(120_000);
    if (smallDemo) await makeDemoSmall(page);
    await use(new App(page));
  },
  app: async ({ unopened }, use) => {
    await unopened.open();
    await use(unopened);
    expect(unopened.complaints, 'console errors and warnings').toEqual([]);
  },
});

export { expect };

/** Drives the real interface by its names. */
export class App {
  readonly complaints: string[] = [];

  constructor(readonly page: Page) {
    page.on('console', (message) => {
      if (['error', 'warning'].includes(message.type())) this.complaints.push(message.text());
    });
    page.on('pageerror', (error) => this.complaints.push(String(error)));
  }

  /** @param pickers put in place of the browser's own: a headless one has none that can be used. */
  async open(pickers?: () => void): Promise<void> {
    await this.page.addInitScript(
      pickers ??
        (() => {
          Reflect.deleteProperty(window, 'showSaveFilePicker');
          Reflect.deleteProperty(window, 'showOpenFilePicker');
        }),
    );
    await this.page.addInitScript(() => {
      // Hints of the first visit have a test of their own.
      try {
        localStorage.setItem('hazy-lens-hints', 'lines profile looking');
      } catch {
        // A test takes the storage away.
      }
      // Only what is about working without a network keeps the application in the browser.
      Reflect.deleteProperty(Navigator.prototype, 'serviceWorker');
    });
    await this.page.goto('/');
    await expect(this.picture).toBeVisible();
    await this.settled();
  }

  get picture(): Locator {
    return this.page.getByRole('img', { name: /^Picture/ });
  }

  get project(): Locator {
    return this.page.getByRole('banner').getByRole('button').first();
  }

  get notice(): Locator {
    return this.page.getByRole('alert');
  }

  number(name: string): Locator {
    return this.page.getByRole('spinbutton', { name, exact: true });
  }

  grip(kind: string): Locator {
    return this.page.locator(`[data-grip="${kind}"]`);
  }

  step(name: string): Promise<void> {
    return this.page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .click();
  }

  /** Waits until the stage shows the newest picture, whole and fine. */
  async settled(): Promise<void> {
    // What a key or a click has changed is asked for within two frames of the page.
    await this.page.evaluate(
      () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
    );
    await this.page.waitForFunction(
      () => {
        const canvas = document.querySelector<HTMLCanvasElement>('canvas[role=img]');
        const last = performance.getEntriesByName('hazy-lens-frame').at(-1);
        const isBusy = document.querySelector('hl-status-line')?.ariaBusy === 'true';
        return (
          canvas && canvas.clientWidth > 40 && last && !isBusy && performance.now() - last.startTime > 200
        );
      },
      undefined,
      { polling: 60 },
    );
  }

  /** Waits until the newest step back of the open project lies in the browser's storage. */
  async saved(): Promise<void> {
    const step = this.page.getByRole('button', { name: /^Undo: / });
    const label = (await step.getAttribute('aria-label'))!.replace('Undo: ', '');
    await expect
      .poll(() =>
        this.page.evaluate(async () => {
          const asked = <T>(request: IDBRequest<T>): Promise<T> =>
            new Promise((resolve, reject) => {
              request.onsuccess = () => resolve(request.result);
              request.onerror = () => reject(request.error);
            });
          const database = await asked(indexedDB.open('hazy-lens'));
          const reading = database.transaction(['projects', 'steps']);
          // The one that was saved last is the open one.
          const [project] = (await asked(reading.objectStore('projects').getAll())).sort(
            (a, b) => b.changed - a.changed,
          );
          const done = await asked(reading.objectStore('steps').get([project.id, project.done]));
          database.close();
          return done?.label as string | undefined;
        }),
      )
      .toBe(label);
  }

  /** Colour of the picture on the stage at a place given as fractions of its size. */
  async colourAt(x: number, y: number): Promise<number[]> {
    await this.settled();
    return this.picture.evaluate(
      (canvas: HTMLCanvasElement, [fx, fy]) => {
        const copy = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
        copy.drawImage(canvas, -Math.floor(canvas.width * fx!), -Math.floor(canvas.height * fy!));
        return [...copy.getImageData(0, 0, 1, 1).data].slice(0, 3);
      },
      [x, y],
    );
  }

  /** How much detail a horizontal strip of the stage shows: mean difference of neighbouring pixels. */
  async detailAt(y: number): Promise<number> {
    await this.settled();
    return this.picture.evaluate((canvas: HTMLCanvasElement, fy) => {
      const copy = new OffscreenCanvas(canvas.width, 6).getContext('2d', { willReadFrequently: true })!;
      copy.drawImage(canvas, 0, -Math.floor(canvas.height * fy));
      const { data } = copy.getImageData(0, 0, canvas.width, 6);
      let sum = 0;
      for (let i = 4; i < data.length; i += 4)
        for (let k = 0; k < 3; k++) sum += Math.abs(data[i + k]! - data[i + k - 4]!);
      return sum / (data.length / 4);
    }, y);
  }

  /** Waits until a strip of the stage shows more detail than this. */
  async sharperThan(y: number, detail: number): Promise<void> {
    await expect.poll(() => this.detailAt(y)).toBeGreaterThan(detail);
  }

  /** Waits until a strip of the stage shows less detail than this. */
  async softerThan(y: number, detail: number): Promise<void> {
    await expect.poll(() => this.detailAt(y)).toBeLessThan(detail);
  }

  async dragBy(handle: Locator, dx: number, dy: number, steps = 8): Promise<void> {
    const box = (await handle.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    await this.page.mouse.move(x + dx, y + dy, { steps });
    await this.page.mouse.up();
  }

  /** A place of the picture, given as fractions, on the page. */
  async at(x: number, y: number): Promise<[number, number]> {
    const box = (await this.picture.boundingBox())!;
    return [box.x + box.width * x, box.y + box.height * y];
  }

  /** Draws a line through places of the picture, with the hand down. */
  async draw(...places: [number, number][]): Promise<void> {
    await this.page.mouse.move(...(await this.at(...places[0]!)));
    await this.page.mouse.down();
    for (const place of places.slice(1))
      await this.page.mouse.move(...(await this.at(...place)), { steps: 8 });
    await this.page.mouse.up();
  }

  /** Presses one of the ways to add something to the field. */
  add(way: string): Promise<void> {
    return this.page
      .getByRole('group', { name: 'Add focus' })
      .getByRole('button', { name: way, exact: true })
      .click();
  }

  /** Adds a band by a drag on the picture. */
  async place(kind: string, from: [number, number], to: [number, number]): Promise<void> {
    await this.add(kind);
    await this.draw(from, to);
    await this.settled();
  }

  /** Asks for files of a size, in the step of the output. */
  async size(by: string, value: number): Promise<void> {
    await this.page.getByRole('combobox', { name: 'Size' }).click();
    await this.page.getByRole('option', { name: by }).click();
    await this.number(by).fill(String(value));
    await this.number(by).press('Enter');
  }

  get list(): Locator {
    return this.page.getByRole('region', { name: 'Focus layers' });
  }

  /** Haze at a place of the picture, in percent, as the status line reads it. */
  async hazeAt(x: number, y: number): Promise<number> {
    const [px, py] = await this.at(x, y);
    await this.page.mouse.move(px + 1, py);
    await this.page.mouse.move(px, py);
    const text = await this.page.locator('hl-stage .reading').textContent();
    return Number(/haze (\d+)%/.exec(text ?? '')?.[1] ?? NaN);
  }

  async choose(file: string | { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
    await this.step('Source');
    const [chooser] = await Promise.all([
      this.page.waitForEvent('filechooser'),
      this.page.getByRole('button', { name: 'Open file' }).click(),
    ]);
    await chooser.setFiles(file);
  }

  async useRecipe(name: string, content: string | Buffer): Promise<void> {
    await this.step('Output');
    const [chooser] = await Promise.all([
      this.page.waitForEvent('filechooser'),
      this.page.getByRole('button', { name: 'Import recipe' }).click(),
    ]);
    const mimeType = name.endsWith('.zip') ? 'application/zip' : 'application/json';
    await chooser.setFiles({ name, mimeType, buffer: Buffer.from(content) });
  }

  /** The open picture as PNG as the application writes it, and as the command line does from its source: raw pixels. */
  async bothWays(source: string, folder: string): Promise<[Buffer, Buffer]> {
    await this.step('Output');
    await this.page.getByRole('radio', { name: 'PNG' }).click();
    const exported = await this.downloadBy(this.page.getByRole('button', { name: 'Export PNG' }), folder);
    const recipe = await this.downloadBy(this.page.getByRole('button', { name: 'Export recipe' }), folder);
    const out = join(folder, 'out.png');
    const { code, error } = await render('--recipe', recipe, '--in', source, '--out', out);
    expect({ code, error }).toEqual({ code: 0, error: '' });
    // Of 16 bits sharp takes the way over a profile, although that is its own.
    const raw = (path: string): Promise<Buffer> =>
      sharp(path, { ignoreIcc: true }).removeAlpha().raw().toBuffer();
    return [await raw(exported), await raw(out)];
  }

  /** Clicks a button that ends in a download, and gives the file's path. */
  async downloadBy(button: Locator, folder: string): Promise<string> {
    const [download] = await Promise.all([this.page.waitForEvent('download'), button.click()]);
    const path = join(folder, download.suggestedFilename());
    await download.saveAs(path);
    return path;
  }
}

/** What is hard to reach or to see on a page, or in some of its parts, where by: by all of axe's rules, or by some of them. */
export async function axeViolations(page: Page, parts: string[] = [], rules?: string[]): Promise<string[]> {
  // In one piece: there are no frames to gather from, which takes a page of its own each time.
  const axe = new AxeBuilder({ page }).setLegacyMode().exclude('canvas');
  for (const part of parts) axe.include(part);
  if (rules) axe.withRules(rules);
  const { violations } = await axe.analyze();
  return violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`,
  );
}

/** Renders by the command line. */
export const render = (...args: string[]): Promise<Ran> =>
  ran(process.execPath, join(root, 'server/dist/render.mjs'), ...args);

/** The same as people call it. */
export const renderByNpm = (...args: string[]): Promise<Ran> =>
  ran('npm', 'run', '-s', 'render', '--', ...args);

interface Ran {
  code: number;
  out: string;
  error: string;
}

async function ran(program: string, ...args: string[]): Promise<Ran> {
  try {
    const { stdout, stderr } = await promisify(execFile)(program, args, { cwd: root });
    return { code: 0, out: stdout, error: stderr };
  } catch (failure) {
    const { code, stdout, stderr } = failure as { code: number; stdout: string; stderr: string };
    return { code, out: stdout, error: stderr };
  }
}

/** A picture of coloured detail as an encoded file. */
export function detailed(width: number, height: number): Sharp {
  const data = Buffer.alloc(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const check = ((x >> 3) + (y >> 3)) % 2;
    data[i * 3] = check ? 220 : 60 + ((x * 7) % 60);
    data[i * 3 + 1] = Math.round(110 + 90 * Math.sin(x / 13) * Math.cos(y / 17));
    data[i * 3 + 2] = (x * 31 + y * 17) % 256;
  }
  return sharp(data, { raw: { width, height, channels: 3 } });
}

export { join, readFile, sharp, writeFile };

/** Opens the demo's time-lapse as a project of its own. */
export async function openClip(app: App): Promise<void> {
  await app.project.click();
  await app.page.getByRole('button', { name: 'Start with Tram loop, time-lapse' }).click();
  await expect(app.page.getByRole('slider', { name: 'Playhead' })).toBeVisible();
  await expect(app.page.getByText('frame 1 of 240')).toBeVisible();
  await app.settled();
}
