import { type Page, devices } from '@playwright/test';
import { type App, axeViolations, expect, test } from './fixtures';

const STEPS = ['Source', 'Tidy', 'Focus', 'Blur', 'Colour', 'Finish', 'Output'];

/** Texts of buttons that do not show whole, and parts that reach out of the window. */
function cutOff(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    const parts = document.querySelectorAll<HTMLElement>(
      ':is(header, hl-route, aside, hl-status-line) :is(button, h2, h3, label, mat-form-field)',
    );
    for (const part of parts) {
      if (!part.checkVisibility() || getComputedStyle(part).textOverflow === 'ellipsis') continue;
      const box = part.getBoundingClientRect();
      const name = (part.ariaLabel ?? part.textContent ?? '').trim();
      const scrolls = part.closest('hl-route') !== null;
      if (
        part.scrollWidth > part.clientWidth + 2 &&
        part.clientWidth > 0 &&
        part.matches('button:not([role=switch])')
      )
        found.push(`${name}: ${part.scrollWidth} in ${part.clientWidth}`);
      if (!scrolls && box.width > 1 && (box.left < -1 || box.right > innerWidth + 1))
        found.push(`${name}: from ${box.left} to ${box.right} of ${innerWidth}`);
    }
    return found;
  });
}

test('nothing is cut, and the picture stays the largest thing, in windows of every size', async ({
  app,
  page,
}) => {
  for (const [width, height] of [
    [1280, 660],
    [1024, 700],
    [800, 1100],
    [390, 844],
    [2560, 1440],
    // A window of 1280 x 800 at 200%.
    [640, 400],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const name of STEPS) {
      await app.step(name);
      const at = `${name} at ${width} x ${height}`;
      expect(await cutOff(page), at).toEqual([]);
      const whole = await page.evaluate(() => {
        const { scrollWidth, scrollHeight } = document.documentElement;
        return [scrollWidth, scrollHeight];
      });
      expect(whole, at).toEqual([width, height]);
      const stage = (await page.locator('hl-stage').boundingBox())!;
      expect(stage.height, at).toBeGreaterThanOrEqual(height * (width < 700 && width < height ? 0.4 : 0.5));
      expect(stage.width, at).toBeGreaterThan(width * 0.5);
    }
  }
});

/** Fingers on the page: where each is, through all places of their ways at once. */
async function fingers(page: Page, ...ways: [number, number][][]): Promise<void> {
  const hand = await page.context().newCDPSession(page);
  const points = (i: number) => ways.map((way, id) => ({ x: way[i]![0], y: way[i]![1], id }));
  await hand.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: points(0) });
  for (let i = 1; i < ways[0]!.length; i++)
    await hand.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: points(i) });
  // They rest before they lift: after a throw the browser takes the next tap for the end of it.
  await page.waitForTimeout(150);
  await hand.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await hand.detach();
}

/** Places on a straight way. */
const way = ([x0, y0]: [number, number], [x1, y1]: [number, number]): [number, number][] =>
  Array.from({ length: 9 }, (_, i) => [x0 + ((x1 - x0) * i) / 8, y0 + ((y1 - y0) * i) / 8]);

const middleOf = async (app: App): Promise<[number, number]> => app.at(0.5, 0.5);

test.describe('by touch alone', () => {
  test.use({ viewport: devices['Pixel 5'].viewport, hasTouch: true });

  test('a picture is moved, zoomed, blurred, looked at and exported on a phone', async ({
    app,
    page,
    folder,
  }) => {
    const box = async () => (await app.picture.boundingBox())!;
    await page.getByRole('navigation', { name: 'Route' }).getByRole('button', { name: /^Blur/ }).tap();
    await app.settled();

    // Two fingers zoom about the point between them.
    const start = await box();
    const [x, y] = await middleOf(app);
    await fingers(page, way([x - 30, y], [x - 90, y]), way([x + 30, y], [x + 90, y]));
    await expect.poll(async () => (await box()).width / start.width).toBeGreaterThan(2.5);
    // One moves the picture, where no tool is chosen.
    const zoomed = await box();
    await fingers(page, way([x, y], [x + 40, y + 30]));
    await expect.poll(async () => (await box()).x - zoomed.x).toBeGreaterThan(25);
    await page.getByRole('button', { name: 'Fit' }).tap();
    await expect.poll(async () => (await box()).width).toBeCloseTo(start.width, 0);

    // What is held with keys is a button here: a tap leaves it on.
    const hazeMap = page.getByRole('button', { name: 'Haze map', exact: true });
    await hazeMap.tap();
    await expect(hazeMap).toHaveAttribute('aria-pressed', 'true');
    await hazeMap.tap();
    await expect(hazeMap).toHaveAttribute('aria-pressed', 'false');

    expect(await axeViolations(page)).toEqual([]);

    // The panel is pulled up, and the picture stays above it.
    const handle = page.getByRole('slider', { name: 'Panel height' });
    const at = (await handle.boundingBox())!;
    const from: [number, number] = [at.x + at.width / 2, at.y + at.height / 2];
    await fingers(page, way(from, [from[0], from[1] - 220]));
    await expect(handle).toHaveAttribute('aria-valuetext', 'two thirds');
    await expect(app.picture).toBeInViewport({ ratio: 0.9 });
    const slider = (await page.locator('aside mat-slider').first().boundingBox())!;
    const radius = page.locator('aside').getByRole('spinbutton').first();
    const before = Number(await radius.inputValue());
    const thumb = await page.locator('aside mat-slider .mdc-slider__thumb-knob').first().boundingBox();
    const knob: [number, number] = [thumb!.x + thumb!.width / 2, thumb!.y + thumb!.height / 2];
    await fingers(page, way(knob, [slider.x + slider.width * 0.9, knob[1]]));
    await expect.poll(async () => Number(await radius.inputValue())).toBeGreaterThan(before);

    await page.getByRole('banner').getByRole('button', { name: 'Export' }).tap();
    const exporting = page.getByRole('button', { name: 'Export JPEG' });
    await exporting.scrollIntoViewIfNeeded();
    expect(await app.downloadBy(exporting, folder)).toContain('Tram loop');

    // On a tablet, too, everything has its room.
    for (const [width, height] of [
      [800, 1100],
      [1100, 800],
    ] as const) {
      await page.setViewportSize({ width, height });
      expect(await cutOff(page), `${width} x ${height}`).toEqual([]);
    }
  });

  test('a finger places a band, and a second one that comes late does not take it back', async ({
    app,
    page,
  }) => {
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('button', { name: /^Focus/ })
      .tap();
    await page.getByRole('group', { name: 'Add focus' }).getByRole('button', { name: 'Planar' }).tap();
    await app.settled();
    await fingers(page, way(await app.at(0.3, 0.3), await app.at(0.7, 0.35)));
    await expect(app.list.getByRole('button', { name: /^Planar 2/ })).toBeVisible();
    // Two fingers at once are for the view: what the first had begun is taken back.
    await page.getByRole('group', { name: 'Add focus' }).getByRole('button', { name: 'Planar' }).tap();
    const [x, y] = await middleOf(app);
    await fingers(page, way([x - 20, y], [x - 50, y]), way([x + 20, y], [x + 50, y]));
    await expect(app.list.getByRole('button', { name: /^Planar 3/ })).toHaveCount(0);
  });
});

test('Shift and arrow keys pan; steps, rows and numbers have keys of their own', async ({ app, page }) => {
  const picture = page.locator('.picture');
  await picture.focus();
  const before = (await app.picture.boundingBox())!;
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => before.x - (await app.picture.boundingBox())!.x).toBeCloseTo(64, 0);
  await page.keyboard.press('f');

  await page.keyboard.press('n');
  const route = page.getByRole('navigation', { name: 'Route' });
  await expect(route.getByRole('button', { name: /^Blur/ })).toHaveAttribute('aria-current', 'step');
  await page.keyboard.press('e');
  await expect(route.getByRole('button', { name: /^Focus/ })).toHaveAttribute('aria-current', 'step');

  const haze = app.number('Near side, haze');
  await haze.focus();
  await haze.press('Home');
  await expect(haze).toHaveValue('0');
  await haze.press('End');
  await expect(haze).toHaveValue('100');
  await haze.press('PageDown');
  await expect(haze).toHaveValue('90');

  await app.place('Planar', [0.2, 0.3], [0.8, 0.32]);
  const row = app.list.getByRole('button', { name: /^Planar 2/ });
  await row.focus();
  await page.keyboard.press('Delete');
  await expect(row).toHaveCount(0);
  await expect(app.list.getByRole('button', { name: /^Planar 1/ })).toBeFocused();
});
