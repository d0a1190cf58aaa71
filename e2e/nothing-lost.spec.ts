import { writeFile } from 'node:fs/promises';
import { rawFile } from '../core/test/raw-file';
import { App, detailed, expect, join, readFile, sharp, test } from './fixtures';

const deepPng = (): Promise<Buffer> =>
  sharp(
    Uint16Array.from({ length: 240 * 160 * 3 }, (_, i) => Math.imul(i + 3, 40503) & 0xffff),
    { raw: { width: 240, height: 160, channels: 3 } },
  )
    .toColourspace('rgb16')
    .png()
    .toBuffer();

test('a raw file is developed, in the browser as on the command line', async ({ app, page, folder }) => {
  const light = (x: number, y: number) => [x / 300, y / 200, (x + y) % 40 < 20 ? 0.15 : 0.5] as const;
  const file = Buffer.from(
    rawFile({ width: 300, height: 200, light, noise: { dark: 0.002, photons: 8000 } }),
  );
  const path = join(folder, 'square.dng');
  await writeFile(path, file);
  await app.choose({ name: 'square.dng', mimeType: 'image/x-adobe-dng', buffer: file });
  await expect(app.project).toHaveText('square');
  await expect(page.getByText('RAW, 16 bits per channel')).toBeVisible();
  await app.settled();
  const [ours, theirs] = await app.bothWays(path, folder);
  expect(ours.length).toBe(theirs.length);
  expect(Buffer.compare(ours, theirs)).toBe(0);
  // One that is cut short is told by name, and takes nothing away.
  await app.choose({ name: 'cut.dng', mimeType: 'image/x-adobe-dng', buffer: file.subarray(0, 900) });
  await expect(app.notice).toContainText('cut.dng');
  await expect(app.project).toHaveText('square');
});

test('a picture of 16 bits stays one, through the stage and into PNG and TIFF', async ({
  app,
  page,
  folder,
}) => {
  const source = await deepPng();
  await app.choose({ name: 'deep.png', mimeType: 'image/png', buffer: source });
  await expect(app.project).toHaveText('deep');
  await expect(page.getByText('PNG, 16 bits per channel')).toBeVisible();
  await app.step('Colour');
  await page.getByRole('switch', { name: 'Colour' }).click();
  await page.getByRole('switch', { name: 'Blur' }).click();
  await app.step('Output');
  const before = await sharp(source).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  for (const kind of ['PNG', 'TIFF']) {
    await page.getByRole('radio', { name: kind, exact: true }).click();
    await page.getByRole('radio', { name: '16-bit', exact: true }).first().click();
    const file = await app.downloadBy(page.getByRole('button', { name: `Export ${kind}` }), folder);
    const meta = await sharp(file).metadata();
    expect(meta).toMatchObject({ width: 240, height: 160, depth: 'ushort' });
    expect(meta.icc ?? (await readFile(file)).includes('sRGB')).toBeTruthy();
    const after = await sharp(file, { ignoreIcc: true })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer();
    expect(Buffer.compare(before, after)).toBe(0);
  }
  // A file of 8 bits can be wanted of it, too; and of a JPEG its colour as fine as its brightness.
  await page.getByRole('radio', { name: 'PNG', exact: true }).click();
  await page.getByRole('radio', { name: '8-bit', exact: true }).first().click();
  const plain = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  expect(await sharp(plain).metadata()).toMatchObject({ depth: 'uchar', channels: 3 });
  await page.getByRole('radio', { name: 'JPEG', exact: true }).click();
  for (const [name, chromaSubsampling] of [
    ['4:4:4', '4:4:4'],
    ['4:2:0', '4:2:0'],
  ] as const) {
    await page.getByRole('radio', { name, exact: true }).click();
    const jpeg = await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
    const meta = await sharp(jpeg).metadata();
    expect(meta).toMatchObject({ width: 240, height: 160, chromaSubsampling });
  }
  await page.getByRole('radio', { name: 'AVIF', exact: true }).click();
  const avif = await app.downloadBy(page.getByRole('button', { name: 'Export AVIF' }), folder);
  expect(await sharp(avif).metadata()).toMatchObject({ format: 'heif', width: 240, height: 160 });
  const heic = await readFile('web/test/fixtures/tram-loop.heic');
  await app.choose({ name: 'phone.heic', mimeType: 'image/heic', buffer: heic });
  await expect(page.getByText('HEIC, 8 bits per channel')).toBeVisible();
});

test('a subject that is being cut out while the page is left is there afterwards, whole', async ({
  app,
  page,
  folder,
}) => {
  await app.add('Subject');
  await app.draw([0.4, 0.5], [0.45, 0.55], [0.5, 0.5]);
  await page.getByRole('radio', { name: 'Outside', exact: true }).click();
  await app.draw([0.2, 0.2], [0.2, 0.8], [0.8, 0.8]);
  await expect(page.getByText('cutting out…')).toBeVisible();
  await page.reload();
  await app.settled();
  await app.list.getByRole('button', { name: /^Subject 1/ }).click();
  await expect(page.getByText('cutting out…')).toHaveCount(0);
  const matte = await app.downloadBy(page.getByRole('button', { name: 'Export matte' }), folder);
  expect(await sharp(matte).metadata()).toMatchObject({ width: 960, height: 640 });
  await app.step('Output');
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  expect(recipe).toMatch(/recipe\.zip$/);
});

test.describe('of a large picture', () => {
  // Its exports take long enough to work elsewhere meanwhile.
  test.use({ smallDemo: false });

  test('exports go on while one works elsewhere, one after the other, each under its own name', async ({
    app,
    page,
    folder,
  }) => {
    await app.step('Output');
    await page.getByLabel('File name').fill('first');
    const downloads: Promise<string>[] = [];
    page.on('download', (download) => {
      const path = join(folder, download.suggestedFilename());
      downloads.push(download.saveAs(path).then(() => path));
    });
    await page.getByRole('radio', { name: 'PNG', exact: true }).click();
    await page.getByRole('button', { name: 'Export PNG' }).click();
    await page.getByLabel('File name').fill('second');
    await page.getByRole('button', { name: 'Export PNG' }).click();
    await app.step('Focus');
    const jobs = page.getByRole('group', { name: /^Export of/ });
    await expect(
      jobs.filter({ hasText: 'second.png' }).getByRole('button', { name: 'Cancel' }),
    ).toBeVisible();
    await app.choose({
      name: 'kites.png',
      mimeType: 'image/png',
      buffer: await detailed(300, 200).png().toBuffer(),
    });
    await expect(app.project).toHaveText('kites');
    await app.step('Output');
    await expect(page.getByLabel('File name')).toHaveValue('kites edit');
    await expect(jobs).toHaveCount(0, { timeout: 90_000 });
    // The browser tells of a download after the page is done with it.
    await expect.poll(() => downloads.length).toBe(2);
    const names = (await Promise.all(downloads)).map((path) => path.split('/').at(-1));
    expect(names).toEqual(['first.png', 'second.png']);
    for (const name of names)
      expect(await sharp(join(folder, name!)).metadata()).toMatchObject({ width: 4800, height: 3200 });
  });
});

test('a hand far beside the picture, a second finger and a step back under the hand break nothing', async ({
  app,
  page,
}) => {
  for (let i = 0; i < 12; i++) await page.keyboard.press('-');
  await app.settled();
  const stage = (await page.locator('hl-stage').boundingBox())!;
  await app.add('Sounding');
  await page.mouse.click(stage.x + 6, stage.y + 20);
  await page.mouse.move(stage.x + 40, stage.y + 60);
  await page.mouse.down();
  await page.mouse.move(stage.x + 60, stage.y + 90);
  await page.keyboard.press('Control+z');
  await page.mouse.move(stage.x + 80, stage.y + 120, { steps: 4 });
  await page.mouse.up();
  await app.add('Planar');
  await page.mouse.move(stage.x + 5, stage.y + 40);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width - 5, stage.y + 300, { steps: 3 });
  await page.mouse.up();
  await expect(app.list.getByRole('button', { name: /^Planar 2/ })).toBeVisible();
  // A page left within the write itself asks first; here it is about what was written.
  await app.saved();
  await page.reload();
  await app.settled();
  await expect(app.list.getByRole('button', { name: /^Planar 2/ })).toBeVisible();
  await expect(app.notice).toHaveCount(0);

  await app.add('Brush');
  const touch = await page.context().newCDPSession(page);
  const finger = async (type: 'touchStart' | 'touchMove' | 'touchEnd', ...places: [number, number][]) => {
    const touchPoints = await Promise.all(
      places.map(async (place, id) => {
        const [x, y] = await app.at(...place);
        return { x, y, id };
      }),
    );
    await touch.send('Input.dispatchTouchEvent', { type, touchPoints });
  };
  await finger('touchStart', [0.3, 0.2]);
  await finger('touchMove', [0.4, 0.2]);
  await finger('touchStart', [0.4, 0.2], [0.8, 0.8]);
  await finger('touchMove', [0.4, 0.2], [0.8, 0.7]);
  await finger('touchMove', [0.6, 0.2], [0.8, 0.6]);
  await finger('touchEnd');
  await expect(app.list.getByRole('button', { name: /^Brush/ })).toContainText('1 stroke');
  await expect.poll(() => app.hazeAt(0.55, 0.2)).toBeLessThan(30);
});

test('the hand lands where it points when the window becomes another size', async ({ app, page }) => {
  await app.add('Sounding');
  /** How far a sounding's mark stands from the place that was clicked. */
  const missedBy = async (x: number, nth: number): Promise<[number, number]> => {
    const [px, py] = await app.at(x, 0.5);
    await page.mouse.click(px, py);
    const mark = (await page.locator('hl-sounding-marks .mark').nth(nth).boundingBox())!;
    return [Math.round(mark.x - px) + 0, Math.round(mark.y - py) + 0];
  };
  const still = await missedBy(0.4, 0);
  for (const [i, width] of [1020, 760].entries()) {
    await page.setViewportSize({ width, height: 700 });
    await app.settled();
    expect(await missedBy(0.5 + 0.2 * i, 1 + i)).toEqual(still);
  }
});

test('tabs know of each other: a new name arrives, and what is open elsewhere is not deleted', async ({
  app,
  context,
  page,
}) => {
  const second = new App(await context.newPage());
  await second.open();
  await second.choose({
    name: 'lamps.png',
    mimeType: 'image/png',
    buffer: await detailed(90, 60).png().toBuffer(),
  });
  await expect(second.project).toHaveText('lamps');
  await second.project.click();
  const dialog = second.page.getByRole('dialog');
  const more = dialog.getByRole('button', { name: 'More for Tram loop' });
  await more.click();
  await second.page.getByRole('menuitem', { name: 'Rename' }).click();
  await dialog.getByRole('textbox', { name: 'New name' }).fill('Tram loop at noon');
  await dialog.getByRole('textbox', { name: 'New name' }).press('Enter');
  await expect(app.project).toHaveText('Tram loop at noon');
  await dialog.getByRole('button', { name: 'More for Tram loop at noon' }).click();
  await second.page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(second.page.getByText('is open in another tab. Close it there first')).toBeVisible();
  await page.close();
  await dialog.getByRole('button', { name: 'More for Tram loop at noon' }).click();
  await second.page.getByRole('menuitem', { name: 'Delete' }).click();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await second.project.click();
  await expect(dialog.getByText('Recently deleted')).toBeVisible();
  await dialog.getByRole('button', { name: 'Restore' }).click();
  await expect(dialog.getByRole('button', { name: 'Open Tram loop at noon' })).toBeVisible();
});
