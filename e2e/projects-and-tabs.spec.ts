import { type App, detailed, expect, join, readFile, sharp, test, writeFile } from './fixtures';

/** Clicks a button, and drops a picture on the window in the same moment, before anything is done. */
async function clickAndDrop(app: App, button: string, picture: Buffer, name: string): Promise<void> {
  await app.page.getByRole('button', { name: button }).evaluate(
    (element: HTMLElement, { bytes, name }) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], name, { type: 'image/png' }));
      element.click();
      for (const type of ['dragover', 'drop'])
        element.dispatchEvent(
          new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }),
        );
    },
    { bytes: [...picture], name },
  );
}

test('an export that is ordered while another project opens is of the first one, subjects and all', async ({
  app,
  page,
  folder,
}) => {
  await app.add('Subject');
  await app.draw([0.4, 0.5], [0.45, 0.55], [0.5, 0.5]);
  await expect(page.getByText('cutting out…')).toHaveCount(0);
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG', exact: true }).click();
  const wanted = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  const kites = await detailed(300, 200).png().toBuffer();
  const download = page.waitForEvent('download');
  await clickAndDrop(app, 'Export PNG', kites, 'kites.png');
  const got = join(folder, 'got.png');
  await (await download).saveAs(got);
  await expect(app.project).toHaveText('kites');
  expect(Buffer.compare(await readFile(got), await readFile(wanted))).toBe(0);
  await expect(app.notice).toHaveCount(0);
});

test('a subject that is being cut while another project opens stays with its own picture', async ({
  app,
  page,
  folder,
}) => {
  await app.add('Subject');
  await app.draw([0.4, 0.5], [0.45, 0.55], [0.5, 0.5]);
  await app.choose({
    name: 'kites.png',
    mimeType: 'image/png',
    buffer: await detailed(300, 200).png().toBuffer(),
  });
  await expect(app.project).toHaveText('kites');
  await app.settled();
  await app.project.click();
  await page.getByRole('button', { name: 'Open Tram loop' }).click();
  await expect(app.project).toHaveText('Tram loop');
  await app.step('Focus');
  await app.list.getByRole('button', { name: /^Subject 1/ }).click();
  await expect(page.getByText('cutting out…')).toHaveCount(0);
  const matte = await app.downloadBy(page.getByRole('button', { name: 'Export matte' }), folder);
  // The outline is cut from this picture: it has its measures.
  expect(await sharp(matte).metadata()).toMatchObject({ width: 960, height: 640 });
  await expect(app.notice).toHaveCount(0);
});

test('what is followed while another project opens ends there, and says nothing in the next one', async ({
  app,
  page,
}) => {
  await app.project.click();
  await page.getByRole('button', { name: 'Start with Tram loop, time-lapse' }).click();
  await expect(page.getByText('frame 1 of 240')).toBeVisible();
  await app.settled();
  await page.getByRole('button', { name: 'Forward' }).click();
  const stop = page.getByRole('button', { name: 'Stop here' });
  await expect(stop).toBeVisible();
  await app.choose({
    name: 'kites.png',
    mimeType: 'image/png',
    buffer: await detailed(300, 200).png().toBuffer(),
  });
  await expect(app.project).toHaveText('kites');
  await app.step('Focus');
  await app.settled();
  await expect(stop).toHaveCount(0);
  // Time enough for a late complaint.
  await page.waitForTimeout(3000);
  await expect(app.notice).toHaveCount(0);
  // Back there it can be begun anew.
  await app.project.click();
  await page.getByRole('button', { name: 'Open Tram loop, time-lapse' }).click();
  await expect(page.getByText(/frame \d+ of 240/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Forward' })).toBeEnabled();
  await expect(page.getByRole('group', { name: 'Planar 1 keys' })).toHaveCount(0);
});

test('a batch is rendered by one tab; where that is closed, another goes on', async ({
  app,
  page,
  context,
  folder,
}) => {
  const large = await detailed(2400, 1600).jpeg().toBuffer();
  const files = await Promise.all(
    Array.from({ length: 8 }, async (_, i) => {
      const path = join(folder, `walk ${i + 1}.jpg`);
      await writeFile(path, large);
      return path;
    }),
  );
  await app.step('Source');
  await page.getByRole('button', { name: 'Batch' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add pictures' }).click(),
  ]);
  await chooser.setFiles(files);
  await page.getByRole('button', { name: 'Render all' }).click();
  await expect(page.getByText(/8 pictures, [1-4] rendered/)).toBeVisible();

  const other = await context.newPage();
  const queue = other.getByRole('group', { name: /^Export of/ });
  await other.goto('/');
  await expect(other.getByRole('img', { name: /^Picture/ })).toBeVisible();
  await expect(queue).toHaveCount(0);
  await page.close({ runBeforeUnload: false });
  await expect(queue).toHaveCount(1);
  await other.getByRole('button', { name: 'Source' }).click();
  await other.getByRole('button', { name: 'Batch' }).click();
  await expect(other.getByText('8 pictures, 8 rendered')).toBeVisible();
});

test('a project that cannot be read any more is saved as a file, and deleted', async ({
  app,
  page,
  folder,
}) => {
  await app.choose({
    name: 'kites.png',
    mimeType: 'image/png',
    buffer: await detailed(300, 200).png().toBuffer(),
  });
  await expect(app.project).toHaveText('kites');
  await app.step('Colour');
  await app.number('Saturation').fill('12');
  await app.number('Saturation').press('Enter');
  await app.saved();
  await page.evaluate(async () => {
    const asked = <T>(request: IDBRequest<T>): Promise<T> =>
      new Promise((resolve, reject) => {
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
      });
    const database = await asked(indexedDB.open('hazy-lens'));
    const projects = database.transaction('projects', 'readwrite').objectStore('projects');
    const spoiled = (await asked(projects.getAll())).find(({ name }) => name === 'Tram loop');
    await asked(projects.put({ ...spoiled, source: null }));
    database.close();
  });
  await app.project.click();
  const shelf = page.getByRole('dialog', { name: 'Shelf' });
  await expect(shelf.getByRole('heading', { name: 'Damaged' })).toBeVisible();
  const saved = await app.downloadBy(
    shelf.getByRole('button', { name: 'Save the rest of Tram loop' }),
    folder,
  );
  expect(saved).toMatch(/Tram loop damaged\.zip$/);
  await shelf.getByRole('button', { name: 'Delete damaged Tram loop' }).click();
  await expect(shelf.getByRole('heading', { name: 'Damaged' })).toHaveCount(0);
  await expect(app.notice).toHaveCount(0);
});
