import { readExif } from '@hazy-lens/core';
import { detailed, expect, join, readFile, render, renderByNpm, sharp, test, writeFile } from './fixtures';

test('a still becomes a miniature, is exported, left and taken up again', async ({ app, page, folder }) => {
  await expect(app.project).toHaveText('Tram loop');
  const picture = await detailed(900, 600)
    .withExif({ IFD0: { Artist: 'A. Maker', ImageDescription: 'Kite meadow' } })
    .png()
    .toBuffer();
  await app.choose({ name: 'kite-meadow.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('kite-meadow');
  await expect(page.getByText('900 × 600 px, 0.5 MP')).toBeVisible();

  // Place the band: its line lower, its falloff wider, on the stage and in the profile.
  await app.step('Focus');
  await app.dragBy(app.grip('line'), 0, 60);
  await expect(app.number('Centre, down in pixels')).not.toHaveValue('330');
  const falloff = app.number('Near side, falloff');
  const before = Number(await falloff.inputValue());
  await app.dragBy(app.grip('near-outer'), 0, 40);
  await expect.poll(async () => Number(await falloff.inputValue())).toBeGreaterThan(before + 20);
  await app.number('Far side, clear width').fill('30');
  await app.number('Far side, clear width').press('Enter');
  await app.step('Blur');
  await app.number('Blur radius').fill('26');
  await app.number('Blur radius').press('Enter');
  await app.step('Colour');
  await app.number('Saturation').fill('40');
  await app.number('Saturation').press('Enter');
  await app.softerThan(0.1, (await app.detailAt(0.68)) * 0.6);

  // One gesture is one step back, and undo survives a reload.
  await app.saved();
  await page.reload();
  await expect(app.project).toHaveText('kite-meadow');
  await page.getByRole('button', { name: 'Undo: saturation' }).click();
  await page.getByRole('button', { name: 'Undo: blur radius' }).click();
  await page.getByRole('button', { name: /^Undo: far side/ }).click();
  await page.getByRole('button', { name: 'Undo: near side, outer edge' }).click();
  await app.step('Focus');
  await expect(falloff).toHaveValue(String(before));
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: /^Redo/ }).click();
  await app.step('Colour');
  await expect(app.number('Saturation')).toHaveValue('40');

  // Flip before and after: zoom and position stay.
  const after = await app.colourAt(0.5, 0.05);
  await page.getByRole('radio', { name: 'Before', exact: true }).click();
  await expect(page.locator('canvas').nth(1)).toBeVisible();
  const box = await page.locator('canvas').nth(1).boundingBox();
  expect(await app.picture.boundingBox()).toEqual(box);
  await page.getByRole('radio', { name: 'After', exact: true }).click();
  await expect.poll(() => app.colourAt(0.5, 0.05)).toEqual(after);

  // The exported file, and the same recipe on the command line: the same pixels.
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  await expect(page.getByText(/”: 900 × 600 px/)).toBeVisible();
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  const input = join(folder, 'in.png');
  await writeFile(input, picture);
  const result = await renderByNpm(
    '--recipe',
    recipe,
    '--in',
    input,
    '--out',
    join(folder, 'out.png'),
    '--map',
    join(folder, 'map.png'),
  );
  expect(result.code, result.error).toBe(0);
  expect(JSON.parse(result.out)).toMatchObject({ width: 900, height: 600 });
  const [ours, theirs] = await Promise.all(
    [exported, join(folder, 'out.png')].map((path) => sharp(path).removeAlpha().raw().toBuffer()),
  );
  expect(Buffer.compare(ours!, theirs!)).toBe(0);
  const map = await sharp(join(folder, 'map.png')).metadata();
  expect(map).toMatchObject({ width: 900, height: 600, depth: 'ushort', space: 'grey16' });
  expect(Buffer.from(readExif(await readFile(exported))!).toString('latin1')).toContain('Kite meadow');

  // JPEG at another size keeps the EXIF too.
  await page.getByRole('radio', { name: 'JPEG' }).click();
  await app.size('Long edge', 450);
  const small = await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
  const meta = await sharp(small).metadata();
  expect(meta).toMatchObject({ format: 'jpeg', width: 450, height: 300 });
  expect(Buffer.from(meta.exif!).toString('latin1')).toContain('A. Maker');
});

test('the command line takes every kind of picture, and refuses plainly what it cannot use', async ({
  folder,
}) => {
  const recipe = join(folder, 'recipe.json');
  const text = {
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { bands: [{ id: 'a', kind: 'planar' }] },
    blur: { radius: 0.02 },
    colour: { saturation: 0.2 },
  };
  await writeFile(recipe, JSON.stringify(text));
  const picture = detailed(120, 80);
  const kinds = {
    'a.png': picture.clone().png(),
    'b.jpg': picture.clone().jpeg(),
    'c.webp': picture.clone().webp(),
    'd.tif': picture.clone().toColourspace('rgb16').tiff({ compression: 'lzw' }),
    'e.avif': picture.clone().avif(),
    'f.png': picture.clone().toColourspace('rgb16').png(),
  };
  for (const [name, image] of Object.entries(kinds)) {
    await image.toFile(join(folder, name));
    const out = join(folder, `out-${name}`);
    const result = await render(
      '--recipe',
      recipe,
      '--in',
      join(folder, name),
      '--out',
      out,
      '--workers',
      '1',
      '--quality',
      name === 'b.jpg' ? 'draft' : 'fine',
    );
    expect(result.code, result.error).toBe(0);
    const meta = await sharp(out).metadata();
    expect(meta).toMatchObject({
      width: 120,
      height: 80,
      depth: ['d.tif', 'f.png'].includes(name) ? 'ushort' : 'uchar',
    });
  }
  await writeFile(join(folder, 'empty.png'), '');
  await writeFile(join(folder, 'text.png'), 'no picture');
  await writeFile(join(folder, 'cut.jpg'), (await readFile(join(folder, 'b.jpg'))).subarray(0, 1200));
  await detailed(30000, 2).png().toFile(join(folder, 'wide.png'));
  await writeFile(join(folder, 'bad.json'), JSON.stringify({ ...text, blur: { radius: 'much' } }));
  const refused: [string, string, RegExp][] = [
    ['empty.png', recipe, /empty\.png: the file is empty/],
    ['text.png', recipe, /text\.png: can’t be read as a picture/],
    ['cut.jpg', recipe, /cut\.jpg: can’t be read as a picture/],
    ['wide.png', recipe, /wide\.png: It is 30000 x 2 pixels.*20000 pixels on a side/],
    ['missing.png', recipe, /missing\.png: file not found/],
    ['a.png', join(folder, 'bad.json'), /bad\.json: blur\.radius/],
  ];
  for (const [name, recipePath, message] of refused) {
    const out = join(folder, `never-${name}`);
    const result = await render('--recipe', recipePath, '--in', join(folder, name), '--out', out);
    expect(result.code).toBe(2);
    expect(result.error.trim().split('\n')).toHaveLength(1);
    expect(result.error).toMatch(message);
    await expect(readFile(out)).rejects.toThrow();
  }
});

test('a picture keeps its author in the file, and where it was made only when that is asked for', async ({
  app,
  page,
  folder,
}) => {
  const source = await detailed(300, 200)
    .withExif({
      IFD0: { Artist: 'A. Maker' },
      IFD3: {
        GPSLatitudeRef: 'N',
        GPSLatitude: '48/1 12/1 30/1',
        GPSLongitudeRef: 'E',
        GPSLongitude: '16/1 22/1 12/1',
      },
    })
    .jpeg()
    .toBuffer();
  await app.choose({ name: 'kites.jpg', mimeType: 'image/jpeg', buffer: source });
  await expect(app.project).toHaveText('kites');
  await app.step('Output');
  const exported = async (choice: string): Promise<Buffer> => {
    await page
      .getByRole('radiogroup', { name: 'Metadata in the file' })
      .getByRole('radio', { name: choice, exact: true })
      .click();
    const file = await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
    return (await sharp(file).metadata()).exif ?? Buffer.alloc(0);
  };
  // The tag that leads to the places, in a little-endian block.
  const place = Buffer.from([0x25, 0x88, 0x04, 0x00]);
  const found = (exif: Buffer): [boolean, boolean] => [
    exif.includes('A. Maker'),
    exif.includes(place) || exif.includes(Buffer.from([0x88, 0x25, 0x00, 0x04])),
  ];
  expect(found(await exported('All'))).toEqual([true, true]);
  expect(found(await exported('None'))).toEqual([false, false]);
  expect(found(await exported('Without place'))).toEqual([true, false]);
});

test('a miniature is made and exported by keyboard alone', async ({ app, page, folder }) => {
  /** Goes on by Tab until something has the focus. */
  const tabTo = async (name: RegExp): Promise<void> => {
    for (let i = 0; i < 90; i++) {
      await page.keyboard.press('Tab');
      const focused = await page.evaluate(() => {
        const { activeElement: one } = document;
        return one?.ariaLabel || one?.getAttribute('aria-label') || one?.textContent?.trim() || '';
      });
      if (name.test(focused)) return;
    }
    throw new Error(`Nothing called ${String(name)} comes by Tab.`);
  };
  await tabTo(/^Skip to the picture$/);
  await page.keyboard.press('Enter');
  await expect(page.locator('.picture')).toBeFocused();

  await page.keyboard.press('n');
  await tabTo(/^Blur radius$/);
  await page.keyboard.type('80');
  await page.keyboard.press('Enter');
  await expect(app.number('Blur radius')).toHaveValue(/^80/);
  // On its slider letters are keys again.
  await tabTo(/^Blur radius slider$/);
  await page.keyboard.press('ArrowRight');
  await expect(app.number('Blur radius')).not.toHaveValue('80');
  await page.keyboard.press('n');
  await tabTo(/^Saturation$/);
  await page.keyboard.press('Shift+ArrowUp');
  await expect(app.number('Saturation')).toHaveValue('42');
  await tabTo(/^Saturation slider$/);
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await expect(page.getByRole('heading', { name: 'Output' })).toBeVisible();
  await tabTo(/^Export JPEG$/);
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  await download.saveAs(join(folder, 'by-keys.jpg'));
  const { width } = await sharp(join(folder, 'by-keys.jpg')).metadata();
  expect(width).toBe(960);
});
