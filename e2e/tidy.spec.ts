import { detailed, expect, join, sharp, test, writeFile } from './fixtures';

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
  const back = page.getByRole('button', { name: /^Undo/ });
  const window = page.locator('hl-crop-window');
  const inside = window.getByRole('group', { name: /^Crop window/ });
  const route = page.getByRole('navigation', { name: 'Route' });
  const both = (): Promise<[Buffer, Buffer]> => app.bothWays(source, folder);

  // A form, a corner by hand, the window by hand and by keys: pixels are copied, so that they stay as they are.
  await app.step('Tidy');
  await expect(route.getByRole('button', { name: 'Tidy original' })).toBeVisible();
  await page.getByRole('radio', { name: '4:3' }).click();
  await expect(inside).toHaveAccessibleName(/533 × 400 px/);
  await app.dragBy(page.locator('[data-pull="Bottom right corner"]'), -120, -60);
  await expect(back).toHaveAccessibleName('Undo: bottom right corner of the crop');
  await app.dragBy(page.locator('[data-pull="Left edge"]'), 40, 0);
  await inside.press('Shift+ArrowDown');
  await expect(back).toHaveAccessibleName('Undo: move crop');
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
  await page.getByRole('radio', { name: 'Free' }).click();
  await app.dragBy(page.locator('[data-pull="turn"]'), 30, 4);
  await expect(back).toHaveAccessibleName('Undo: rotate crop');
  await app.number('Rotation of the crop').fill('8.5');
  await app.number('Rotation of the crop').press('Enter');
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
  await expect(page.locator('hl-stage .reading')).toContainText('haze 0%');
  const [turned, alike] = await both();
  expect(Buffer.compare(turned, alike)).toBe(0);

  // A line along what leans: it becomes level. One step back, and it leans again.
  await app.step('Tidy');
  await page.getByRole('button', { name: 'Reset crop' }).click();
  await page.getByRole('button', { name: 'Level' }).click();
  await app.draw([0.2, 0.3], [0.8, 0.3 + (0.6 * 600 * Math.tan(Math.PI / 36)) / 400]);
  await expect(page.locator('[data-pull="turn"]')).toHaveAttribute('aria-valuetext', /^(4\.9|5\.0|5\.1)°$/);
  await expect(back).toHaveAccessibleName('Undo: level');
  await back.click();
  await expect(page.locator('[data-pull="turn"]')).toHaveAttribute('aria-valuetext', '0.0°');
  await page.getByRole('button', { name: 'Rotate 90°' }).click();
  await app.step('Output');
  await expect(page.getByText('400 × 600 px')).toBeVisible();
});

test('a crop of no size or outside of the picture is told of, or brought in', async ({ app, page }) => {
  const recipe = (crop: object): string =>
    JSON.stringify({ format: 'hazy-lens-recipe', version: 1, tidy: { crop } });
  await app.useRecipe('none.json', recipe({ size: [0, 0.5] }));
  await expect(
    app.notice.filter({ hasText: '“none.json” can’t be applied. tidy.crop.size[0]' }),
  ).toBeVisible();
  await app.useRecipe('outside.json', recipe({ centre: [1, 1], size: [0.5, 0.5], turn: 20 }));
  await app.step('Tidy');
  const [x, y] = await app.at(1, 1);
  for (const corner of ['Top left', 'Top right', 'Bottom left', 'Bottom right']) {
    const box = (await page.locator(`[data-pull="${corner} corner"]`).boundingBox())!;
    expect(box.x + box.width / 2).toBeLessThan(x + 2);
    expect(box.y + box.height / 2).toBeLessThan(y + 2);
  }
});

test('a spot is filled out of what surrounds it, another place copied over it; each is a row, and the file is as on the command line', async ({
  app,
  page,
  folder,
}) => {
  // Stripes with a spot on them.
  const [width, height] = [480, 320];
  const data = Buffer.alloc(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const isSpot = Math.hypot(x - 240, y - 160) < 14;
    data.fill(isSpot ? 250 : x % 12 < 6 ? 70 : 130, i * 3, i * 3 + 3);
    if (x > 400) data[i * 3] = 200;
  }
  const picture = await sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  const source = join(folder, 'source.png');
  await writeFile(source, picture);
  await app.choose({ name: 'lawn.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('lawn');
  for (const step of ['Focus', 'Blur', 'Colour'])
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('switch', { name: new RegExp(`^${step}`) })
      .click();
  const done = (): Promise<void> =>
    expect(page.getByRole('progressbar', { name: 'Rendering touch-ups' })).toHaveCount(0);
  const spot = (): Promise<number[]> => app.colourAt(0.5, 0.5);
  await app.step('Tidy');
  await page.getByRole('radio', { name: 'Fill' }).click();
  await app.number('Touch-up radius').fill('18');
  await app.number('Touch-up radius').press('Enter');
  await app.draw([0.49, 0.5], [0.51, 0.5]);
  await expect(page.getByRole('switch', { name: 'Fill 1 on' })).toBeVisible();
  await done();
  await expect.poll(async () => (await spot())[0]).toBeLessThan(140);

  // Switched off it is back; on again, it is gone; both are steps back.
  await page.getByRole('switch', { name: 'Fill 1 on' }).click();
  await expect.poll(async () => (await spot())[0]).toBeGreaterThan(240);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await spot())[0]).toBeLessThan(140);

  // Red from the right is copied to the left: the first press says from where. By keyboard alone.
  await page.getByRole('radio', { name: 'Clone' }).click();
  await expect(page.getByText('Click the area to clone from.')).toBeVisible();
  await page.mouse.click(...(await app.at(0.92, 0.5)));
  await expect(page.getByText('Paint to clone')).toBeVisible();
  await page.mouse.move(...(await app.at(0.2, 0.5)));
  const hand = page.getByRole('group', { name: /^Picture: arrow keys/ });
  await hand.press('ArrowRight');
  await hand.press('Enter');
  await expect(page.getByRole('switch', { name: 'Clone 1 on' })).toBeVisible();
  await done();
  await expect.poll(async () => (await app.colourAt(0.205, 0.5))[0]).toBeGreaterThan(190);

  // By its tab a mend is moved, by keys and by hand; where it was the spot is back.
  const tab = page.getByRole('slider', { name: /^Fill 1; arrow keys move/ });
  await tab.press('Shift+ArrowRight');
  await expect(page.getByRole('button', { name: 'Undo: move fill' })).toBeEnabled();
  await expect(tab).toHaveAttribute('aria-valuetext', '245, 160 px');
  await app.dragBy(tab, 60, 40);
  await done();
  await expect.poll(async () => (await spot())[0]).toBeGreaterThan(240);
  await tab.press('Delete');
  await expect(page.getByRole('switch', { name: 'Fill 1 on' })).toHaveCount(0);
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await done();
  await expect.poll(async () => (await spot())[0]).toBeLessThan(140);

  const [ours, theirs] = await app.bothWays(source, folder);
  expect(Buffer.compare(ours, theirs)).toBe(0);
  // The stripes go on where the spot was, as they were.
  const at = (x: number, y: number): number => ours[(y * width + x) * 3]!;
  for (const x of [230, 236, 242, 248]) expect(Math.abs(at(x, 160) - at(x, 60))).toBeLessThan(25);
  await app.step('Tidy');
  const row = page.getByRole('switch', { name: 'Fill 1 on' });
  await row.press('Delete');
  await expect(row).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Delete Fill 1' }).click();
  await expect.poll(async () => (await spot())[0]).toBeGreaterThan(240);
});
