import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { type App, detailed, expect, join, render, sharp, test, writeFile } from './fixtures';

/** Pictures of one colour each, as files. */
async function pictures(folder: string, names: readonly string[]): Promise<string[]> {
  return Promise.all(
    names.map(async (name, i) => {
      const path = join(folder, name);
      await writeFile(
        path,
        await detailed(120 + 10 * i, 80)
          .png()
          .toBuffer(),
      );
      return path;
    }),
  );
}

async function openMany(app: App): Promise<void> {
  await app.step('Source');
  await app.page.getByRole('button', { name: 'Batch' }).click();
  await expect(app.page.getByRole('heading', { name: 'Batch' })).toBeVisible();
}

async function add(app: App, files: string[]): Promise<void> {
  const [chooser] = await Promise.all([
    app.page.waitForEvent('filechooser'),
    app.page.getByRole('button', { name: 'Add pictures' }).click(),
  ]);
  await chooser.setFiles(files);
}

/** Has the batch write PNG files. */
async function asPng({ page }: App): Promise<void> {
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByRole('radio', { name: 'PNG' }).click();
}

test('a recipe is kept under a name, used in parts on another picture, copied and pasted', async ({
  app,
  page,
}) => {
  await app.step('Colour');
  await app.number('Contrast').fill('40');
  await app.number('Contrast').press('Enter');
  const shelf = async (): Promise<void> => {
    await app.step('Output');
    await page.getByRole('button', { name: 'Open shelf' }).click();
  };
  await shelf();
  await page.getByRole('textbox', { name: 'Name of the recipe' }).fill('enamel noon');
  await page.getByRole('button', { name: 'Save recipe' }).click();
  const card = page.getByRole('button', { name: 'Apply enamel noon' });
  await expect(card.locator('img')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();

  // On another picture: its colours alone, as one step back; the field stays.
  const picture = await detailed(300, 200).png().toBuffer();
  await app.choose({ name: 'yard.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('yard');
  await app.step('Focus');
  await app.add('Iris');
  await app.draw([0.5, 0.5], [0.7, 0.5]);
  const iris = app.list.getByText('Iris 1');
  await expect(iris).toBeVisible();
  await shelf();
  for (const part of ['Focus', 'Blur', 'Finish', 'Pace'])
    await page.getByRole('button', { name: part, exact: true }).click();
  await card.click();
  await expect(page.getByRole('button', { name: 'Undo: recipe “enamel noon”' })).toBeVisible();
  await app.step('Colour');
  await expect(app.number('Contrast')).toHaveValue('40');
  await app.step('Focus');
  await expect(iris).toBeVisible();

  // Copied from here, pasted there: all of it.
  await page.evaluate(() => {
    const data = new DataTransfer();
    document.dispatchEvent(
      new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }),
    );
    Object.assign(window, { copied: data.getData('text/plain') });
  });
  await app.project.click();
  await page.getByRole('button', { name: 'Open Tram loop' }).click();
  await expect(app.project).toHaveText('Tram loop');
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', (window as unknown as { copied: string }).copied);
    window.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  });
  await expect(page.getByRole('button', { name: 'Undo: recipe “copied recipe”' })).toBeVisible();
  await app.step('Focus');
  await expect(iris).toBeVisible();

  // Taken off the shelf, and put back.
  await shelf();
  await page.getByRole('button', { name: 'More for the recipe enamel noon' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(card).toBeHidden();
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(card).toBeVisible();
});

test('many pictures get one recipe, one of them its own; what cannot be read is named, and the files are as on the command line', async ({
  app,
  page,
  folder,
}) => {
  const names = ['roof.png', 'hof ☼.png', 'Roof.png', 'broken.png', 'tower.png'];
  const files = await pictures(folder, names);
  await writeFile(files[3]!, 'no picture at all');
  // Two of the same name, as far as a system that knows no capitals can tell.
  await openMany(app);
  await add(app, files);
  await expect(page.getByText('5 pictures, 0 rendered, 1 failed')).toBeVisible();
  await expect(page.getByText('“broken.png” isn’t a supported picture')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Open tower.png' }).locator('img')).toBeVisible();

  // One is opened and nudged: that counts for it alone.
  await page.getByRole('button', { name: 'Open tower.png' }).click();
  await expect(app.project).toHaveText('tower');
  await app.step('Colour');
  await app.number('Saturation').fill('-100');
  await app.number('Saturation').press('Enter');
  await app.saved();
  await openMany(app);
  await expect(page.getByText('Adjusted')).toBeVisible();
  // What was changed on its own is not the recipe of them all.
  await expect(page.getByRole('combobox', { name: 'Batch recipe' })).toContainText('Tram loop, as it was');

  await asPng(app);
  await page.getByRole('textbox', { name: 'Name pattern' }).fill('{number} {name}');
  await page.getByRole('textbox', { name: 'Name pattern' }).press('Tab');
  await page.getByRole('button', { name: 'Render all' }).click();
  await expect(page.getByText('5 pictures, 4 rendered, 1 failed')).toBeVisible();
  const zip = unzipSync(
    readFileSync(await app.downloadBy(page.getByRole('button', { name: 'Save zip' }), folder)),
  );
  expect(Object.keys(zip)).toEqual(['01 roof.png', '02 hof ☼.png', '03 Roof.png', '05 tower.png']);
  const grey = await sharp(Buffer.from(zip['05 tower.png']!)).removeAlpha().raw().toBuffer();
  for (let i = 0; i < grey.length; i += 300) expect(Math.abs(grey[i]! - grey[i + 1]!)).toBeLessThanOrEqual(2);

  // The common recipe over the same file, by command line.
  await page.getByRole('button', { name: 'Close' }).click();
  await app.project.click();
  await page.getByRole('button', { name: 'Open Tram loop' }).click();
  await expect(app.project).toHaveText('Tram loop');
  await app.step('Output');
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  const out = join(folder, 'out.png');
  const { code, error } = await render('--recipe', recipe, '--in', files[0]!, '--out', out);
  expect({ code, error }).toEqual({ code: 0, error: '' });
  const [ours, theirs] = await Promise.all(
    [Buffer.from(zip['01 roof.png']!), out].map((file) => sharp(file).removeAlpha().raw().toBuffer()),
  );
  expect(Buffer.compare(ours!, theirs!)).toBe(0);
});

test('what was being rendered when the window closed goes on after a reload', async ({
  app,
  page,
  folder,
}) => {
  const large = await detailed(2400, 1600).jpeg().toBuffer();
  const files = await Promise.all(
    Array.from({ length: 6 }, async (_, i) => {
      const path = join(folder, `walk ${i + 1}.jpg`);
      await writeFile(path, large);
      return path;
    }),
  );
  await openMany(app);
  await add(app, files);
  await page.getByRole('button', { name: 'Render all' }).click();
  await expect(page.getByText(/6 pictures, [1-4] rendered/)).toBeVisible();
  page.on('dialog', (dialog) => void dialog.accept());
  await page.reload();
  await expect(app.picture).toBeVisible();
  await openMany(app);
  await expect(page.getByText('6 pictures, 6 rendered')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Render all' })).toBeVisible();
});

test('the same pictures are made with several recipes, and all variants of one picture at once', async ({
  app,
  page,
  folder,
}) => {
  const picture = await detailed(240, 160).png().toBuffer();
  await app.choose({ name: 'yard.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('yard');
  await page.getByRole('button', { name: 'Variants' }).click();
  await page.getByRole('menuitem', { name: 'New variant' }).click();
  await app.step('Colour');
  await app.number('Saturation').fill('-100');
  await app.number('Saturation').press('Enter');
  await app.step('Output');
  await page.getByRole('button', { name: 'Open shelf' }).click();
  await page.getByRole('textbox', { name: 'Name of the recipe' }).fill('grey noon');
  await page.getByRole('button', { name: 'Save recipe' }).click();
  await expect(page.getByRole('button', { name: 'Apply grey noon' })).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Batch variants' }).click();
  const batch = page.getByRole('dialog', { name: 'Batch' });
  await expect(batch).toContainText('2 pictures');
  await add(app, await pictures(folder, ['roof.png']));
  await batch.getByRole('button', { name: 'Add recipe' }).click();
  await page.getByRole('menuitem', { name: 'grey noon' }).click();
  await expect(batch).toContainText('4 pictures');
  await asPng(app);
  // Held, a row shows the picture as it came.
  const original = batch.getByRole('button', { name: 'Original of roof.png' }).first();
  await original.press('Enter');
  await expect(batch.getByRole('img', { name: 'Original' })).toBeVisible();
  await original.press('Enter');
  await batch.getByRole('button', { name: 'Render all' }).click();
  await expect(batch).toContainText('4 pictures, 4 rendered');
  const zip = await app.downloadBy(batch.getByRole('button', { name: 'Save zip' }), folder);
  const files = Object.entries(unzipSync(readFileSync(zip)));
  const greyness = await Promise.all(
    files.map(async ([name, bytes]) => {
      const { data } = await sharp(Buffer.from(bytes))
        .removeAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      let spread = 0;
      for (let i = 0; i < data.length; i += 3) spread += Math.abs(data[i]! - data[i + 2]!);
      return [name, spread / (data.length / 3) < 4] as const;
    }),
  );
  expect(Object.fromEntries(greyness)).toEqual({
    'yard Variant 1.png': false,
    'yard Variant 2.png': true,
    'roof yard.png': true,
    'roof grey noon.png': true,
  });
});
