import { expect, test } from './fixtures';

test('without settings, locks and a database one works on, and is told that nothing is kept', async ({
  unopened: app,
  page,
  folder,
}) => {
  await page.addInitScript(() => {
    const denied = {
      get: () => {
        throw new DOMException('denied', 'SecurityError');
      },
    };
    for (const kind of ['localStorage', 'sessionStorage'] as const)
      Object.defineProperty(window, kind, denied);
    Object.defineProperty(window, 'indexedDB', { value: undefined });
    Reflect.deleteProperty(Navigator.prototype, 'locks');
  });
  await app.open();
  await expect(app.notice).toHaveCount(1);
  await expect(app.notice).toContainText(
    'couldn’t be kept in this browser (this browser lets Hazy Lens keep nothing). You can work on it and export it.',
  );
  await app.step('Output');
  await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
});

test('without memory that threads share there is a sentence in place of the application', async ({
  page,
}) => {
  await page.addInitScript(() => Reflect.deleteProperty(globalThis, 'SharedArrayBuffer'));
  await page.goto('/');
  await expect(page.getByRole('heading')).toHaveText('Hazy Lens can’t start here');
  await expect(page.getByRole('main')).toContainText('Your projects are safe.');
});
