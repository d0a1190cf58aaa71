import { insertMetadata } from '@hazy-lens/core';
import type { Locator } from '@playwright/test';
import { greyStill, heifWith } from '../core/test/heif-file';
import { type App, detailed, expect, join, readFile, render, sharp, test, writeFile } from './fixtures';

/** A plain picture of detail, with the starting band taken away: the field is haze everywhere. */
async function emptyField(app: App): Promise<void> {
  const buffer = await detailed(900, 600).png().toBuffer();
  await app.choose({ name: 'detail.png', mimeType: 'image/png', buffer });
  await expect(app.project).toHaveText('detail');
  await app.step('Focus');
  await app.list.getByRole('button', { name: 'More for Planar 1' }).click();
  await app.page.getByRole('menuitem', { name: 'Delete' }).click();
  await app.settled();
}

/** Waits until a reading is about what is wanted: it follows the hand a moment later. */
async function near(read: () => Promise<number>, wanted: number, by = 4): Promise<void> {
  await expect.poll(read, `about ${wanted}`).toBeGreaterThanOrEqual(wanted - by);
  await expect.poll(read, `about ${wanted}`).toBeLessThanOrEqual(wanted + by);
}

const set = async (field: Locator, value: string): Promise<void> => {
  await field.fill(value);
  await field.press('Enter');
};

test('linear, elliptical and iris bands are placed by a drag, held by their grips, and reach the pixels', async ({
  app,
  page,
  folder,
}) => {
  await emptyField(app);
  const soft = await app.detailAt(0.9);

  await app.place('Linear', [0.5, 0.8], [0.5, 0.2]);
  await near(() => app.hazeAt(0.3, 0.9), 0);
  await near(() => app.hazeAt(0.3, 0.1), 100);
  await near(() => app.hazeAt(0.3, 0.5), 50);
  await app.sharperThan(0.9, soft * 1.5);
  await set(app.number('Start, haze'), '30');
  await near(() => app.hazeAt(0.3, 0.9), 30);
  await page.keyboard.down('Shift');
  await app.dragBy(app.grip('end'), 30, 0);
  await page.keyboard.up('Shift');
  await expect(app.number('End, across in pixels')).toHaveValue('450');
  await app.list.getByRole('switch', { name: 'Linear 1' }).click();

  await app.place('Elliptical', [0.3, 0.5], [0.45, 0.7]);
  await near(() => app.hazeAt(0.3, 0.5), 0);
  await near(() => app.hazeAt(0.3, 0.95), 100);
  const radius = Number(await app.number('Radius along').inputValue());
  await app.dragBy(app.grip('stretch-a'), 40, 0);
  await expect
    .poll(async () => Number(await app.number('Radius along').inputValue()))
    .toBeGreaterThan(radius + 20);
  await app.grip('turn').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(app.number('Angle')).toHaveValue('10.0');
  // The rim pulled so wide that it becomes a band.
  await set(app.number('Radius along'), '9000');
  await near(() => app.hazeAt(0.95, 0.6), 0);
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await near(() => app.hazeAt(0.3, 0.5), 100);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');

  await app.place('Iris', [0.75, 0.4], [0.82, 0.4]);
  await set(app.number('Outer haze'), '80');
  await set(app.number('Sides'), '5');
  await set(app.number('Roundness'), '0');
  await set(app.number('Falloff'), '120');
  await page.getByText('Falloff by direction').click();
  await expect(app.number('Falloff at 45°')).toHaveValue('120');
  await page.getByRole('button', { name: 'Directions linked' }).click();
  await set(app.number('Falloff at 90°'), '300');
  await set(app.number('Falloff at 270°'), '0');
  await near(() => app.hazeAt(0.75, 0.4), 0);
  const above = await app.hazeAt(0.75, 0.22);
  const below = await app.hazeAt(0.75, 0.58);
  expect(below).toBeLessThan(above - 15);
  // A point of the outline that is pulled out takes the clear place along.
  const pulled = page.getByRole('slider', { name: 'Outline at 270°' });
  for (let i = 0; i < 20; i++) await pulled.press('Shift+ArrowUp');
  await expect(pulled).toHaveAttribute('aria-valuetext', 'outline 300%');
  await near(() => app.hazeAt(0.75, 0.22), 0);
  for (let i = 0; i < 20; i++) await page.keyboard.press('Control+z');

  // Three custom knots on the rail, a ray that turns, and a name.
  await page.getByRole('radio', { name: 'custom' }).click();
  await expect(page.locator('[data-knot^="far-knot"]')).toHaveCount(4);
  await page.locator('[data-knot="far-knot-1"]').press('Delete');
  await expect(page.locator('[data-knot^="far-knot"]')).toHaveCount(3);
  await set(app.number('Profile direction'), '0');
  await app.page.getByRole('textbox', { name: 'Name of the band' }).fill('Kiosk');
  await page.keyboard.press('Enter');
  await expect(app.list.getByRole('button', { name: 'Kiosk', exact: true })).toBeVisible();
  await expect(page.locator('.seam-note')).toContainText(/soft|firm|hard edge/);

  // A click on another band's line chooses it.
  await page.mouse.click(...(await app.at(0.3, 0.7)));
  await expect(app.list.getByRole('button', { name: 'Elliptical 1', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );

  // The command line draws the same map.
  await app.step('Output');
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  const map = await app.downloadBy(page.getByRole('button', { name: 'Export map' }), folder);
  await detailed(900, 600).png().toFile(join(folder, 'in.png'));
  const result = await render('--recipe', recipe, '--in', join(folder, 'in.png'), '--out', join(folder, 'out.png'), '--map', join(folder, 'map.png')); // prettier-ignore
  expect(result.code, result.error).toBe(0);
  const [ours, theirs] = await Promise.all(
    [map, join(folder, 'map.png')].map((path) =>
      sharp(path).toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer(),
    ),
  );
  expect(Buffer.compare(ours!, theirs!)).toBe(0);
  expect(new Set(ours).size).toBeGreaterThan(100);
});

test('soundings are dropped, moved, turned, copied and taken away; the field goes through them', async ({
  app,
  page,
}) => {
  await emptyField(app);
  await app.add('Sounding');
  for (const [x, y] of [[0.2, 0.5], [0.8, 0.5], [0.5, 0.2]] as const) await page.mouse.click(...(await app.at(x, y))); // prettier-ignore
  await expect(app.list.getByRole('button', { name: /^Soundings/ })).toContainText('3');
  // They start with the haze that is there: nothing changes until one is set.
  await near(() => app.hazeAt(0.2, 0.505), 100);
  const bar = page.getByRole('slider', { name: 'Haze of Sounding 1' });
  await bar.focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('Shift+ArrowDown');
  await near(() => app.hazeAt(0.2, 0.505), 0, 6);
  await near(() => app.hazeAt(0.8, 0.505), 100, 6);
  await expect.poll(() => app.hazeAt(0.5, 0.6)).toBeGreaterThan(15);
  // A new one between them has what lies between.
  await page.mouse.click(...(await app.at(0.3, 0.5)));
  const fourth = page.getByRole('slider', { name: 'Haze of Sounding 4' });
  await expect.poll(async () => Number(await fourth.getAttribute('aria-valuenow'))).toBeLessThan(40);
  await page.locator('[data-sounding="3"]').press('Delete');

  await bar.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Shift+ArrowUp');
  await expect(bar).toHaveAttribute('aria-valuenow', '20');
  await page.mouse.move(...(await app.at(0.2, 0.5)));
  await page.mouse.wheel(0, -100);
  await expect(bar).toHaveAttribute('aria-valuenow', '22');
  await app.dragBy(bar, 0, -34);
  await expect(bar).toHaveAttribute('aria-valuenow', '100');

  const spot = page.locator('[data-sounding="1"]');
  await page.keyboard.down('Alt');
  await app.dragBy(spot, 0, 60);
  await page.keyboard.up('Alt');
  await expect(page.locator('[data-sounding]')).toHaveCount(4);
  await page.locator('[data-sounding="3"]').press('Delete');
  await expect(page.locator('[data-sounding]')).toHaveCount(3);
  await app.dragBy(spot, -100, 0);
  await near(() => app.hazeAt(0.8, 0.9), await app.hazeAt(0.8, 0.9), 0);
  await expect(page.getByRole('button', { name: 'Undo: place of a sounding' })).toBeEnabled();
  await page.locator('hl-stage .picture').focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-sounding]')).toHaveCount(4);
});

test('the brush clears, hazes and erases; every stroke is one step back and survives a reload', async ({
  app,
  page,
}) => {
  await emptyField(app);
  await app.add('Brush');
  await set(app.number('Radius of the brush'), '70');
  const hazy = await app.detailAt(0.3);
  await app.draw([0.2, 0.3], [0.8, 0.3]);
  await near(() => app.hazeAt(0.5, 0.3), 0);
  await near(() => app.hazeAt(0.5, 0.8), 100);
  await app.sharperThan(0.3, hazy * 1.3);
  await page.getByRole('radio', { name: 'Haze', exact: true }).click();
  await set(app.number('Strength'), '50');
  await app.draw([0.5, 0.2], [0.5, 0.4]);
  await near(() => app.hazeAt(0.5, 0.3), 50, 6);
  await page.getByRole('radio', { name: 'Erase', exact: true }).click();
  await set(app.number('Strength'), '100');
  await app.draw([0.3, 0.3], [0.3, 0.31]);
  await near(() => app.hazeAt(0.3, 0.3), 100);
  // A straight line on from the last stroke.
  await page.keyboard.down('Shift');
  await page.mouse.click(...(await app.at(0.3, 0.7)));
  await page.keyboard.up('Shift');
  await expect(app.list.getByRole('button', { name: /^Brush/ })).toContainText('4 strokes');
  await app.saved();
  await page.reload();
  await expect(app.picture).toBeVisible();
  await app.settled();
  await page.getByRole('button', { name: 'Undo: erase stroke' }).click();
  await page.getByRole('button', { name: 'Undo: erase stroke' }).click();
  await near(() => app.hazeAt(0.3, 0.3), 0);
  await page.getByRole('button', { name: 'Undo: haze stroke' }).click();
  await near(() => app.hazeAt(0.5, 0.3), 0);
  await app.list.getByRole('switch', { name: 'Brush' }).click();
  await near(() => app.hazeAt(0.5, 0.3), 100);
});

test('a depth map is brought in, asked about once, put in focus by a click, and travels with its recipe', async ({
  app,
  page,
  folder,
}) => {
  await emptyField(app);
  const [width, height] = [300, 300];
  const ramp = Uint16Array.from({ length: width * height }, (_, i) => ((i % width) / (width - 1)) * 65535);
  const depth = await sharp(ramp, { raw: { width, height, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  const bring = async (answer: string): Promise<void> => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page
        .getByRole('button', { name: /^(Depth map|Replace map)$/ })
        .first()
        .click(),
    ]);
    await chooser.setFiles({ name: 'ramp.png', mimeType: 'image/png', buffer: depth });
    await page.getByRole('dialog').getByRole('button', { name: answer }).click();
  };
  await bring('Cancel');
  await expect(app.list.getByRole('button', { name: /^Depth map/ })).toHaveCount(0);
  await bring('Stretch');
  await expect(app.list.getByRole('button', { name: /^Depth map/ })).toBeVisible();
  await app.settled();
  await page.mouse.click(...(await app.at(0.25, 0.5)));
  await app.settled();
  await near(() => app.hazeAt(0.25, 0.5), 0);
  await expect.poll(() => app.hazeAt(0.9, 0.5)).toBeGreaterThan(90);
  expect(Number(await app.number('Focus depth').inputValue())).toBeCloseTo(25, -1);
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await near(() => app.hazeAt(0.25, 0.5), 100);
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await set(app.number('Align to edges'), '100');
  await app.settled();

  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  const zip = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  expect(zip).toMatch(/\.recipe\.zip$/);
  // Unpacked, the command line finds the map beside the recipe.
  const { unzipSync } = await import('fflate');
  for (const [name, bytes] of Object.entries(unzipSync(await readFile(zip))))
    await writeFile(join(folder, name), bytes);
  await detailed(900, 600).png().toFile(join(folder, 'in.png'));
  const line = [
    '--recipe',
    join(folder, 'recipe.json'),
    '--in',
    join(folder, 'in.png'),
    '--out',
    join(folder, 'out.png'),
  ];
  const result = await render(...line);
  expect(result.code, result.error).toBe(0);
  const [ours, theirs] = await Promise.all(
    [exported, join(folder, 'out.png')].map((path) => sharp(path).removeAlpha().raw().toBuffer()),
  );
  const worst = ours!.reduce((most, v, i) => Math.max(most, Math.abs(v - theirs![i]!)), 0);
  expect(worst).toBeLessThanOrEqual(3);

  // The zip brings the map back; a recipe without its picture is refused by name.
  await page.keyboard.press('Control+z');
  await app.useRecipe('look.recipe.zip', await readFile(zip));
  await expect(page.getByRole('button', { name: 'Undo: recipe “look.recipe.zip”' })).toBeEnabled();
  const lost = JSON.stringify({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { depthMap: { image: 'gone.png' } },
  });
  await app.useRecipe('lost.json', lost);
  await expect(app.notice).toContainText('“lost.json” can’t be applied. The recipe needs “gone.png”');
  await app.notice.getByRole('button').click();
  await writeFile(join(folder, 'lost.json'), lost);
  const refused = await render('--recipe', join(folder, 'lost.json'), ...line.slice(2));
  expect(refused).toMatchObject({ code: 2 });
  expect(refused.error).toMatch(/gone\.png: file not found.*focus\.depthMap\.image/);
  await page.getByRole('button', { name: 'Use as depth map' }).click();
  await expect(page.getByText('The haze map is now the depth map')).toBeVisible();
});

test('a subject is cut out by scribbles and stays clear, whatever the bands do', async ({
  app,
  page,
  folder,
}) => {
  await app.project.click();
  await page.getByRole('button', { name: 'Start with Glasshouses' }).click();
  await expect(app.project).toHaveText('Glasshouses');
  await app.step('Focus');
  await app.settled();
  const before = await app.hazeAt(0.69, 0.34);
  expect(before).toBeGreaterThan(10);
  await app.add('Subject');
  await app.draw([0.665, 0.32], [0.72, 0.32], [0.7, 0.37], [0.66, 0.38]);
  await page.getByRole('radio', { name: 'Outside', exact: true }).click();
  await app.draw([0.63, 0.29], [0.635, 0.44], [0.7, 0.44], [0.77, 0.43]);
  await expect.poll(() => app.hazeAt(0.69, 0.34)).toBeLessThan(4);
  await expect(page.getByText('cutting out…')).toHaveCount(0, { timeout: 60_000 });
  await app.settled();
  await expect.poll(() => app.hazeAt(0.6, 0.25)).toBeGreaterThan(25);
  const matte = await app.downloadBy(page.getByRole('button', { name: 'Export matte' }), folder);
  const { data, info } = await sharp(matte).greyscale().raw().toBuffer({ resolveWithObject: true });
  expect(info).toMatchObject({ width: 3600, height: 2400 });
  const kept = data.reduce((sum, v) => sum + v / 255, 0) / data.length;
  expect(kept).toBeGreaterThan(0.003);
  expect(kept).toBeLessThan(0.03);
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await expect.poll(() => app.hazeAt(0.69, 0.34)).toBeGreaterThan(10);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo: scribble outside' })).toBeEnabled();
  // A step back while a cut is on its way takes the scribble with it, and stays possible to take forward.
  await app.draw([0.6, 0.3], [0.61, 0.35]);
  await page.keyboard.press('Control+z');
  await expect(page.getByText('cutting out…')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Redo: scribble outside' })).toBeEnabled();
  await page.getByRole('button', { name: 'Delete scribbles' }).click();
  await expect.poll(() => app.hazeAt(0.69, 0.34)).toBe(before);
});

test('the whole field can be made by keyboard alone', async ({ app, page }) => {
  await emptyField(app);
  const way = (name: string): Locator =>
    page.getByRole('group', { name: 'Add focus' }).getByRole('button', { name, exact: true });
  await way('Iris').press('Enter');
  await near(() => app.hazeAt(0.5, 0.55), 0);
  const corner = app.grip('corner');
  const radius = Number(await corner.getAttribute('aria-valuenow'));
  await corner.press('Shift+ArrowUp');
  await expect(corner).toHaveAttribute('aria-valuenow', (radius + 10).toFixed(1));
  await page.locator('[data-knot="to"]').press('Shift+ArrowDown');
  await expect(page.getByRole('button', { name: 'Undo: profile: outer edge' })).toBeEnabled();

  // The hand on the picture: arrow keys move it, Enter puts it down, Shift and Enter draw a line on.
  await way('Brush').press('Enter');
  const hand = page.locator('hl-stage .picture');
  await page.mouse.move(...(await app.at(0.2, 0.15)));
  await hand.focus();
  await page.keyboard.press('Enter');
  for (let i = 0; i < 40; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+Enter');
  await expect(app.list.getByRole('button', { name: /^Brush/ })).toContainText('2 strokes');
  await near(() => app.hazeAt(0.3, 0.15), 0, 8);
  await page.keyboard.press('l');
  await expect(app.number('Radius of the brush')).not.toHaveValue('32');

  // A kind that waits to be placed is put away by Escape.
  await way('Planar').click();
  await expect(page.getByText('Planar: drag on the picture.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Planar: drag on the picture.')).toHaveCount(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keyboard shortcuts' })).toContainText('drag a copy');
});

test('grey pictures that cannot be used are refused by name; colours are told of', async ({ app, page }) => {
  await emptyField(app);
  const bring = async (name: string, buffer: Buffer): Promise<void> => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page
        .getByRole('button', { name: /^(Depth map|Replace map)$/ })
        .first()
        .click(),
    ]);
    await chooser.setFiles({ name, mimeType: 'image/png', buffer });
  };
  const png = await detailed(90, 60).png().toBuffer();
  for (const [name, buffer, message] of [
    ['notes.png', Buffer.from('notes'), /“notes\.png” isn’t a supported picture/],
    ['empty.png', Buffer.alloc(0), /“empty\.png” is empty/],
    ['cut.png', png.subarray(0, 120), /“cut\.png” can’t be opened: the file is cut short/],
  ] as const) {
    await bring(name, buffer);
    await expect(app.notice).toContainText(message);
    await app.notice.getByRole('button').click();
    await expect(app.list.getByRole('button', { name: /^Depth map/ })).toHaveCount(0);
  }
  await bring('colours.png', png);
  await expect(page.getByRole('status').filter({ hasText: 'luminance' })).toContainText(
    '“colours.png” is in colour',
  );
  await expect(app.list.getByRole('button', { name: /^Depth map/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(app.list.getByRole('button', { name: /^Depth map/ })).toHaveCount(0);

  // A matte of one value keeps all or nothing, and nothing breaks.
  await app.add('Subject');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import matte' }).click(),
  ]);
  const white = await sharp({ create: { width: 30, height: 20, channels: 3, background: '#ffffff' } })
    .png()
    .toBuffer();
  await chooser.setFiles({ name: 'white.png', mimeType: 'image/png', buffer: white });
  await expect.poll(() => app.hazeAt(0.5, 0.5)).toBe(0);
  await set(app.number('Grow'), '-20');
  await set(app.number('Feather'), '30');
  await expect.poll(() => app.hazeAt(0.5, 0.5)).toBe(0);
  await page.getByRole('radio', { name: 'Subtract' }).click();
  await expect.poll(() => app.hazeAt(0.5, 0.5)).toBe(100);
});

/** A JPEG of detail with a depth map behind it: near on the left, far on the right. */
async function jpegWithDepth(): Promise<Buffer> {
  const [width, height] = [300, 200];
  // Its values grow with the distance.
  const ramp = Buffer.from(
    Uint8Array.from({ length: width * height }, (_, i) => ((i % width) / width) * 255),
  );
  const depth = await sharp(ramp, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();
  const item = (uri: string, length: number): string =>
    `<rdf:li rdf:parseType="Resource"><Container:Item Item:Mime="image/jpeg" Item:Length="${length}" Item:DataURI="${uri}"/></rdf:li>`;
  const xmp = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description xmlns:Container="urn:container" xmlns:Item="urn:item" xmlns:DepthMap="urn:depth"><Container:Directory><rdf:Seq>${item('primary', 0)}${item('depth', depth.length)}</rdf:Seq></Container:Directory><DepthMap:DepthMap DepthMap:Format="RangeInverse" DepthMap:Near="1" DepthMap:Far="30" DepthMap:DepthURI="depth"/></rdf:Description></rdf:RDF></x:xmpmeta>`;
  const picture = await detailed(900, 600).jpeg().toBuffer();
  return Buffer.concat([insertMetadata(picture, { exif: null, xmp }), depth]);
}

/** The same as a HEIC file: its depth picture is brighter where it is near, as there is no word of it. */
function heicWithDepth(): Buffer {
  const [width, height] = [300, 200];
  const ramp = Uint8Array.from({ length: width * height }, (_, i) => (1 - (i % width) / width) * 255);
  const depth = greyStill(ramp, width, height);
  const picture = greyStill(
    ramp.map((value, i) => (value + 90 * (i % 2)) % 256),
    width,
    height,
  );
  return Buffer.from(heifWith(picture, depth, 'urn:mpeg:hevc:2015:auxid:2'));
}

for (const [kind, make] of [
  ['JPEG', jpegWithDepth],
  ['HEIC', heicWithDepth],
] as const)
  test(`a depth map inside of a ${kind} is offered when that is opened, and is the way round that its file says`, async ({
    app,
    page,
  }) => {
    const name = `portrait.${kind.toLowerCase()}`;
    await app.choose({ name, mimeType: `image/${kind.toLowerCase()}`, buffer: await make() });
    await expect(app.project).toHaveText('portrait');
    await expect(page.getByText('The file has a depth map inside')).toBeVisible();
    await page.getByRole('button', { name: 'Use depth map' }).click();
    await app.step('Focus');
    await app.list.getByRole('button', { name: 'More for Planar 1' }).click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
    await app.list.getByRole('button', { name: /^Depth map/ }).click();
    await set(app.number('Focus depth'), '90');
    // What is near is bright, and so in focus: the left.
    await near(() => app.hazeAt(0.1, 0.5), 0);
    await expect.poll(() => app.hazeAt(0.9, 0.5)).toBeGreaterThan(90);
    // Once it is taken away, the way to a depth map brings it again.
    await app.list.getByRole('button', { name: 'More for Depth map' }).click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
    await app.add('Depth map');
    await expect(app.list.getByRole('button', { name: /^Depth map/ })).toBeVisible();
  });

test('a subject that stands is as hazy as the ground at its foot, which the hand moves', async ({
  app,
  page,
}) => {
  await emptyField(app);
  await app.place('Linear', [0.5, 0.95], [0.5, 0.05]);
  // A matte from a file: a tower in the middle third, from the top down to nine tenths.
  const [width, height] = [90, 60];
  const tower = Buffer.from(
    Uint8Array.from({ length: width * height }, (_, i) =>
      i % width >= 30 && i % width < 60 && i < 54 * width ? 255 : 0,
    ),
  );
  const buffer = await sharp(tower, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();
  await app.add('Subject');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import matte' }).click(),
  ]);
  await chooser.setFiles({ name: 'tower.png', mimeType: 'image/png', buffer });
  await near(() => app.hazeAt(0.5, 0.2), 0);
  await page.getByRole('radio', { name: 'Standing', exact: true }).click();
  const foot = await app.hazeAt(0.15, 0.89);
  for (const y of [0.1, 0.5, 0.85]) await near(() => app.hazeAt(0.5, y), foot);
  // Its foot is put half-way up: all of it gets the haze of there.
  const grip = page.getByRole('slider', { name: 'Foot of Subject 1' });
  const [, y] = await app.at(0.5, 0.9);
  const [, higher] = await app.at(0.5, 0.5);
  await app.dragBy(grip, 0, higher - y);
  const half = await app.hazeAt(0.15, 0.5);
  expect(half).toBeGreaterThan(foot + 20);
  for (const at of [0.1, 0.85]) await near(() => app.hazeAt(0.5, at), half, 6);
  await page.getByRole('button', { name: 'Undo: foot of subject' }).click();
  await near(() => app.hazeAt(0.5, 0.5), foot);
});

test('the scale gauge says which model the blur speaks of, and makes the blur of one that is asked for', async ({
  app,
  page,
}) => {
  await app.step('Focus');
  const gauge = page.getByRole('group', { name: 'Scale gauge' });
  await expect(gauge).toContainText(/1 : \d+/);
  // Once the horizon is read, it is that of the picture.
  await page.getByRole('button', { name: 'Scale gauge' }).click();
  await expect(page.getByText('The horizon is read from the picture.')).toBeVisible();
  await gauge.getByRole('button', { name: 'Set scale 1 to 160' }).click();
  await expect(gauge).toContainText('1 : 160');
  // It is the band in hand that was set, its falloffs as on level ground: as long on both sides.
  const far = Number(await app.number('Far side, falloff').inputValue());
  await expect(app.number('Near side, falloff')).toHaveValue(`${far}`);
  await expect(app.number('Far side, clear width')).toHaveValue('0');
  await app.step('Blur');
  const strong = Number(await app.number('Blur radius').inputValue());
  // Any scale can be asked for, and what is assumed can be said: half as far away it is half the blur.
  await app.step('Focus');
  await page.getByRole('button', { name: 'Scale gauge' }).click();
  await set(app.number('Scale, one to'), '80');
  await expect(gauge).toContainText('1 : 80');
  await app.step('Blur');
  // The row in focus has a small part in it.
  const half = Number(await app.number('Blur radius').inputValue()) / strong;
  expect(half).toBeGreaterThan(0.4);
  expect(half).toBeLessThan(0.65);
  await app.step('Focus');
  await page.getByRole('button', { name: 'Scale gauge' }).click();
  await set(app.number('Distance to the focus'), '30');
  await expect(gauge).toContainText('1 : 40');
  await page.getByRole('button', { name: 'Undo: scale 1:80' }).click();
  await expect(gauge).toContainText('1 : 80');
  // Without a blur there is no scale.
  await app.step('Blur');
  await set(app.number('Blur radius'), '0');
  await app.step('Focus');
  await expect(gauge).toContainText('no scale');
});
