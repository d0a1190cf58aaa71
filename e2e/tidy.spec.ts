import { detailed, expect, join, render, sharp, test, writeFile } from './fixtures';

test('a picture is cropped, turned, levelled and flipped; what was set stays on its subject, and the file is as on the command line', async ({
  app,
  page,
  folder,
}) => {
  const picture = await detailed(600, 400).png().toBuffer();
  await app.choose({ name: 'roofs.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('roofs');
  const source = join(folder, 'source.png');
  await writeFile(source, picture);
  const back = page.getByRole('button', { name: /^Step back/ });
  const window = page.locator('hl-crop-window');
  const inside = window.getByRole('group', { name: /^Window of the crop/ });
  const route = page.getByRole('navigation', { name: 'Route' });
  const both = async (): Promise<[Buffer, Buffer]> => {
    await app.step('Output');
    await page.getByRole('radio', { name: 'PNG' }).click();
    const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
    const recipe = await app.downloadBy(page.getByRole('button', { name: 'Save', exact: true }), folder);
    const out = join(folder, 'out.png');
    const { code, error } = await render('--recipe', recipe, '--in', source, '--out', out);
    expect({ code, error }).toEqual({ code: 0, error: '' });
    const raw = (path: string): Promise<Buffer> => sharp(path).removeAlpha().raw().toBuffer();
    return [await raw(exported), await raw(out)];
  };

  // A form, a corner by hand, the window by hand and by keys: pixels are copied, so that they stay as they are.
  await app.step('Tidy');
  await expect(route.getByRole('button', { name: 'Tidy as it came' })).toBeVisible();
  await page.getByRole('radio', { name: '4:3' }).click();
  await expect(inside).toHaveAccessibleName(/533 × 400 px/);
  await app.dragBy(page.locator('[data-pull="Bottom right corner"]'), -120, -60);
  await expect(back).toHaveAccessibleName('Step back: bottom right corner of the crop');
  await app.dragBy(page.locator('[data-pull="Left edge"]'), 40, 0);
  await inside.press('Shift+ArrowDown');
  await expect(back).toHaveAccessibleName('Step back: move crop');
  await expect(route.getByRole('button', { name: 'Tidy crop' })).toBeVisible();
  const flip = async (): Promise<void> => {
    for (const step of [/^Blur/, /^Colour/]) await route.getByRole('switch', { name: step }).click();
  };
  await flip();
  const [ours, theirs] = await both();
  expect(Buffer.compare(ours, theirs)).toBe(0);
  const name = (await inside
    .or(page.getByText(/^\d+ × \d+ px/))
    .first()
    .textContent())!;
  const [width, height] = /(\d+) × (\d+) px/.exec(name)!.slice(1).map(Number) as [number, number];
  expect(ours.length).toBe(width * height * 3);
  const raw = await sharp(picture).raw().toBuffer();
  expect(raw.includes(ours.subarray(0, width * 3))).toBe(true);
  await flip();

  // Turned about its middle, by hand and by number; the band goes with its subject.
  await app.step('Tidy');
  await page.getByRole('radio', { name: 'free' }).click();
  await app.dragBy(page.locator('[data-pull="turn"]'), 30, 4);
  await expect(back).toHaveAccessibleName('Step back: turn crop');
  await app.number('Turn of the crop').fill('8.5');
  await app.number('Turn of the crop').press('Enter');
  await expect(page.locator('[data-pull="turn"]')).toHaveAttribute('aria-valuetext', '8.5°');
  await page.getByRole('button', { name: 'Flip' }).click();
  await expect(route.getByText('crop, 8.5°, flip')).toBeVisible();
  await app.step('Focus');
  await app.settled();
  const [left, right] = [
    (await app.grip('turn-start').boundingBox())!,
    (await app.grip('turn-end').boundingBox())!,
  ];
  // Flipped, what the turn lowered on the right is lowered on the left.
  const slope = (Math.atan2(right.y - left.y, right.x - left.x) * 180) / Math.PI;
  expect(Math.abs(Math.abs(slope) - 180 + 8.5)).toBeLessThan(1);
  const middle = (await app.grip('line').boundingBox())!;
  await page.mouse.move(middle.x + 13, middle.y + 26);
  await expect(page.locator('hl-stage .reading')).toContainText('haze 0 %');
  const [turned, alike] = await both();
  expect(Buffer.compare(turned, alike)).toBe(0);

  // A line along what leans: it becomes level. One step back, and it leans again.
  await app.step('Tidy');
  await page.getByRole('button', { name: 'Whole picture again' }).click();
  await page.getByRole('button', { name: 'Level' }).click();
  await app.draw([0.2, 0.3], [0.8, 0.3 + (0.6 * 600 * Math.tan(Math.PI / 36)) / 400]);
  await expect(page.locator('[data-pull="turn"]')).toHaveAttribute('aria-valuetext', /^(4\.9|5\.0|5\.1)°$/);
  await expect(back).toHaveAccessibleName('Step back: level');
  await back.click();
  await expect(page.locator('[data-pull="turn"]')).toHaveAttribute('aria-valuetext', '0.0°');
  await page.getByRole('button', { name: 'Quarter turn' }).click();
  await app.step('Output');
  await expect(page.getByText('400 × 600 px')).toBeVisible();
});

test('a crop of no size or outside of the picture is told of, or brought in', async ({ app, page }) => {
  const recipe = (crop: object): string =>
    JSON.stringify({ format: 'hazy-lens-recipe', version: 1, tidy: { crop } });
  await app.useRecipe('none.json', recipe({ size: [0, 0.5] }));
  await expect(app.notice.filter({ hasText: '“none.json” was not used. tidy.crop.size[0]' })).toBeVisible();
  await app.useRecipe('outside.json', recipe({ centre: [1, 1], size: [0.5, 0.5], turn: 20 }));
  await app.step('Tidy');
  const [x, y] = await app.at(1, 1);
  for (const corner of ['Top left', 'Top right', 'Bottom left', 'Bottom right']) {
    const box = (await page.locator(`[data-pull="${corner} corner"]`).boundingBox())!;
    expect(box.x + box.width / 2).toBeLessThan(x + 2);
    expect(box.y + box.height / 2).toBeLessThan(y + 2);
  }
});
