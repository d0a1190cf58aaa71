import type { Page } from '@playwright/test';
import { App, detailed, expect, readFile, test } from './fixtures';

const picture = (name: string, buffer: Buffer) => ({ name, mimeType: 'image/png', buffer });

test('files that are no pictures are refused by name, and the project stays', async ({ app }) => {
  const jpeg = await detailed(600, 400).jpeg().toBuffer();
  const png = await detailed(300, 200).png().toBuffer();
  const zero = Buffer.from(png);
  zero.writeUInt32BE(0, 16);
  const cases: [string, Buffer, RegExp][] = [
    ['notes.png', Buffer.from('These are notes, not a picture.'), /“notes\.png” isn’t a supported picture/],
    ['empty.jpg', Buffer.alloc(0), /“empty\.jpg” is empty/],
    ['cut.jpg', jpeg.subarray(0, jpeg.length / 2), /“cut\.jpg” can’t be opened: the file is cut short/],
    ['cut.png', png.subarray(0, png.length / 2), /“cut\.png” can’t be opened: the file is cut short/],
    [
      'cut.tif',
      (await detailed(300, 200).tiff({ compression: 'none' }).toBuffer()).subarray(0, 5000),
      /“cut\.tif” can’t be opened: the file is cut short/,
    ],
    ['nothing.png', zero, /“nothing\.png” is damaged: the PNG inside can’t be decoded/],
    [
      'wide.png',
      await detailed(30000, 3).png().toBuffer(),
      /“wide\.png” wasn’t opened. It is 30000 x 3 pixels.*up to 20000 pixels on a side.*memory/,
    ],
  ];
  for (const [name, buffer, message] of cases) {
    await app.choose(picture(name, buffer));
    await expect(app.notice).toContainText(message);
    await expect(app.project).toHaveText('Tram loop');
    await app.notice.getByRole('button').click();
  }
});

test('odd pictures open as what they are', async ({ app, page }) => {
  const small = detailed(64, 48);
  const cases: [string, Buffer, string, string][] = [
    ['dot.png', await detailed(1, 1).png().toBuffer(), 'PNG', '1 × 1 px'],
    ['wrong-name.jpg', await small.clone().png().toBuffer(), 'PNG', '64 × 48 px'],
    [
      'deep.tif',
      await small.clone().toColourspace('rgb16').tiff({ compression: 'lzw' }).toBuffer(),
      'TIFF',
      '64 × 48 px',
    ],
    ['still.gif', await small.clone().gif().toBuffer(), 'GIF', '64 × 48 px'],
    ['modern.avif', await small.clone().avif().toBuffer(), 'AVIF', '64 × 48 px'],
    [
      'turned.jpg',
      await small.clone().withMetadata({ orientation: 6 }).jpeg().toBuffer(),
      'JPEG',
      '48 × 64 px',
    ],
    ['strip.webp', await detailed(900, 2).webp().toBuffer(), 'WEBP', '900 × 2 px'],
  ];
  for (const [name, buffer, kind, size] of cases) {
    await app.choose(picture(name, buffer));
    await expect(app.project).toHaveText(name.replace(/\..*/, ''));
    await expect(page.locator('hl-source-panel dl').first()).toContainText(kind);
    await expect(page.locator('hl-source-panel dl').first()).toContainText(size);
    await app.step('Focus');
  }
});

test('a recipe that cannot be used changes nothing; a good one is one step back', async ({ app, page }) => {
  const base = { format: 'hazy-lens-recipe', version: 1 };
  // Far more points than a page could bear.
  const points = Array.from({ length: 500 }, (_, i) => [i / 500, 0.7]);
  const strokes = Array.from({ length: 2000 }, () => ({ mode: 'haze', radius: 0.001, points }));
  const cases: [string, string, RegExp][] = [
    [
      'many.json',
      JSON.stringify({ ...base, focus: { strokes, rest: 'most' } }),
      /“many\.json” can’t be applied. focus\.rest/,
    ],
    [
      'type.json',
      JSON.stringify({ ...base, blur: { radius: '9' } }),
      /“type\.json” can’t be applied. blur\.radius/,
    ],
    [
      'nan.json',
      '{"format":"hazy-lens-recipe","version":1,"blur":{"radius":NaN}}',
      /“nan\.json” can’t be applied. Not valid JSON/,
    ],
    ['old.json', JSON.stringify({ format: 'hazy-lens-recipe' }), /version: is missing/],
    ['new.json', JSON.stringify({ ...base, version: 7 }), /of version 7.*Update Hazy Lens/],
  ];
  for (const [name, text, message] of cases) {
    await app.useRecipe(name, text);
    await expect(app.notice).toContainText(message);
    await app.notice.getByRole('button').click();
  }
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();
  await app.useRecipe('calm.json', JSON.stringify({ ...base, colour: { saturation: -1 } }));
  await expect(page.getByRole('button', { name: 'Undo: recipe “calm.json”' })).toBeEnabled();
  await expect
    .poll(async () => {
      const grey = await app.colourAt(0.5, 0.5);
      return Math.max(...grey) - Math.min(...grey);
    })
    .toBeLessThan(8);
  await app.useRecipe('strokes.json', JSON.stringify({ ...base, focus: { strokes } }));
  await expect(page.getByRole('button', { name: 'Undo: recipe “strokes.json”' })).toBeEnabled();
});

test('when the storage is full the work goes on and says what is not kept', async ({ app, page }) => {
  await page.evaluate(() => {
    const refuse = (): never => {
      throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
    };
    Object.assign(window, { put: IDBObjectStore.prototype.put });
    IDBObjectStore.prototype.put = refuse;
  });
  await app.step('Colour');
  await app.number('Saturation').fill('55');
  await app.number('Saturation').press('Enter');
  await expect(app.notice).toContainText('storage is full: your latest changes aren’t saved');
  await expect(app.number('Saturation')).toHaveValue('55');
  await expect(page.getByRole('banner').getByText('Not saved')).toBeVisible();
  await app.choose(picture('kites.png', await detailed(200, 100).png().toBuffer()));
  await expect(app.notice.filter({ hasText: '“kites.png” can’t be saved' })).toBeVisible();
  await expect(app.project).toHaveText('Tram loop');
  await page.getByRole('button', { name: 'Discard and open' }).click();
  await expect(app.project).toHaveText('kites');
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = (window as unknown as { put: typeof IDBObjectStore.prototype.put }).put;
  });
  await expect(page.getByRole('banner').getByText('Not saved')).toBeHidden();
  await expect(app.notice).toHaveCount(0);
  await page.reload();
  await expect(app.project).toHaveText('kites');
});

test('a second tab on the same project says so and goes on with a copy', async ({ app, context }) => {
  const next = new App(await context.newPage());
  await next.page.goto('/');
  const noteIn = (page: Page) => page.getByRole('status').filter({ hasText: 'open in another tab' });
  await expect(noteIn(next.page)).toContainText('“Tram loop” is open in another tab');
  const other = await context.newPage();
  await other.goto('/');
  await noteIn(other).getByRole('button', { name: 'Make copy' }).click();
  await expect(other.getByRole('banner').getByRole('button').first()).toHaveText('Tram loop copy');
  await other.close();
  await expect(app.project).toHaveText('Tram loop');

  // Where the tab that saves is closed, the next one does, with what was changed in it.
  await next.step('Colour');
  await next.number('Saturation').fill('21');
  await next.number('Saturation').press('Enter');
  await app.page.close();
  await expect(next.page.getByRole('status').filter({ hasText: 'This tab saves it now' })).toBeVisible();
  await next.saved();
  await next.page.reload();
  await expect(next.picture).toBeVisible();
  await next.step('Colour');
  await expect(next.number('Saturation')).toHaveValue('21');
  expect(next.complaints).toEqual([]);
});

test.describe('a large picture', () => {
  // Its export takes seconds: long enough for a hand to cancel it.
  test.use({ smallDemo: false });

  test('an export can be cancelled and leaves no file', async ({ app, page, folder }) => {
    await app.step('Output');
    let downloads = 0;
    page.on('download', () => downloads++);
    await page.getByRole('radio', { name: 'PNG' }).click();
    await page.getByRole('button', { name: 'Export PNG' }).click();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await expect(page.getByText('Export cancelled. No file was saved')).toBeVisible();
    expect(downloads).toBe(0);
    const file = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
    expect((await readFile(file)).length).toBeGreaterThan(1e6);
  });
});
