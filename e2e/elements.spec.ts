import { unzipSync } from 'fflate';
import { detailed, expect, join, readFile, render, sharp, test, writeFile } from './fixtures';
import type { App } from './fixtures';

const [WIDTH, HEIGHT] = [900, 600];

/** A red kite of 120 x 80, its right half not there. */
const kite = (): Promise<Buffer> => {
  const rgba = Buffer.alloc(4 * 120 * 80);
  for (let i = 0; i < 120 * 80; i++) rgba.set([220, 30, 20, i % 120 < 60 ? 255 : 0], 4 * i);
  return sharp(rgba, { raw: { width: 120, height: 80, channels: 4 } })
    .png()
    .toBuffer();
};

/** A still of its own, sharp all over, in the step of the focus. */
async function openStill(app: App): Promise<Buffer> {
  const buffer = await detailed(WIDTH, HEIGHT).png().toBuffer();
  await app.choose({ name: 'meadow.png', mimeType: 'image/png', buffer });
  await expect(app.project).toHaveText('meadow');
  await app.step('Focus');
  return buffer;
}

async function addKite(app: App): Promise<void> {
  const [chooser] = await Promise.all([
    app.page.waitForEvent('filechooser'),
    app.page.getByRole('button', { name: 'Add element' }).click(),
  ]);
  await chooser.setFiles({ name: 'kite.png', mimeType: 'image/png', buffer: await kite() });
  await expect(app.page.getByRole('slider', { name: 'Place of kite' })).toBeVisible();
  await app.settled();
}

/** Pixels of the exported picture, and of what the command line makes of the saved recipe and the same source. */
async function rendered(app: App, folder: string, source: Buffer) {
  const { page } = app;
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  const zip = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  const files = unzipSync(await readFile(zip));
  for (const [name, bytes] of Object.entries(files)) await writeFile(join(folder, name), bytes);
  await writeFile(join(folder, 'in.png'), source);
  const line = ['--recipe', join(folder, 'recipe.json'), '--in', join(folder, 'in.png')];
  const result = await render(...line, '--out', join(folder, 'out.png'));
  expect(result.code, result.error).toBe(0);
  const pixels = (path: string): Promise<Buffer> => sharp(path).removeAlpha().raw().toBuffer();
  const [ours, theirs] = [await pixels(exported), await pixels(join(folder, 'out.png'))];
  return { ours, theirs, files, zip };
}

const isRed = ([r, g, b]: number[]): boolean => r! > 170 && g! < 90 && b! < 90;

test('an element is added, held by its grips, given a focus of its own, exported and rendered on the command line', async ({
  app,
  page,
  folder,
}) => {
  const source = await openStill(app);
  await addKite(app);
  // Its left half is there, at its own size in the middle.
  const seen = (x: number, y: number) => expect.poll(async () => isRed(await app.colourAt(x, y)));
  await seen(0.46, 0.5).toBe(true);
  await seen(0.54, 0.5).toBe(false);
  await expect(app.number('Width of the element')).toHaveValue('120');

  // The hand moves it, sizes it at a corner, turns it; a step back for each.
  const [x, y] = await app.at(0.5, 0.5);
  const [right] = await app.at(0.7, 0.5);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(right, y, { steps: 6 });
  await page.mouse.up();
  await expect(app.number('Centre of the element, across in pixels')).toHaveValue('630');
  await seen(0.66, 0.5).toBe(true);
  await seen(0.46, 0.5).toBe(false);
  await app.dragBy(page.getByRole('slider', { name: 'Width of kite, corner 3' }), 30, 20);
  await expect
    .poll(async () => Number(await app.number('Width of the element').inputValue()))
    .toBeGreaterThan(150);
  await app.dragBy(page.getByRole('slider', { name: 'Rotation of kite' }), 60, 30);
  await expect
    .poll(async () => Number(await app.number('Rotation of the element').inputValue()))
    .toBeGreaterThan(20);
  for (const label of ['rotation of element', 'width of element'])
    await page.getByRole('button', { name: `Undo: ${label}` }).click();
  await expect(app.number('Width of the element')).toHaveValue('120');
  // And the keyboard does.
  await page.getByRole('slider', { name: 'Place of kite' }).press('Shift+ArrowLeft');
  await expect(app.number('Centre of the element, across in pixels')).toHaveValue('620');

  // Its haze is its own: the picture stays as sharp as it is.
  await app.step('Blur');
  await app.number('Blur radius').fill('20');
  await app.number('Blur radius').press('Enter');
  await app.step('Focus');
  const sharpness = await app.detailAt(0.55);
  await app.number('Haze of the element').fill('100');
  await app.number('Haze of the element').press('Enter');
  // Beyond its outline there is some of it now.
  const beside = async (): Promise<number> => (await app.colourAt((620 - 66) / 900, 0.5))[0]!;
  await app.settled();
  const soft = await beside();
  expect(await app.detailAt(0.55)).toBeGreaterThan(sharpness * 0.9);
  // A band that is added now is the element's: it clears it.
  await app.add('Elliptical');
  await app.draw([0.7, 0.5], [0.9, 0.5]);
  await app.settled();
  await expect(app.list.getByRole('button', { name: /^Elliptical 1/ })).toBeVisible();
  await expect.poll(beside).not.toBe(soft);
  // The picture's own field has no such band.
  await page.getByRole('button', { name: 'Picture', exact: true }).click();
  await expect(app.list.getByRole('button', { name: /^Elliptical/ })).toHaveCount(0);
  await page.getByRole('button', { name: /^kite; / }).click();

  // It comes back after a reload.
  await app.saved();
  await page.reload();
  await expect(app.project).toHaveText('meadow');
  await app.step('Focus');
  await page.getByRole('button', { name: /^kite; / }).click();
  await seen(0.65, 0.5).toBe(true);

  // The file, and the same from the recipe's zip on the command line.
  const { ours, theirs, files, zip } = await rendered(app, folder, source);
  expect(zip).toMatch(/\.recipe\.zip$/);
  expect(Object.keys(files).filter((name) => /^element-.*\.png$/.test(name))).toHaveLength(1);
  expect(Buffer.compare(ours, theirs)).toBe(0);
  const at = (300 * WIDTH + 590) * 3;
  expect(isRed([...ours.subarray(at, at + 3)])).toBe(true);

  // The recipe brings its element along to another picture.
  await app.choose({ name: 'other.png', mimeType: 'image/png', buffer: source });
  await expect(app.project).toHaveText('other');
  await app.step('Focus');
  await seen(0.65, 0.5).toBe(false);
  await app.useRecipe('kite.recipe.zip', await readFile(zip));
  await seen(0.65, 0.5).toBe(true);
});

test('elements are ordered, doubled, pasted and stand on the ground; what cannot be one is told', async ({
  app,
  page,
}) => {
  await openStill(app);
  await addKite(app);
  const rows = page.locator('hl-element-list .choose');
  await expect(rows).toHaveText(['kite', 'Picture']);
  await page.getByRole('button', { name: 'More for kite' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(rows).toHaveText(['kite copy', 'kite', 'Picture']);
  await page.getByRole('button', { name: /^kite; / }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(rows).toHaveText(['kite', 'kite copy', 'Picture']);
  await page.getByRole('switch', { name: 'Show kite copy' }).click();
  await page.getByRole('button', { name: 'More for kite copy' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(rows).toHaveText(['kite', 'Picture']);
  await page.getByRole('button', { name: /^kite; / }).click();

  // In the planar field of a new project the ground is clear in the middle and hazy far above.
  await page.getByRole('switch', { name: 'Standing' }).click();
  await expect(page.getByRole('slider', { name: 'Foot of kite' })).toBeVisible();
  await expect(app.number('Haze of the element')).toHaveCount(0);
  const foot = page.getByRole('slider', { name: 'Foot of kite' });
  const before = Number(await foot.getAttribute('aria-valuenow'));
  await foot.press('ArrowDown');
  await expect
    .poll(async () => Number(await foot.getAttribute('aria-valuenow')))
    .toBeGreaterThanOrEqual(before);
  await page.getByRole('switch', { name: 'Standing' }).click();

  // Copied, it goes along to another project.
  await page.getByRole('button', { name: 'More for kite' }).click();
  await page.getByRole('menuitem', { name: 'Copy for another project' }).click();
  const buffer = await detailed(300, 200).png().toBuffer();
  await app.choose({ name: 'small.png', mimeType: 'image/png', buffer });
  await expect(app.project).toHaveText('small');
  await app.step('Focus');
  await page.getByRole('button', { name: 'Paste', exact: true }).click();
  await expect(rows).toHaveText(['kite', 'Picture']);
  await app.settled();
  await expect.poll(async () => isRed(await app.colourAt(0.46, 0.5))).toBe(true);

  // A pasted cut-out becomes an element, and may be a project all the same.
  const bytes = [...(await kite())];
  await page.evaluate((list) => {
    const clipboardData = new DataTransfer();
    clipboardData.items.add(new File([Uint8Array.from(list)], 'pasted.png', { type: 'image/png' }));
    window.dispatchEvent(new ClipboardEvent('paste', { clipboardData }));
  }, bytes);
  await expect(rows).toHaveText(['pasted', 'kite', 'Picture']);
  await page.getByRole('button', { name: 'Open as a project' }).click();
  await expect(app.project).toHaveText('pasted');

  // An opaque picture is opened, whatever step is in view.
  await app.step('Focus');
  const opaque = [...(await detailed(30, 20).png().toBuffer())];
  await page.evaluate((list) => {
    const clipboardData = new DataTransfer();
    clipboardData.items.add(new File([Uint8Array.from(list)], 'opaque.png', { type: 'image/png' }));
    window.dispatchEvent(new ClipboardEvent('paste', { clipboardData }));
  }, opaque);
  await expect(app.project).toHaveText('opaque');

  // What is no picture is told, and nothing changes.
  await app.step('Focus');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add element' }).click(),
  ]);
  await chooser.setFiles({
    name: 'letter.png',
    mimeType: 'image/png',
    buffer: Buffer.from('Dear Orrin Bank'),
  });
  await expect(app.notice).toContainText('letter.png');
  await expect(rows).toHaveCount(0);
});

test('an element on footage follows the ground, has keys of its own, and is in the file where it went', async ({
  app,
  page,
  folder,
}) => {
  await page.getByRole('banner').getByRole('button').first().click();
  await page.getByRole('button', { name: 'Start with Tram loop, time-lapse' }).click();
  await expect(page.getByRole('slider', { name: 'Playhead' })).toBeVisible();
  await app.settled();
  await app.step('Focus');
  await addKite(app);
  // Keyed by hand: it fades from here on.
  await page.getByRole('button', { name: 'Opacity of the element key' }).click();
  await expect(page.getByRole('group', { name: 'kite keys' })).toBeVisible();
  // It follows what it lies on.
  await page.getByRole('button', { name: 'Forward', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo: follow kite' })).toBeEnabled();
  const before = await app.at(0.5, 0.5);
  const grip = page.getByRole('slider', { name: 'Place of kite' });
  const placeOf = async (): Promise<[number, number]> => {
    const box = (await grip.boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  const start = await placeOf();
  expect(Math.hypot(start[0] - before[0], start[1] - before[1])).toBeLessThan(3);
  await page.getByRole('slider', { name: 'Playhead' }).focus();
  await page.keyboard.press('End');
  await app.settled();
  const end = await placeOf();
  expect(Math.hypot(end[0] - start[0], end[1] - start[1])).toBeGreaterThan(6);

  // The picture of that frame has it there.
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG', exact: true }).click();
  const exported = await app.downloadBy(
    page.getByRole('button', { name: 'Export PNG', exact: true }),
    folder,
  );
  const image = sharp(exported);
  const { width = 0, height = 0 } = await image.metadata();
  const [left, top] = await app.at(0, 0);
  const [right, bottom] = await app.at(1, 1);
  const { data } = await image.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  // Its left half is there: a little to the left of its middle.
  const x = Math.round(((end[0] - left) / (right - left)) * width - 20);
  const y = Math.round(((end[1] - top) / (bottom - top)) * height);
  const at = (y * width + x) * 3;
  expect(isRed([...data.subarray(at, at + 3)])).toBe(true);
});

test('a lifted subject goes soft over a background that is filled in behind it', async ({
  app,
  page,
  folder,
}) => {
  // A red disc in the clear strip of a still.
  const disc = (x: number, y: number): boolean => Math.hypot(x - 450, y - 300) < 60;
  const grey = Buffer.alloc(WIDTH * HEIGHT);
  const rgb = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const at = y * WIDTH + x;
      rgb.set(disc(x, y) ? [220, 30, 20] : [90 + x / 12, 150, 90 + y / 8], 3 * at);
      if (disc(x, y)) grey[at] = 255;
    }
  const png = (data: Buffer, channels: 1 | 3): Promise<Buffer> =>
    sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels } })
      .png()
      .toBuffer();
  const source = await png(rgb, 3);
  await app.choose({ name: 'disc.png', mimeType: 'image/png', buffer: source });
  await expect(app.project).toHaveText('disc');
  await app.step('Blur');
  await app.number('Blur radius').fill('14');
  await app.number('Blur radius').press('Enter');
  await app.step('Focus');
  await app.add('Subject');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import matte' }).click(),
  ]);
  await chooser.setFiles({ name: 'matte.png', mimeType: 'image/png', buffer: await png(grey, 1) });
  // It is read meanwhile, and a step of its own.
  await expect(page.getByRole('button', { name: 'Undo: matte from a file' })).toBeVisible();
  await page.getByRole('radio', { name: 'Standing', exact: true }).click();
  const foot = page.getByRole('slider', { name: 'Foot of Subject 1' });
  const [, low] = await app.at(0.5, 0.59);
  const [, lowest] = await app.at(0.5, 0.97);
  await app.dragBy(foot, 0, lowest - low);
  await app.settled();
  // Flat, the disc ends where its outline was; lifted, some of it lies beyond.
  const beyond = async (): Promise<number> => {
    const [r, g] = await app.colourAt((450 + 66) / WIDTH, 0.5);
    return r! - g!;
  };
  const flat = await beyond();
  await page.getByRole('switch', { name: 'Lifted' }).click();
  await expect.poll(beyond).toBeGreaterThan(flat + 10);
  await app.settled();

  const { ours, theirs } = await rendered(app, folder, source);
  expect(Buffer.compare(ours, theirs)).toBe(0);
  const at = (300 * WIDTH + 516) * 3;
  expect(ours[at]! - ours[at + 1]!).toBeGreaterThan(flat + 10);

  // Its layers, laid over one another by hand, are the same picture.
  const layers = unzipSync(
    await readFile(await app.downloadBy(page.getByRole('button', { name: 'Export layers' }), folder)),
  );
  expect(Object.keys(layers)).toEqual(['01 picture.tif', '02 subject 1.tif']);
  const lights = await Promise.all(
    Object.values(layers).map(async (file) => {
      const image = sharp(Buffer.from(file), { ignoreIcc: true });
      expect(await image.metadata()).toMatchObject({
        width: WIDTH,
        height: HEIGHT,
        depth: 'ushort',
        channels: 4,
      });
      const raw = await image.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
      return new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
    }),
  );
  const coded = (v: number): number => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  let most = 0;
  for (let i = 0; i < WIDTH * HEIGHT; i++)
    for (let c = 0; c < 3; c++) {
      const [below, over] = lights as [Uint16Array, Uint16Array];
      // The reader has divided by the coverage.
      const cover = over[4 * i + 3]! / 65535;
      const light = cover * over[4 * i + c]! + (1 - cover) * below[4 * i + c]!;
      most = Math.max(most, Math.abs(coded(light / 65535) - ours[3 * i + c]!));
    }
  expect(most).toBeLessThan(2);

  // What the subject is goes out as a grey picture, too.
  await page.getByRole('combobox', { name: 'Map', exact: true }).click();
  await page.getByRole('option', { name: 'Subject 1' }).click();
  await page.getByRole('combobox', { name: 'Map format' }).click();
  await page.getByRole('option', { name: '16-bit TIFF' }).click();
  const map = await app.downloadBy(page.getByRole('button', { name: 'Export map' }), folder);
  expect(map).toMatch(/subject 1\.tif$/);
  const matte = sharp(map);
  expect(await matte.metadata()).toMatchObject({
    width: WIDTH,
    height: HEIGHT,
    depth: 'ushort',
    channels: 1,
  });
  const shape = await matte.toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer();
  expect(shape.readUInt16LE(2 * (300 * WIDTH + 450))).toBe(65535);
  expect(shape.readUInt16LE(2 * (300 * WIDTH + 300))).toBe(0);

  // The subject is put back by a step back.
  await app.step('Focus');
  await page.getByRole('button', { name: 'Undo: lift subject' }).click();
  await expect.poll(beyond).toBeLessThan(flat + 5);
});
