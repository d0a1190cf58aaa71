import { type App, detailed, expect, join, test, writeFile } from './fixtures';

/** Picture files of a folder under these names, by the file chooser. */
async function openPictures(
  app: App,
  folder: string,
  names: readonly string[],
  broken?: string,
): Promise<void> {
  const bytes = await detailed(120, 80).jpeg().toBuffer();
  const paths = names.map((name) => join(folder, name));
  for (const path of paths) await writeFile(path, path === join(folder, broken ?? '') ? 'no picture' : bytes);
  await app.step('Source');
  const [chooser] = await Promise.all([
    app.page.waitForEvent('filechooser'),
    app.page.getByRole('button', { name: 'Open file' }).click(),
  ]);
  await chooser.setFiles(paths);
}

test('three numbered pictures are not silently a clip: what they become is asked', async ({
  app,
  page,
  folder,
}) => {
  await openPictures(app, folder, ['fair_0041.jpg', 'fair_0042.jpg', 'fair_0043.jpg']);
  const question = page.getByRole('dialog', { name: 'Open 3 pictures as' });
  await expect(question.getByRole('radio', { name: /^Separate projects/ })).toBeChecked();
  await expect(question).toContainText('They are numbered, but few for a clip.');
  await question.getByRole('button', { name: 'Cancel' }).click();
  await expect(app.project).toHaveText('Tram loop');

  await openPictures(
    app,
    folder,
    ['fair_0041.jpg', 'fair_0042.jpg', 'broken.jpg', 'fair_0043.jpg'],
    'broken.jpg',
  );
  await page.getByRole('dialog').getByRole('button', { name: 'Open' }).click();
  await expect(page.getByText(/“broken.jpg”/)).toBeVisible();
  await expect(
    page.getByText('3 projects added to the shelf: “fair_0041”, “fair_0042”, “fair_0043”.'),
  ).toBeVisible();
  await app.project.click();
  const shelf = page.getByRole('dialog', { name: 'Shelf' });
  for (const name of ['fair_0042', 'fair_0043'])
    await expect(shelf.getByText(name, { exact: true })).toBeVisible();
  await page.keyboard.press('Escape');

  await openPictures(app, folder, ['roofs.jpg', 'lamps.jpg']);
  await page
    .getByRole('dialog')
    .getByRole('radio', { name: /^Batch/ })
    .click();
  await page.getByRole('dialog').getByRole('button', { name: 'Open' }).click();
  await expect(page.getByRole('dialog', { name: 'Batch' })).toContainText('2 pictures');
});

test('a new picture starts with the suggested band and its own colours, or as one says', async ({
  app,
  page,
}) => {
  const roofs = {
    name: 'roofs.jpg',
    mimeType: 'image/jpeg',
    buffer: await detailed(600, 400).jpeg().toBuffer(),
  };
  await app.choose(roofs);
  await expect(app.project).toHaveText('roofs');
  const route = page.getByRole('navigation', { name: 'Route' });
  await expect(route.getByRole('button', { name: /^Focus/ })).toContainText('planar');
  await expect(route.getByRole('button', { name: /^Colour/ })).toContainText('original');

  await app.step('Source');
  await page.getByRole('combobox', { name: 'New pictures start with' }).click();
  await page.getByRole('option', { name: 'No changes' }).click();
  await app.choose({ ...roofs, name: 'lamps.jpg' });
  await expect(app.project).toHaveText('lamps');
  await expect(route.getByRole('button', { name: /^Focus/ })).not.toContainText('planar');

  // A recipe of the shelf, as it is listed there.
  await app.step('Colour');
  await app.number('Saturation').fill('40');
  await app.number('Saturation').press('Enter');
  await app.step('Output');
  await page.getByRole('button', { name: 'Open shelf' }).click();
  await page.getByRole('textbox', { name: 'Name of the recipe' }).fill('Bright paint');
  await page.getByRole('button', { name: 'Save recipe' }).click();
  await expect(page.getByRole('button', { name: 'Apply Bright paint' })).toBeVisible();
  await page.keyboard.press('Escape');
  await app.step('Source');
  await page.getByRole('combobox', { name: 'New pictures start with' }).click();
  await page.getByRole('option', { name: 'Bright paint' }).click();
  await app.choose({ ...roofs, name: 'kites.jpg' });
  await expect(app.project).toHaveText('kites');
  await app.step('Colour');
  await expect(app.number('Saturation')).toHaveValue('40');
});

test('a project is saved as a file, and comes back from it with its history', async ({
  app,
  page,
  folder,
}) => {
  await app.step('Colour');
  await app.number('Saturation').fill('61');
  await app.number('Saturation').press('Enter');
  await app.project.click();
  const shelf = page.getByRole('dialog', { name: 'Shelf' });
  await expect(shelf.getByRole('region', { name: 'Storage' })).toContainText(/Pictures and clips .* free/);
  await shelf.getByRole('button', { name: 'More for Tram loop' }).click();
  const bundle = await app.downloadBy(page.getByRole('menuitem', { name: 'Save as file' }), folder);
  expect(bundle).toContain('Tram loop.project.zip');
  const all = await app.downloadBy(shelf.getByRole('button', { name: 'Save all as files' }), folder);
  expect(all).toContain('Hazy Lens projects.zip');
  await page.keyboard.press('Escape');

  await app.choose(bundle);
  await app.settled();
  // A shelf that is open when the project comes closes with the one before.
  await expect(async () => {
    if (!(await shelf.isVisible())) await app.project.click();
    await expect(shelf.getByText('2 projects')).toBeVisible({ timeout: 3000 });
  }).toPass();
  await page.keyboard.press('Escape');
  await app.step('Colour');
  await expect(app.number('Saturation')).toHaveValue('61');
  await page.getByRole('button', { name: 'Undo: saturation' }).click();
  await expect(app.number('Saturation')).toHaveValue('32');
});
