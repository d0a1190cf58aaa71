import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type { Page } from '@playwright/test';
import { detailed, expect, join, openClip, readFile, sharp, test, writeFile } from './fixtures';

/** Has pages come as from another server: without the headers that let threads share memory. */
async function withoutIsolation(page: Page): Promise<void> {
  await page.route(
    (url) => url.pathname === '/',
    async (route) => {
      const response = await route.fetch();
      const headers = response.headers();
      delete headers['cross-origin-opener-policy'];
      delete headers['cross-origin-embedder-policy'];
      await route.fulfill({ response, headers });
    },
  );
}

test('without settings, locks and a database one works on, and is told that nothing is kept', async ({
  unopened: app,
  page,
  folder,
}) => {
  await page.addInitScript(() => {
    const denied = {
      get: () => {
        throw new DOMException('denied', 'SecurityError');
      },
    };
    for (const kind of ['localStorage', 'sessionStorage'] as const)
      Object.defineProperty(window, kind, denied);
    Object.defineProperty(window, 'indexedDB', { value: undefined });
    // Nor does each browser let itself be told of colour spaces.
    window.ImageData = new Proxy(ImageData, {
      construct(target, how: unknown[]) {
        if (how.some((one) => typeof one === 'object' && !ArrayBuffer.isView(one)))
          throw new TypeError('ImageData constructor: Argument 1 is not an object.');
        return Reflect.construct(target, how) as ImageData;
      },
    });
    Reflect.deleteProperty(Navigator.prototype, 'locks');
  });
  await app.open();
  await expect(app.notice).toHaveCount(1);
  await expect(app.notice).toContainText(
    'couldn’t be kept in this browser (this browser lets Hazy Lens keep nothing). You can work on it and export it.',
  );
  await app.step('Output');
  await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
});

test('where threads share no memory the page renders by itself, and the files are the same', async ({
  unopened: app,
  page,
  folder,
}) => {
  await withoutIsolation(page);
  await app.open();
  expect(await page.evaluate(() => globalThis.crossOriginIsolated)).toBe(false);
  await expect(page.getByRole('status').filter({ hasText: 'This window can’t use all cores' })).toBeVisible();

  // A spot is filled: what workers change comes back from them.
  const source = join(folder, 'source.png');
  await writeFile(source, await detailed(360, 240).png().toBuffer());
  await app.choose({ name: 'roofs.png', mimeType: 'image/png', buffer: await readFile(source) });
  await expect(app.project).toHaveText('roofs');
  await app.step('Tidy');
  await page.getByRole('radio', { name: 'Fill' }).click();
  await app.draw([0.4, 0.5], [0.42, 0.5]);
  await expect(page.getByRole('switch', { name: 'Fill 1 on' })).toBeVisible();
  await expect(page.getByRole('progressbar', { name: 'Rendering touch-ups' })).toHaveCount(0);
  const [ours, theirs] = await app.bothWays(source, folder);
  expect(Buffer.compare(ours, theirs)).toBe(0);
  // Only what browsers write by themselves is offered.
  await expect(page.getByRole('radiogroup', { name: 'File format' }).getByRole('radio')).toHaveText([
    'JPEG',
    'PNG',
    'WebP',
  ]);
  await page.getByRole('radio', { name: 'JPEG' }).click();
  const jpeg = await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
  expect(await sharp(jpeg).metadata()).toMatchObject({ format: 'jpeg', width: 360, height: 240 });

  // Transparent places are read by the browser, too; what it can’t read is named.
  const clear = await detailed(90, 60).ensureAlpha(0.5).png().toBuffer();
  await app.choose({ name: 'glass.png', mimeType: 'image/png', buffer: clear });
  await expect(app.project).toHaveText('glass');
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  const png = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  expect((await sharp(png).stats()).channels[3]).toMatchObject({ min: 127, max: 127 });
  await app.choose({
    name: 'plate.tif',
    mimeType: 'image/tiff',
    buffer: await detailed(9, 6).tiff().toBuffer(),
  });
  await expect(app.notice).toContainText('“plate.tif” can’t be opened: this browser doesn’t read its TIFF');
  expect(app.complaints).toEqual([]);
});

test('where threads share no memory footage is shown and exported', async ({
  unopened: app,
  page,
  folder,
}) => {
  await withoutIsolation(page);
  await app.open();
  await openClip(app);
  await page.getByRole('slider', { name: 'Playhead' }).press('ArrowRight');
  await expect(page.getByText('frame 2 of 240')).toBeVisible();
  await app.settled();
  // Deflicker and the noise of its frames are measured in workers.
  const recipe = {
    format: 'hazy-lens-recipe',
    version: 1,
    pace: { trim: [0, 0.4], deflicker: { amount: 1 } },
    finish: { grain: { match: 0.8 } },
  };
  await app.useRecipe('start.json', JSON.stringify(recipe));
  await expect(page.getByRole('button', { name: 'Undo: recipe “start.json”' })).toBeEnabled();
  await app.step('Output');
  await app.settled();
  const clip = await app.downloadBy(page.getByRole('button', { name: 'Export MP4, H.264' }), folder);
  const facts = ['-show_entries', 'stream=codec_name,nb_read_frames', '-of', 'csv=p=0'];
  const { stdout } = await promisify(execFile)('ffprobe', ['-v', 'error', '-count_frames', ...facts, clip]);
  expect(stdout.trim()).toBe('h264,12');
  expect(app.complaints).toEqual([]);
});
