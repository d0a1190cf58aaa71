import { type App, expect, test } from './fixtures';

const choose = async (app: App, item: string): Promise<void> => {
  await app.page.locator('hl-variants-menu').getByRole('button').click();
  await app.page
    .getByRole('menuitem', { name: item })
    .or(app.page.getByRole('menuitemradio', { name: item }))
    .click();
};

test('versions of a project are made, named, seen beside each other and taken in hand; nothing of them is lost', async ({
  app,
  page,
}) => {
  const contrast = async (value: string): Promise<void> => {
    await app.number('Contrast').fill(value);
    await app.number('Contrast').press('Enter');
  };
  await app.step('Colour');
  await contrast('10');
  await choose(app, 'New variant');
  await contrast('60');
  await choose(app, 'Variant 1');
  await expect(app.number('Contrast')).toHaveValue('10');
  await choose(app, 'Variant 2');
  await expect(app.number('Contrast')).toHaveValue('60');

  // Beside each other, at the same place; the other is taken in hand by a click, and named.
  await choose(app, 'Show two');
  const other = page.getByRole('img', { name: 'Variant 1' });
  await expect(other).toBeVisible();
  await expect.poll(async () => (await other.boundingBox())!.width).toBeGreaterThan(100);
  const [a, b] = [(await app.picture.boundingBox())!, (await other.boundingBox())!];
  expect(Math.abs(a.width - b.width)).toBeLessThan(3);
  expect(Math.abs(a.x - b.x)).toBeLessThan(3);
  expect(b.y).toBeLessThan(a.y);
  await page.mouse.click(b.x + b.width / 2, b.y + b.height / 2);
  await expect(app.number('Contrast')).toHaveValue('10');
  await page.getByRole('button', { name: 'Rename Variant 1' }).click();
  await page.getByRole('textbox', { name: 'Name of the variant' }).fill('soft');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'soft' }).getByText('Editing')).toBeVisible();
  // The hand is where it points, now that the stage has moved.
  await app.step('Focus');
  await app.settled();
  const grip = app.grip('line');
  const before = (await grip.boundingBox())!;
  await app.dragBy(grip, 0, 20);
  await expect.poll(async () => Math.round((await grip.boundingBox())!.y - before.y)).toBe(20);

  // Where three are seen the free place offers a fourth, which is a step back like any.
  await choose(app, 'New variant');
  await choose(app, 'Show four');
  await page.getByRole('button', { name: 'New variant', exact: true }).click();
  await expect(page.getByRole('group', { name: 'Variant 4' }).getByText('Editing')).toBeVisible();
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo: new variant' }).click();
  await expect(page.locator('hl-variants-menu').getByRole('button')).toHaveText('soft');

  // All of it survives a reload, and is steps back.
  await app.saved();
  await page.reload();
  await app.settled();
  await expect(page.locator('hl-variants-menu').getByRole('button')).toHaveText('soft');
  await choose(app, 'Variant 2');
  await app.step('Colour');
  await expect(app.number('Contrast')).toHaveValue('60');
  await page.getByRole('button', { name: 'Undo: switch to Variant 2' }).click();
  await expect(app.number('Contrast')).toHaveValue('10');
  await choose(app, 'Delete variant');
  await page.getByRole('menuitem', { name: 'Variant 2' }).click();
  await expect(page.locator('hl-variants-menu').getByRole('button')).toHaveText('Variants');
});
