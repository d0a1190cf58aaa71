import { axeViolations, expect, sharp, test } from './fixtures';

// Numbers are read off the demo at its own size.

test('bands are added, chosen, ordered, switched and turned inside out', async ({ app, page }) => {
  const { list } = app;
  await page.getByRole('button', { name: 'Planar', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(list.getByRole('switch')).toHaveCount(2);
  await expect(list.getByRole('button', { name: 'Planar 2', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const clearTop = await app.detailAt(0.28);
  await list.getByRole('switch', { name: 'Planar 2' }).click();
  await app.softerThan(0.28, clearTop * 0.75);
  await list.getByRole('switch', { name: 'Planar 2' }).click();
  await list.getByRole('button', { name: 'More for Planar 2' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(list.getByRole('switch')).toHaveCount(3);
  await list.getByRole('button', { name: 'More for Planar 2 copy' }).click();
  await page.getByRole('menuitem', { name: 'Move up' }).click();
  await expect(list.getByRole('button', { name: 'Base haze 100%' })).toBeVisible();
  await expect(list.locator('.choose')).toHaveText([/Base haze/, 'Planar 1', 'Planar 2 copy', 'Planar 3']);
  await list.getByRole('button', { name: 'More for Planar 2 copy' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await page.keyboard.press('Control+z');
  await expect(list.getByRole('switch')).toHaveCount(3);
  await page.keyboard.press('Control+Shift+z');
  await list.getByRole('button', { name: 'More for Planar 2' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();

  // One band left, inside out: what was clear is hazy and the other way round.
  const [middle, top] = [await app.detailAt(0.6), await app.detailAt(0.03)];
  await page.getByRole('button', { name: 'Invert' }).click();
  await app.softerThan(0.6, middle * 0.7);
  await app.sharperThan(0.03, top * 1.3);
  await page.getByRole('radio', { name: 'late' }).click();
  await expect(page.getByRole('radio', { name: 'late' })).toHaveAttribute('aria-checked', 'true');
});

test.describe('at its own size', () => {
  // Numbers are read off it.
  test.use({ smallDemo: false });

  test('contours and profile move each other, by hand and by keyboard', async ({ app, page }) => {
    const knot = page.locator('[data-knot="near-outer"]');
    const value = async (): Promise<number> =>
      Number(await app.grip('near-outer').getAttribute('aria-valuenow'));
    const start = await value();
    await app.dragBy(knot, 0, -25);
    await expect.poll(value).toBeLessThan(start - 60);
    await app.settled();
    const dragged = await value();
    expect(Math.abs(Number(await knot.getAttribute('aria-valuenow')) - dragged)).toBeLessThan(1);
    await app.dragBy(knot, -20, 0);
    await expect.poll(async () => Number(await app.number('Near side, haze').inputValue())).toBeLessThan(80);

    await app.grip('near-outer').focus();
    await page.keyboard.press('Shift+ArrowUp');
    await expect.poll(value).toBeCloseTo(dragged + 10, 0);
    await app.grip('turn-end').focus();
    await page.keyboard.press('ArrowRight');
    await expect(app.number('Angle')).toHaveValue('2.5');
    await app.grip('line').focus();
    await page.keyboard.press('Shift+ArrowDown');
    await expect(app.number('Centre, down in pixels')).toHaveValue('1882');

    // The clear edge moves alone: the outer contour stays. Linked sides move together.
    const outer = await value();
    await app.dragBy(app.grip('near-clear'), 0, 12);
    await app.settled();
    expect(Math.abs((await value()) - outer)).toBeLessThan(2);
    await page.getByRole('button', { name: 'Sides unlinked' }).click();
    await app.dragBy(app.grip('far-outer'), 0, 30);
    await app.settled();
    const reach = await app.grip('far-outer').getAttribute('aria-valuenow');
    await expect(app.grip('near-outer')).toHaveAttribute('aria-valuenow', reach!);

    // A number out of range is brought back in sight.
    await app.number('Near side, haze').fill('140');
    await app.number('Near side, haze').press('Enter');
    await expect(page.getByText('Maximum 100')).toBeVisible();
    await expect(app.number('Near side, haze')).toHaveValue('100');
    await page.getByText('Falloff', { exact: true }).first().dblclick();
    await expect(app.number('Far side, falloff')).toHaveValue('1154');
  });
});

test('holding a key looks, tapping it keeps looking; nothing of that is an edit', async ({ app, page }) => {
  await page.mouse.move(500, 230);
  await expect(page.getByText(/haze \d+% · [\d.]+ px at cursor/)).toBeVisible();
  const seen = await app.colourAt(0.5, 0.6);
  const pressed = Date.now();
  await page.keyboard.down('m');
  await expect(page.getByText('Haze map', { exact: true })).toBeVisible();
  await expect.poll(async () => Math.max(...(await app.colourAt(0.5, 0.6)))).toBeLessThan(40);
  // Held for longer than a tap.
  await expect.poll(() => Date.now() - pressed).toBeGreaterThan(400);
  await page.keyboard.up('m');
  await expect.poll(() => app.colourAt(0.5, 0.6)).toEqual(seen);
  const top = await app.detailAt(0.1);
  await page.keyboard.press('x');
  await expect(page.getByText('Exaggerated 4×')).toBeVisible();
  await app.softerThan(0.1, top * 0.8);
  await page.keyboard.press('x');
  await page.keyboard.press('h');
  await expect(page.locator('hl-band-handles')).toHaveCSS('opacity', '0');
  await page.keyboard.press('h');

  await page.keyboard.press('w');
  const wipe = page.getByRole('slider', { name: 'Wipe between before and after' });
  await app.dragBy(wipe, -150, 0);
  await expect.poll(async () => Number(await wipe.getAttribute('aria-valuenow'))).toBeLessThan(35);
  await wipe.press('ArrowRight');
  await page.keyboard.press('w');

  // Zoom holds the point under the pointer; 100 % shows pixels one to one.
  const readingBefore = await page.getByText(/px at cursor/).textContent();
  await page.mouse.move(500, 320);
  const reading = await page.getByText(/px at cursor/).textContent();
  expect(reading).not.toBe(readingBefore);
  await page.mouse.wheel(0, -600);
  await page.mouse.move(501, 320);
  await page.mouse.move(500, 320);
  await expect(page.getByText(/px at cursor/)).toHaveText(reading!);
  await page.keyboard.press('1');
  await app.settled();
  const canvas = await app.picture.evaluate((c: HTMLCanvasElement) => [c.width, c.clientWidth]);
  expect(canvas[0]).toBe(canvas[1]);
  await page.keyboard.press('f');
  for (const step of ['Focus', 'Blur', 'Colour'])
    await page.getByRole('switch', { name: step, exact: true }).click();
  await app.settled();
  const plain = await app.picture.evaluate((c: HTMLCanvasElement) => {
    const bytes = (one: HTMLCanvasElement) => {
      const copy = new OffscreenCanvas(one.width, one.height).getContext('2d', { willReadFrequently: true })!;
      copy.drawImage(one, 0, 0);
      return copy.getImageData(0, 0, one.width, one.height).data;
    };
    const before = bytes(c.nextElementSibling as HTMLCanvasElement);
    return bytes(c).every((v, i) => v === before[i]);
  });
  expect(plain).toBe(true);
  await expect(page.getByRole('button', { name: 'Undo: Colour off' })).toBeEnabled();
});

test('a picture is read for whether it suits, and a suggested band is one click and one step back', async ({
  app,
  page,
}) => {
  await app.step('Source');
  const suits = page.getByRole('region', { name: 'Suitability' });
  await expect(suits.getByText(/Looks down about 2\d°, like a view over a model/)).toBeVisible();
  await expect(suits.getByText(/Fine detail in \d+% of the picture/)).toBeVisible();
  await expect(suits.getByText('Nothing tall crosses the focus plane')).toBeVisible();
  await suits.getByRole('button', { name: 'Place suggested band' }).click();
  await expect(app.list.getByRole('button', { name: 'Planar 1', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await expect(page.getByRole('radio', { name: 'linear' })).toBeChecked();
  await expect(page.getByRole('button', { name: 'Undo: suggested band' })).toBeEnabled();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('radio', { name: 'smooth' })).toBeChecked();
  // What has nothing upright in it says so.
  const flat = await sharp({ create: { width: 600, height: 400, channels: 3, background: '#8899aa' } })
    .png()
    .toBuffer();
  await app.choose({ name: 'flat.png', mimeType: 'image/png', buffer: flat });
  await expect(app.project).toHaveText('flat');
  await expect(suits.getByText('Camera angle unclear: no verticals to measure.')).toBeVisible();
  await expect(suits.getByText('Fine detail in 0% of the picture.')).toBeVisible();
});

test('the shelf keeps projects: open, rename, duplicate, delete and put back', async ({ app, page }) => {
  await app.project.click();
  const shelf = page.getByRole('dialog', { name: 'Shelf' });
  await shelf.getByRole('button', { name: 'Start with Glasshouses' }).click();
  await expect(app.project).toHaveText('Glasshouses');
  await app.settled();
  await app.project.click();
  await expect(shelf.getByText('2 projects')).toBeVisible();
  await expect(shelf.locator('li.current img')).toBeVisible();
  await shelf.getByRole('button', { name: 'More for Tram loop' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  // The box has the focus; Escape leaves the name as it was, and the shelf open.
  const box = shelf.getByRole('textbox', { name: 'New name' });
  await expect(box).toBeFocused();
  await box.fill('Something else');
  await page.keyboard.press('Escape');
  await expect(box).toHaveCount(0);
  await expect(shelf.getByText('Tram loop', { exact: true }).first()).toBeVisible();
  await shelf.getByRole('button', { name: 'More for Tram loop' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await shelf.getByRole('textbox', { name: 'New name' }).fill('Morning trams');
  await page.keyboard.press('Enter');
  await shelf.getByRole('button', { name: 'More for Morning trams' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(shelf.getByText('Morning trams copy')).toBeVisible();
  await shelf.getByRole('button', { name: 'More for Morning trams copy' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(shelf.getByText('2 projects')).toBeVisible();
  await shelf.getByRole('button', { name: 'Restore' }).click();
  await expect(shelf.getByText('3 projects')).toBeVisible();
  await shelf.getByRole('button', { name: 'Open Morning trams', exact: true }).click();
  await expect(app.project).toHaveText('Morning trams');
});

for (const scheme of ['light', 'dark'] as const) {
  test.describe('every panel', () => {
    test(`is accessible in the ${scheme} theme`, async ({ app, page }) => {
      await page.emulateMedia({ colorScheme: scheme });
      // The themes differ in their colours alone, and the steps in what they bring to the stage and the panel.
      const rules = scheme === 'light' ? undefined : ['color-contrast'];
      expect(await axeViolations(page, [], rules)).toEqual([]);
      const views: [string, string?][] = [['Source'], ['Tidy'], ['Focus'], ['Focus', 'Brush'], ['Focus', 'Subject'], ['Focus', 'Depth map'], ['Blur'], ['Colour'], ['Finish'], ['Output']]; // prettier-ignore
      for (const [step, way] of views) {
        await app.step(step);
        if (way) await app.add(way);
        if (way === 'Depth map') await expect(app.number('Focus depth')).toBeVisible();
        expect(
          await axeViolations(page, ['hl-route', 'hl-stage', 'hl-profile-rail', 'aside'], rules),
          way ?? step,
        ).toEqual([]);
      }
      const inDialog = async (what: string): Promise<void> =>
        expect(await axeViolations(page, ['[role=dialog]'], rules), what).toEqual([]);
      await page.getByRole('button', { name: 'Batch' }).click();
      await inDialog('many');
      await page.keyboard.press('Escape');
      await app.project.click();
      await inDialog('projects');
      await page.getByRole('radio', { name: 'Recipes' }).click();
      await inDialog('recipes');
      await page.keyboard.press('Escape');
      await page.keyboard.press('?');
      await expect(page.getByRole('dialog', { name: 'Keyboard shortcuts' })).toBeVisible();
    });
  });
}
