import { axeViolations, expect, test } from './fixtures';

test('the guide is inside the application, a page for each task and step', async ({ app, page }) => {
  await app.step('Blur');
  await page.getByRole('button', { name: 'How this works' }).click();
  const guide = page.getByRole('dialog', { name: 'Guide' });
  await expect(guide.getByRole('heading', { name: 'Blur' })).toBeVisible();
  const route = page.locator('hl-route button [matListItemTitle]');
  const titles = guide.getByRole('navigation', { name: 'Pages' }).getByRole('button');
  // Every step has its page.
  for (const step of await route.allTextContents())
    await expect(titles.getByText(step.trim(), { exact: true })).toHaveCount(1);
  await titles.getByText('A portrait').click();
  const picture = guide.getByRole('img', { name: 'A lifted subject' });
  await expect
    .poll(() => picture.evaluate((image: HTMLImageElement) => image.complete && image.naturalWidth))
    .toBeGreaterThan(1000);
  expect(await axeViolations(page, ['hl-guide'])).toEqual([]);
  await titles.getByText('Licences').click();
  const link = guide.getByRole('link', { name: 'Licences of all that ships with it' });
  const licences = await page.request.get(await link.evaluate((one: HTMLAnchorElement) => one.href));
  expect(await licences.text()).toMatch(/^wasm-vips \d+\.\d+\.\d+: MIT$/m);
});

test('three hints stand on the first visit, and each goes for good', async ({ unopened: app, page }) => {
  await app.open();
  await page.evaluate(() => localStorage.removeItem('hazy-lens-hints'));
  // The page's own scripts of the test put them away before each load.
  const visit = await page.context().browser()!.newContext();
  const first = await visit.newPage();
  await first.goto(page.url());
  const hints = first.getByRole('note');
  await expect(hints).toHaveCount(3);
  await hints.getByRole('button', { name: /^Dismiss: The profile/ }).click();
  await expect(hints).toHaveCount(2);
  await first.reload();
  await expect(hints).toHaveCount(2);
  // They are never in the way: the picture below one takes the hand.
  const box = (await hints.first().boundingBox())!;
  const below = (): Promise<boolean> =>
    first.evaluate(
      ([x, y]) => document.elementFromPoint(x!, y!)?.closest('hl-stage') !== null,
      [box.x + 20, box.y + box.height / 2],
    );
  await expect.poll(below).toBe(true);
  await visit.close();
});
