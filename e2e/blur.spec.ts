import { detailed, expect, join, render, sharp, test, writeFile } from './fixtures';

test('an aperture is shaped by hand and by keyboard, and each kind of blur reaches the file as on the command line', async ({
  app,
  page,
  folder,
}) => {
  const picture = await detailed(480, 320).png().toBuffer();
  await app.choose({ name: 'lamps.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('lamps');
  await app.step('Blur');
  await app.number('Blur radius').fill('12');
  await app.number('Blur radius').press('Enter');
  await page.getByRole('radio', { name: 'Lens' }).click();
  await page.getByRole('combobox', { name: 'Blades' }).click();
  await page.getByRole('option', { name: '6', exact: true }).click();

  // The bench: turned with a hand, rounded and squeezed by keys, each one step back.
  const turn = page.locator('hl-aperture-bench').getByRole('slider', { name: 'Aperture rotation' });
  await app.dragBy(turn, -40, 60);
  await expect
    .poll(async () => Math.abs(Number(await app.number('Aperture rotation').inputValue())))
    .toBeGreaterThan(20);
  const bench = page.locator('hl-aperture-bench');
  await bench.getByRole('slider', { name: 'Aperture roundness' }).press('Shift+ArrowUp');
  await expect(app.number('Aperture roundness')).toHaveValue('10');
  await bench.getByRole('slider', { name: 'Aperture squeeze' }).press('Shift+ArrowUp');
  await expect(app.number('Aperture squeeze')).toHaveValue('1.50');
  await page.getByRole('button', { name: 'Undo: aperture squeeze' }).click();
  await expect(app.number('Aperture squeeze')).toHaveValue('1.00');
  await app.number('Highlight boost').fill('2');
  await app.number('Highlight boost').press('Enter');
  await expect(app.number('Highlight threshold')).toBeVisible();
  await expect(page.getByRole('img', { name: /^Aperture: 6 blades/ })).toBeVisible();

  // A slider is followed while the hand is down, the lights are marked meanwhile, and all of it is one step back.
  const from = app.number('Highlight threshold');
  const slider = page.locator('hl-recipe-number').filter({ has: from }).locator('mat-slider');
  await slider.scrollIntoViewIfNeeded();
  const track = (await slider.boundingBox())!;
  const at = (share: number): [number, number] => [track.x + track.width * share, track.y + track.height / 2];
  await page.mouse.move(...at(0.8));
  await page.mouse.down();
  await page.mouse.move(...at(0.5), { steps: 4 });
  await expect.poll(async () => Number(await from.inputValue())).toBeLessThan(80);
  await expect(page.locator('hl-lights-mark')).toBeVisible();
  await page.mouse.up();
  await expect(page.locator('hl-lights-mark')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo: highlight threshold' }).click();
  await expect(from).toHaveValue('90');

  // Direction and centre, on the picture.
  await page.getByRole('radio', { name: 'Motion' }).click();
  const mark = page.locator('hl-movement-mark').getByRole('slider');
  await mark.press('Shift+ArrowUp');
  await expect(app.number('Angle of the movement')).toHaveValue('10');
  await page.getByRole('radio', { name: 'Zoom' }).click();
  await app.dragBy(mark, 40, -30);
  await expect(app.number('Centre of the zoom, across in pixels')).not.toHaveValue('240');

  // Grain: what the blur took, and some more.
  await app.step('Finish');
  await expect(page.getByText(/The original averages/).first()).toBeVisible();
  for (const [name, value] of [
    ['Grain matched to the source', '100'],
    ['Extra grain', '20'],
  ] as const) {
    await app.number(name).fill(value);
    await app.number(name).press('Enter');
  }

  // What was set for a kind is there when it is chosen again; each comes out as the command line makes it.
  const input = join(folder, 'in.png');
  await writeFile(input, picture);
  for (const kind of ['Lens', 'Spin', 'Zoom', 'Motion']) {
    await app.step('Blur');
    await page.getByRole('radio', { name: kind }).click();
    if (kind === 'Lens') await expect(app.number('Aperture roundness')).toHaveValue('10');
    await app.step('Output');
    await page.getByRole('radio', { name: 'PNG' }).click();
    const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
    const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
    const out = join(folder, `${kind}.png`);
    const result = await render('--recipe', recipe, '--in', input, '--out', out);
    expect(result.code, result.error).toBe(0);
    const [ours, theirs] = await Promise.all(
      [exported, out].map((path) => sharp(path).removeAlpha().raw().toBuffer()),
    );
    expect(Buffer.compare(ours!, theirs!), kind).toBe(0);
  }
});

test('two blurs stand at the same place; either is changed, one is kept, and that is one step back', async ({
  app,
  page,
}) => {
  await app.step('Blur');
  const back = page.getByRole('button', { name: /^Undo/ });
  await page.getByRole('button', { name: 'Compare blurs' }).click();
  const other = page.getByRole('img', { name: 'The same area with the other blur' });
  await expect(other).toBeVisible();
  await app.settled();
  const boxOf = async (canvas: typeof other) => (await canvas.boundingBox())!;
  const same = async (): Promise<void> => {
    const [a, b] = [await boxOf(app.picture), await boxOf(other)];
    for (const side of ['x', 'width', 'height'] as const)
      expect(Math.abs(b[side] - a[side]), side).toBeLessThan(1);
  };
  await same();
  const [first] = [await boxOf(other)];
  // A click takes the lower half in hand: it stays where it is, and so does the picture in it.
  await page.mouse.click(first.x + first.width / 2, first.y + first.height / 2);
  await expect(page.getByRole('radio', { name: 'Lens' })).toBeChecked();
  await expect.poll(async () => Math.round((await boxOf(app.picture)).y)).toBe(Math.round(first.y));
  await app.number('Blur radius').fill('3');
  await app.number('Blur radius').press('Enter');
  await page.mouse.move(first.x + 40, first.y + 40);
  await page.mouse.wheel(0, -300);
  await app.settled();
  await same();
  await page.getByRole('button', { name: 'Edit upper half' }).click();
  await expect(page.getByRole('radio', { name: 'Gaussian' })).toBeChecked();
  // Steps back go through the halves too: neither blur is lost.
  await back.click();
  await expect(page.getByRole('group', { name: 'upper half' })).toContainText('gaussian');
  await expect(page.getByRole('group', { name: 'lower half' })).toContainText('lens 3 px');
  await expect(page.getByRole('group', { name: 'lower half' })).toContainText('Editing');
  await page.getByRole('button', { name: /^Redo/ }).click();
  await expect(page.getByRole('group', { name: 'upper half' })).toContainText('Editing');
  await page.getByRole('button', { name: 'Keep lower half' }).click();
  await expect(other).toHaveCount(0);
  await expect(page.getByRole('radio', { name: 'Lens' })).toBeChecked();
  await expect(app.number('Blur radius')).toHaveValue('3.0');
  await expect(back).toHaveAccessibleName('Undo: lens blur');
  await back.click();
  await expect(page.getByRole('radio', { name: 'Gaussian' })).toBeChecked();
  await expect(back).toHaveCount(0);
  // Leaving the step keeps what is in hand.
  await page.getByRole('button', { name: 'Compare blurs' }).click();
  await app.step('Colour');
  await expect(other).toHaveCount(0);
  await expect(back).toHaveCount(0);
});
