import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { type App, detailed, expect, join, openClip, render, sharp, test, writeFile } from './fixtures';

const pixels = (file: string | Uint8Array): Promise<Buffer> =>
  sharp(file instanceof Uint8Array ? Buffer.from(file) : file, { ignoreIcc: true })
    .removeAlpha()
    .raw({ depth: 'ushort' })
    .toBuffer();

/** Keeps the settings as they are as a preset. */
async function keep({ page }: App, name: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Name of a new preset' }).fill(name);
  await page.getByRole('button', { name: 'Save preset' }).click();
  await expect(page.getByRole('button', { name: `Use ${name}` })).toBeVisible();
}

test('settings are kept as presets, exported several at once, used by the batch and by the command line', async ({
  app,
  page,
  folder,
}) => {
  const source = await detailed(900, 600).png().toBuffer();
  await app.choose({ name: 'yard.png', mimeType: 'image/png', buffer: source });
  await expect(app.project).toHaveText('yard');
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  await app.size('Short edge', 300);
  await app.number('Sharpening').fill('80');
  await app.number('Sharpening').press('Enter');
  await keep(app, 'Small');
  await expect(page.getByRole('button', { name: 'Use Small' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('radio', { name: 'TIFF' }).click();
  await page
    .getByRole('radiogroup', { name: 'Bit depth' })
    .first()
    .getByRole('radio', { name: '16-bit' })
    .click();
  await app.size('Percent', 40);
  await page.getByLabel('File name').fill('{name} {number}');
  await expect(page.getByText('yard 01.tif')).toBeVisible();
  await keep(app, 'Print');
  await expect(page.getByRole('button', { name: 'Use Small' })).toHaveAttribute('aria-pressed', 'false');

  // Another project has them, too, and one click puts all of a preset in place.
  await page.reload();
  await expect(app.project).toHaveText('yard');
  await app.step('Output');
  await expect(page.getByRole('button', { name: 'Export JPEG' })).toBeVisible();
  await page.getByRole('button', { name: 'Use Print' }).click();
  await expect(page.getByRole('button', { name: 'Export TIFF' })).toBeVisible();
  await expect(app.number('Percent')).toHaveValue('40');
  await expect(page.getByText('360 × 240 px')).toBeVisible();

  // Both at once; neither takes the source's name.
  for (const name of ['Small', 'Print'])
    await page.getByRole('checkbox', { name: `Export with ${name}` }).click();
  const files = new Map<string, string>();
  page.on('download', (download) => {
    const path = join(folder, download.suggestedFilename());
    void download.saveAs(path).then(() => files.set(download.suggestedFilename(), path));
  });
  // A browser that writes into no folder.
  await page.evaluate(() => Reflect.deleteProperty(window, 'showDirectoryPicker'));
  await page.getByRole('button', { name: 'Export 2 presets' }).click();
  await expect.poll(() => [...files.keys()].sort()).toEqual(['yard 01.tif', 'yard edit.png']);
  await expect(page.getByText('Exported 2 files.')).toBeVisible();
  const small = await sharp(files.get('yard edit.png')!).metadata();
  expect([small.width, small.height]).toEqual([450, 300]);
  const print = await sharp(files.get('yard 01.tif')!).metadata();
  expect([print.width, print.height, print.depth]).toEqual([360, 240, 'ushort']);

  // The same presets, from their file, by command line: the same pixels.
  await page.getByRole('button', { name: 'More for presets' }).click();
  const presets = await app.downloadBy(
    page.getByRole('menuitem', { name: 'Save selected to file…' }),
    folder,
  );
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  await writeFile(join(folder, 'yard.png'), source);
  const line = ['--recipe', recipe, '--in', join(folder, 'yard.png'), '--presets', presets];
  const { code, error } = await render(...line, '--out', join(folder, 'made'));
  expect({ code, error }).toEqual({ code: 0, error: '' });
  for (const [ours, theirs] of [
    ['yard edit.png', join('Small', 'yard edit.png')],
    ['yard 01.tif', join('Print', 'yard 01.tif')],
  ] as const)
    expect(
      Buffer.compare(await pixels(files.get(ours)!), await pixels(join(folder, 'made', theirs))),
      ours,
    ).toBe(0);

  // The batch writes each picture with both, each preset into a folder of its own.
  await page.getByRole('button', { name: 'Batch', exact: true }).click();
  const batch = page.getByRole('dialog', { name: 'Batch' });
  await batch.getByRole('combobox', { name: 'Export presets' }).click();
  for (const name of ['Print', 'Small']) await page.getByRole('option', { name }).click();
  await page.keyboard.press('Escape');
  await expect(batch.getByText('Print: TIFF 16-bit, 40%')).toBeVisible();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    batch.getByRole('button', { name: 'Add pictures' }).click(),
  ]);
  await chooser.setFiles(join(folder, 'yard.png'));
  await batch.getByRole('button', { name: 'Render all' }).click();
  await expect(batch).toContainText('1 picture, 1 rendered');
  const zip = unzipSync(
    readFileSync(await app.downloadBy(batch.getByRole('button', { name: 'Save zip' }), folder)),
  );
  expect(Object.keys(zip).sort()).toEqual(['Print/yard 01.tif', 'Small/yard edit.png']);
  await expect(page.getByText('1 of 1 pictures are in')).toBeVisible();
  expect(
    Buffer.compare(await pixels(zip['Small/yard edit.png']!), await pixels(files.get('yard edit.png')!)),
  ).toBe(0);
  await page.keyboard.press('Escape');

  // Renamed, deleted and restored; a file that is none changes nothing.
  await page.getByRole('button', { name: 'More for Small' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByRole('textbox', { name: 'New name' }).fill('Tiny');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'More for Tiny' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('button', { name: 'Use Tiny' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(page.getByRole('button', { name: 'Use Tiny' })).toBeVisible();
  const load = async (name: string, text: string): Promise<void> => {
    await page.getByRole('button', { name: 'More for presets' }).click();
    const [picker] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('menuitem', { name: 'Import presets…' }).click(),
    ]);
    await picker.setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  };
  await load('letter.json', '{"dear": "Orrin Bank"}');
  await expect(app.notice.filter({ hasText: 'letter.json' })).toContainText('Your presets are unchanged');
  await load('again.json', readFileSync(presets, 'utf8'));
  await expect(page.getByRole('button', { name: 'Use Small' })).toBeVisible();
  // One of a name that is taken gets a number.
  await expect(page.getByRole('button', { name: 'Use Print 2' })).toBeVisible();
});

test('footage is written with several presets at once, and a still of it with one that is for pictures', async ({
  app,
  page,
}) => {
  await openClip(app);
  await app.step('Pace');
  await app.number('Frame rate').fill('1');
  await app.number('Frame rate').press('Enter');
  await app.step('Output');
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'GIF' }).click();
  await app.number('Width').fill('160');
  await app.number('Width').press('Enter');
  await keep(app, 'Loop');
  await expect(page.getByRole('button', { name: 'Use Loop' })).toContainText('GIF; ');
  const text = JSON.stringify({
    format: 'hazy-lens-presets',
    version: 1,
    presets: [{ name: 'Poster', kind: 'webp', size: { by: 'long-edge', px: 200 }, pattern: 'taken poster' }],
  });
  await page.getByRole('button', { name: 'More for presets' }).click();
  const [picker] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('menuitem', { name: 'Import presets…' }).click(),
  ]);
  await picker.setFiles({ name: 'p.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  for (const name of ['Loop', 'Poster'])
    await page.getByRole('checkbox', { name: `Export with ${name}` }).click();
  // Into a folder that has a file of that name, which stays.
  await page.evaluate(() =>
    Object.assign(window, {
      showDirectoryPicker: async () => {
        const folder = await navigator.storage.getDirectory();
        const made = await folder.getDirectoryHandle('made', { create: true });
        const taken = await made.getFileHandle('taken poster.webp', { create: true });
        const stream = await taken.createWritable();
        await stream.write('mine');
        await stream.close();
        return made;
      },
    }),
  );
  await page.getByRole('button', { name: 'Export 2 presets' }).click();
  await expect(page.getByText('Exported 2 files to “made”.')).toBeVisible({ timeout: 240_000 });
  const written = await page.evaluate(async () => {
    const made = await (await navigator.storage.getDirectory()).getDirectoryHandle('made');
    const files: Record<string, number[]> = {};
    for await (const [name, handle] of (
      made as unknown as { entries(): AsyncIterable<[string, FileSystemFileHandle]> }
    ).entries())
      files[name] = [...new Uint8Array(await (await handle.getFile()).arrayBuffer())];
    return files;
  });
  const aboutOf = async (ending: string) => {
    const [name] = Object.keys(written).filter((one) => one.endsWith(ending));
    const { format, width } = await sharp(Buffer.from(written[name!]!)).metadata();
    return [format, width];
  };
  expect(await aboutOf('.gif')).toEqual(['gif', 160]);
  expect(await aboutOf(' poster 2.webp')).toEqual(['webp', 200]);
  expect(Buffer.from(written['taken poster.webp']!).toString()).toBe('mine');
});
