import { unzipSync } from 'fflate';
import { detailed, expect, join, readFile, render, sharp, test, writeFile } from './fixtures';

test('light, colour, looks, black and white and a vignette are set, tried and reach the file as on the command line', async ({
  app,
  page,
  folder,
}) => {
  const picture = await detailed(300, 200).png().toBuffer();
  await app.choose({ name: 'enamel.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('enamel');
  await app.step('Colour');
  const set = async (name: string, value: string): Promise<void> => {
    await app.number(name).fill(value);
    await app.number(name).press('Enter');
  };
  await set('Exposure', '0.4');
  await set('Contrast', '30');
  await set('Vibrance', '-20');
  await set('Warmth', '35');
  const route = page.getByRole('navigation', { name: 'Route' });
  await expect(route.getByText('exposure + more')).toBeVisible();

  // A look is tried by pointing at it, which is no edit; a click chooses it, arrow keys try the next.
  const looks = page.getByRole('radiogroup', { name: 'Looks' });
  const back = page.getByRole('button', { name: /^Undo/ });
  await app.settled();
  const plain = await app.colourAt(0.52, 0.5);
  await looks.getByRole('radio', { name: 'plum dusk' }).hover();
  await expect.poll(() => app.colourAt(0.52, 0.5)).not.toEqual(plain);
  await expect(back).toHaveAccessibleName('Undo: warmth');
  await page.mouse.move(400, 20);
  await expect.poll(() => app.colourAt(0.52, 0.5)).toEqual(plain);
  await looks.getByRole('radio', { name: 'plum dusk' }).click();
  await expect(looks.getByRole('radio', { name: 'plum dusk' })).toBeChecked();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Enter');
  await expect(looks.getByRole('radio', { name: 'lamp oil' })).toBeChecked();
  await set('Amount of the look', '60');
  await expect(route.getByText('lamp oil')).toBeVisible();

  // The same colours as a table: what it says of a grey and of a red is what the stage shows.
  const cube = await app.downloadBy(page.getByRole('button', { name: 'Export .cube' }), folder);
  const lines = (await readFile(cube, 'utf8')).split('\n').filter((line) => /^[\d. ]+$/.test(line));
  expect(lines).toHaveLength(33 ** 3);
  const [black, white] = [lines[0]!, lines.at(-1)!].map((line) => line.split(' ').map(Number));
  expect(Math.max(...black!)).toBeLessThan(0.1);
  expect(Math.max(...white!)).toBeGreaterThan(0.9);
  const red = lines[32]!.split(' ').map(Number);
  expect(red[0]!).toBeGreaterThan(2 * red[2]!);

  // Balance: by keys and by hand, each one step back.
  await page.getByRole('button', { name: 'Colour balance' }).click();
  const shadows = page.getByRole('slider', { name: 'Shadows, blue to yellow' });
  await shadows.press('Shift+ArrowDown');
  await expect(shadows).toHaveAttribute('aria-valuetext', '20% to blue');
  await app.dragBy(page.getByRole('group', { name: 'Highlights' }), 20, 0);
  await expect(back).toHaveAccessibleName('Undo: highlights balance');
  await expect(page.getByRole('slider', { name: 'Highlights, green to red' })).toHaveAttribute(
    'aria-valuetext',
    /% to red/,
  );

  // The vignette, its middle on the picture.
  await app.step('Finish');
  await set('Amount of the vignette', '-60');
  const middle = page.locator('hl-vignette-mark').getByRole('slider');
  await middle.press('Shift+ArrowRight');
  await expect(middle).toHaveAttribute('aria-valuetext', '160, 100 px');
  await app.dragBy(middle, -30, 20);
  await expect(back).toHaveAccessibleName('Undo: centre of the vignette');

  const source = join(folder, 'source.png');
  await writeFile(source, picture);
  for (const isGrey of [false, true]) {
    if (isGrey) {
      await app.step('Colour');
      await page.getByRole('button', { name: 'Black and white' }).click();
      await page.getByRole('switch', { name: 'Black and white' }).click();
      await set('Red luminance', '70');
      // A colour dragged up on the picture becomes lighter.
      const mixes = ['Red', 'Yellow', 'Green', 'Cyan', 'Blue', 'Magenta'];
      const read = () => Promise.all(mixes.map((hue) => app.number(`${hue} luminance`).inputValue()));
      const start = await read();
      const [x, y] = await app.at(0.3, 0.6);
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x, y - 40, { steps: 4 });
      await page.mouse.up();
      await expect(back).toHaveAccessibleName('Undo: black and white mix');
      await expect.poll(read).not.toEqual(start);
    }
    const [ours, theirs] = await app.bothWays(source, folder);
    expect(Buffer.compare(ours, theirs)).toBe(0);
    if (isGrey) for (let i = 0; i < ours.length; i += 999) expect(ours[i]).toBe(ours[i + 1]);
  }
});

test('transparent places are blurred with the picture, and kept in the file as on the command line', async ({
  app,
  page,
  folder,
}) => {
  const width = 240;
  const data = await detailed(width, 160).ensureAlpha().raw().toBuffer();
  for (let i = 0; i < data.length / 4; i++) data[i * 4 + 3] = i % width < 120 ? 255 : (i % 7) * 20;
  const picture = await sharp(data, { raw: { width, height: 160, channels: 4 } })
    .png()
    .toBuffer();
  await app.choose({ name: 'pane.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('pane');
  await app.step('Blur');
  await app.number('Blur radius').fill('6');
  await app.number('Blur radius').press('Enter');
  await app.step('Output');
  const source = join(folder, 'source.png');
  await writeFile(source, picture);
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  for (const kind of ['PNG', 'TIFF']) {
    await page.getByRole('radio', { name: kind }).click();
    const exported = await app.downloadBy(page.getByRole('button', { name: `Export ${kind}` }), folder);
    const out = join(folder, `out.${kind === 'PNG' ? 'png' : 'tif'}`);
    expect((await render('--recipe', recipe, '--in', source, '--out', out)).error).toBe('');
    const [ours, theirs] = await Promise.all([exported, out].map((path) => sharp(path).raw().toBuffer()));
    expect(ours!.length).toBe(width * 160 * 4);
    expect(Math.min(...ours!.filter((_, i) => i % 4 === 3))).toBeLessThan(90);
    let worst = 0;
    // Where there is nearly nothing, its colour may be kept less exactly by what draws it.
    ours!.forEach((v, i) => {
      if (ours![i | 3]! > 40) worst = Math.max(worst, Math.abs(v - theirs![i]!));
    });
    expect(worst).toBeLessThanOrEqual(kind === 'TIFF' ? 0 : 3);
  }
});

test('what is clipped is marked while that is held, and a caption’s place is read for how quiet it is', async ({
  app,
  page,
}) => {
  // Black on the left, white on the right, stripes between.
  const [width, height] = [300, 200];
  const data = Buffer.alloc(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const x = i % width;
    data.fill(x < 100 ? 0 : x >= 200 ? 255 : x % 2 === 0 ? 90 : 160, i * 3, i * 3 + 3);
  }
  const buffer = await sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  await app.choose({ name: 'signs.png', mimeType: 'image/png', buffer });
  await expect(app.project).toHaveText('signs');
  for (const step of ['Focus', 'Blur', 'Colour'])
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('switch', { name: new RegExp(`^${step}`) })
      .click();
  await app.settled();
  await app.step('Colour');
  const marks = page.locator('hl-lights-mark canvas');
  const held = page.getByRole('button', { name: 'Show clipping' });
  await held.hover();
  await page.mouse.down();
  await expect(marks).toBeVisible();
  const covered = await marks.evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    const { data } = canvas.getContext('2d')!.getImageData(0, Math.floor(height / 2), width, 1);
    return [0.15, 0.5, 0.85].map((share) => data[Math.floor(width * share) * 4 + 3]);
  });
  expect(covered).toEqual([255, 0, 255]);
  await page.mouse.up();
  await expect(marks).toHaveCount(0);

  await app.step('Finish');
  await page.getByRole('switch', { name: 'Quiet area for a caption' }).click();
  const frame = page.getByRole('group', { name: /^Quiet area/ });
  await page.getByRole('slider', { name: 'Size of the quiet area' }).press('Shift+ArrowLeft');
  for (let i = 0; i < 3; i++)
    await page.getByRole('slider', { name: 'Size of the quiet area' }).press('Shift+ArrowLeft');
  await expect(page.getByText('The area is calm. White text is readable everywhere.')).toBeVisible();
  await expect(page.getByRole('row', { name: /^White text 21\.0 : 1/ })).toBeVisible();
  await app.dragBy(frame, 108, 0);
  await expect(page.getByText(/^The area is busy\./)).toBeVisible();
  // It is no part of the picture, and no step back.
  await expect(page.getByRole('button', { name: /^Undo: Colour off/ })).toBeVisible();
});

/** A table that swaps red and blue, and halves green. */
function swapped(): string {
  const steps = [0, 0.5, 1];
  const lines = steps.flatMap((b) => steps.flatMap((g) => steps.map((r) => `${b} ${g / 2} ${r}`)));
  return ['TITLE "swapped"', 'LUT_3D_SIZE 3', ...lines].join('\n');
}

test('tables of colours are brought in and kept as looks, and travel with their recipe', async ({
  app,
  page,
  folder,
}) => {
  const picture = await detailed(300, 200).png().toBuffer();
  await app.choose({ name: 'beds.png', mimeType: 'image/png', buffer: picture });
  await expect(app.project).toHaveText('beds');
  await app.step('Colour');
  await app.number('Saturation').fill('0');
  await app.number('Saturation').press('Enter');
  const [r, g, b] = await app.colourAt(0.5, 0.5);
  const bringIn = async (name: string, text: string): Promise<void> => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Import .cube' }).click(),
    ]);
    await chooser.setFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  };
  await bringIn('cut.cube', swapped().slice(0, -20));
  await expect(app.notice).toContainText('“cut.cube” can’t be used as a look. Line 27 should hold');
  await app.notice.getByRole('button').click();

  await bringIn('swap.cube', swapped());
  const looks = page.getByRole('radiogroup', { name: 'Looks' });
  await expect(looks.getByRole('radio', { name: 'swap' })).toBeChecked();
  await expect
    .poll(async () => {
      const now = await app.colourAt(0.5, 0.5);
      return Math.max(Math.abs(now[0]! - b!), Math.abs(now[1]! - g! / 2), Math.abs(now[2]! - r!));
    })
    .toBeLessThan(4);
  await page.getByRole('textbox', { name: 'Name of the look' }).fill('Night swap');
  await page.keyboard.press('Enter');
  await expect(looks.getByRole('radio', { name: 'Night swap' })).toBeChecked();

  // On top of it a warmth; all that together is another look, which can be had by itself.
  const warmth = app.number('Warmth');
  await warmth.fill('40');
  await warmth.press('Enter');
  const both = await app.colourAt(0.4, 0.4);
  await page.getByRole('textbox', { name: 'Name of a new look' }).fill('Both');
  await page.getByRole('button', { name: 'Save look' }).click();
  await expect(looks.getByRole('radio', { name: 'Both' })).toBeVisible();
  const source = join(folder, 'source.png');
  await writeFile(source, picture);
  await app.step('Output');
  const zip = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  expect(zip).toMatch(/\.recipe\.zip$/);
  await page.getByRole('radio', { name: 'PNG' }).click();
  const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  for (const [name, bytes] of Object.entries(unzipSync(await readFile(zip))))
    await writeFile(join(folder, name), bytes);
  const out = join(folder, 'out.png');
  const { code, error } = await render('--recipe', join(folder, 'recipe.json'), '--in', source, '--out', out);
  expect({ code, error }).toEqual({ code: 0, error: '' });
  const [ours, theirs] = await Promise.all(
    [exported, out].map((path) => sharp(path).removeAlpha().raw().toBuffer()),
  );
  expect(Buffer.compare(ours!, theirs!)).toBe(0);

  await app.step('Colour');
  await warmth.fill('0');
  await warmth.press('Enter');
  await looks.getByRole('radio', { name: 'Both' }).click();
  await expect
    .poll(async () => {
      const now = await app.colourAt(0.4, 0.4);
      return Math.max(...now.map((v, c) => Math.abs(v - both[c]!)));
    })
    .toBeLessThan(5);

  // Off the shelf it stays in the picture; a reload brings both back.
  await page.getByRole('button', { name: 'Delete the look Both' }).click();
  await expect(looks.getByRole('radio', { name: 'Both' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(looks.getByRole('radio', { name: 'Both' })).toBeChecked();
  await app.saved();
  await page.reload();
  await expect(app.picture).toBeVisible();
  await app.step('Colour');
  await expect(looks.getByRole('radio', { name: 'Both' })).toBeChecked();
  await expect
    .poll(async () => Math.max(...(await app.colourAt(0.4, 0.4)).map((v, c) => Math.abs(v - both[c]!))))
    .toBeLessThan(5);
});

test('white balance is picked on the picture, and the history says what changed and goes back', async ({
  app,
  page,
}) => {
  await app.step('Colour');
  await page.getByRole('radio', { name: 'RGB' }).click();
  await expect(page.getByText('green', { exact: true })).toBeVisible();
  await app.number('Exposure').fill('0.5');
  await app.number('Exposure').press('Enter');
  const picker = page.getByRole('button', { name: 'Pick white balance' });
  await picker.click();
  await page.keyboard.press('Escape');
  await expect(picker).toHaveAttribute('aria-pressed', 'false');
  await picker.click();
  await page.mouse.click(...(await app.at(0.45, 0.72)));
  // The square is paved in grey, and lies in warm light.
  await expect.poll(async () => Number(await app.number('Warmth').inputValue())).toBeLessThan(-10);

  await page.getByRole('button', { name: 'History' }).click();
  const steps = page.getByRole('menuitemradio');
  await expect(steps).toHaveText([
    /White balance.*Warmth 0% → -\d+%/s,
    /Exposure.*Exposure 0\.00 stops → 0\.50 stops/s,
    /As opened/,
  ]);
  await expect(steps.first()).toHaveAttribute('aria-checked', 'true');
  await steps.last().click();
  await expect(app.number('Exposure')).toHaveValue('0.00');
  await expect(app.number('Warmth')).toHaveValue('0');
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByRole('menuitemradio', { name: /^Exposure/ }).click();
  await expect(app.number('Exposure')).toHaveValue('0.50');
  await expect(app.number('Warmth')).toHaveValue('0');
});
