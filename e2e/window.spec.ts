import { OwnServer } from '../web/soak/own-server';
import { detailed, expect, test } from './fixtures';

test('the picture can have the window alone, and everything comes back', async ({ app, page }) => {
  const before = (await app.picture.boundingBox())!;
  await page.keyboard.press('p');
  await expect(page.getByRole('navigation', { name: 'Route' })).toHaveCount(0);
  await expect.poll(async () => (await app.picture.boundingBox())!.width).toBeGreaterThan(before.width * 1.3);
  await page.getByRole('button', { name: 'Show panels' }).click();
  await expect(page.getByRole('navigation', { name: 'Route' })).toBeVisible();
  await page.getByRole('button', { name: 'Hide panels' }).click();
  await page.keyboard.press('p');
  await expect(app.number('Angle')).toBeVisible();
});

test('single letters can be switched off; what has the focus comes first; Caps Lock changes nothing', async ({
  app,
  page,
}) => {
  await expect(app.picture).toBeVisible();
  // As a keyboard with Caps Lock sends it: a capital without Shift.
  await page.evaluate(() => document.dispatchEvent(new KeyboardEvent('keydown', { key: 'W' })));
  const wipe = page.getByRole('radio', { name: 'Wipe' });
  await expect(wipe).toBeChecked();
  // From the wipe, before goes back to the wipe.
  await page.keyboard.press('b');
  await expect(page.getByRole('radio', { name: 'Before' })).toBeChecked();
  await page.keyboard.press('b');
  await expect(wipe).toBeChecked();
  await page.keyboard.press('?');
  const help = page.getByRole('dialog', { name: 'Keyboard shortcuts' });
  await help.getByRole('switch', { name: 'Single-key shortcuts' }).click();
  await page.keyboard.press('Escape');
  await expect(help).toHaveCount(0);
  await page.keyboard.press('w');
  await expect(wipe).toBeChecked();
  await page.keyboard.press('?');
  await help.getByRole('switch').click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('w');
  await expect(page.getByRole('radio', { name: 'After' })).toBeChecked();

  // Space held while the window loses the focus lets go.
  const cursor = () => page.locator('.picture').evaluate((one) => getComputedStyle(one).cursor);
  await page.locator('.picture').focus();
  await page.keyboard.down(' ');
  await expect.poll(cursor).toBe('grab');
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await expect.poll(cursor).not.toBe('grab');
  await page.keyboard.up(' ');
});

test('numbers are read as they are meant, and steps back from their box are the project’s', async ({
  app,
  page,
}) => {
  const field = app.number('Near side, falloff');
  for (const [typed, read] of [
    ['1,200', '1200'],
    ['900 px', '900'],
    ['12,5', '13'],
  ] as const) {
    await field.fill(typed);
    await field.press('Enter');
    await expect(field).toHaveValue(read);
  }
  await field.press('Control+z');
  await expect(field).toHaveValue('900');
  await field.press('Control+z');
  await field.press('Control+z');
  await expect(field).toHaveValue('190');
  // Typed on before the number that was entered has come back from the project.
  await field.evaluate((box: HTMLInputElement) => {
    const type = (text: string): void => {
      box.value = text;
      box.dispatchEvent(new Event('input', { bubbles: true }));
    };
    type('250');
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    type('300');
  });
  await expect(field).toHaveAttribute('aria-valuenow', /^250/);
  await expect(field).toHaveValue('300');
  await field.press('Enter');
  await expect(field).toHaveAttribute('aria-valuenow', /^300/);
  await field.press('Control+z');
  await field.press('Control+z');
  await expect(field).toHaveValue('190');
  await field.fill('12abc');
  await field.press('Enter');
  await expect(page.getByText('Not a number; value unchanged')).toBeVisible();
  await expect(field).toHaveValue('190');
});

test('Escape takes a drag back while it goes on, and leaves no step', async ({ app, page }) => {
  const grip = app.grip('near-outer');
  const value = () => grip.getAttribute('aria-valuenow');
  const start = await value();
  expect(Number(await grip.getAttribute('aria-valuemax'))).toBeGreaterThan(Number(start));
  const box = (await grip.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x, box.y - 60, { steps: 6 });
  await expect.poll(value).not.toBe(start);
  await page.keyboard.press('Escape');
  await expect.poll(value).toBe(start);
  await page.mouse.move(box.x, box.y + 40, { steps: 3 });
  await page.mouse.up();
  await expect.poll(value).toBe(start);
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();
  // The same for a number that is dragged by its name.
  const label = page.getByText('Falloff', { exact: true }).first();
  const at = (await label.boundingBox())!;
  const shown = await app.number('Far side, falloff').inputValue();
  await page.mouse.move(at.x + 5, at.y + 5);
  await page.mouse.down();
  await page.mouse.move(at.x + 80, at.y + 5, { steps: 6 });
  await expect(app.number('Far side, falloff')).not.toHaveValue(shown);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(app.number('Far side, falloff')).toHaveValue(shown);
});

test('the brush is sized by keys and by the wheel, and the keyboard’s hand is seen with every tool', async ({
  app,
  page,
}) => {
  await app.add('Brush');
  const radius = app.number('Radius of the brush');
  const number = async () => Number(await radius.inputValue());
  const start = await number();
  await page.keyboard.press('l');
  await expect.poll(number).toBeGreaterThan(start);
  await page.keyboard.press('s');
  await page.keyboard.press('s');
  await expect.poll(number).toBeLessThan(start);
  const small = await number();
  await page.mouse.move(...(await app.at(0.5, 0.5)));
  await page.keyboard.down('Alt');
  await page.mouse.wheel(0, -300);
  await page.keyboard.up('Alt');
  await expect.poll(number).toBeGreaterThan(small * 1.3);
  await expect(page.getByRole('button', { name: 'Fit' })).toHaveAttribute('aria-pressed', 'true');

  await app.add('Sounding');
  await expect(page.locator('hl-hand-cursor .mark')).toHaveCount(0);
  await page.locator('.picture').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('hl-hand-cursor .mark')).toBeVisible();
});

test('a file dropped on an open dialog is taken in, and a small picture on the shelf is of the whole, finished one', async ({
  app,
  page,
}) => {
  await page.keyboard.press('m');
  await page.keyboard.press('1');
  await app.project.click();
  const shelf = page.getByRole('dialog', { name: 'Shelf' });
  await expect(shelf.locator('li.current img')).toBeVisible();
  const ink = await shelf.locator('li.current img').evaluate(async (image: HTMLImageElement) => {
    await image.decode();
    const copy = new OffscreenCanvas(1, 1).getContext('2d')!;
    copy.drawImage(image, 0, 0, 1, 1);
    return [...copy.getImageData(0, 0, 1, 1).data].slice(0, 3);
  });
  // The haze map is blue and nearly black where the band is; the scene is green and warm.
  expect(ink[1]).toBeGreaterThan(ink[2]!);
  const bytes = [...(await detailed(300, 200).png().toBuffer())];
  await shelf.evaluate((element, data) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([new Uint8Array(data)], 'kites.png', { type: 'image/png' }));
    for (const type of ['dragover', 'drop'])
      element.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
  }, bytes);
  await expect(app.project).toHaveText('kites');
  await expect(shelf).toHaveCount(0);
});

test('everything can be reached in a small window', async ({ app, page }) => {
  for (const [width, height] of [
    [1024, 700],
    [640, 400],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const [step, name] of [
      ['Output', 'Import recipe'],
      ['Source', 'Open shelf'],
    ] as const) {
      await app.step(step);
      const button = page.getByRole('button', { name });
      // The panel may take its place beside or below the picture just then.
      await expect(async () => {
        await button.scrollIntoViewIfNeeded();
        await expect(button).toBeInViewport({ ratio: 1, timeout: 1000 });
      }).toPass();
    }
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
    await page.keyboard.press('?');
    const last = page.getByRole('dialog').getByText('Show keyboard shortcuts');
    await last.scrollIntoViewIfNeeded();
    await expect(last).toBeInViewport();
    await page.keyboard.press('Escape');
  }
});

const offline = test.extend<{ server: OwnServer }>({
  server: async ({}, use, { parallelIndex }) => {
    const server = new OwnServer(4801 + parallelIndex);
    await server.start();
    await use(server);
    await server.remove();
  },
});

offline('works without its server from the first visit on, isolated as before', async ({ page, server }) => {
  await page.goto(server.address);
  await page.evaluate(async () => (await navigator.serviceWorker.ready).active?.state);
  await server.stop();
  expect(await fetch(server.address).catch(() => null)).toBeNull();
  await page.reload();
  await expect(page.getByRole('img', { name: 'Picture: Tram loop' })).toBeVisible();
  expect(
    await page.evaluate(() => [crossOriginIsolated, Boolean(navigator.serviceWorker.controller)]),
  ).toEqual([true, true]);
  // Codecs, workers and demo pictures are there too: another picture opens.
  await page.getByRole('banner').getByRole('button').first().click();
  await page.getByRole('button', { name: 'Start with Glasshouses' }).click();
  await expect(page.getByRole('img', { name: 'Picture: Glasshouses' })).toBeVisible();
  await expect(page.getByRole('alert')).toHaveCount(0);
});

offline(
  'offers a new version, and all tabs take it only when one is asked to',
  async ({ page, context, server }) => {
    await page.goto(server.address);
    await page.evaluate(async () => (await navigator.serviceWorker.ready).active?.state);
    await expect(page).toHaveTitle('Hazy Lens');
    server.change('index.html', '<title>Hazy Lens', '<title>Hazy Lens, newer');
    server.offerVersion('ffffffff');
    await server.stop();
    await server.start();
    await page.reload();
    const offer = page.getByRole('status').filter({ hasText: 'A new version is ready' });
    await expect(offer).toBeVisible();
    await expect(page).toHaveTitle('Hazy Lens');
    await page.reload();
    await expect(offer).toBeVisible();
    await expect(page).toHaveTitle('Hazy Lens');
    const other = await context.newPage();
    await other.goto(server.address);
    await expect(other).toHaveTitle('Hazy Lens');
    await expect(other.getByRole('img', { name: /^Picture/ })).toBeVisible();
    await offer.getByRole('button', { name: 'Update now' }).click();
    await expect(page).toHaveTitle('Hazy Lens, newer');
    await expect(other).toHaveTitle('Hazy Lens, newer');
    await expect(page.getByRole('img', { name: 'Picture: Tram loop' })).toBeVisible();
    await expect(offer).toHaveCount(0);
  },
);

test('a pen’s pressure goes into the stroke', async ({ app, page }) => {
  await app.add('Brush');
  await page.getByRole('radio', { name: 'Strength' }).click();
  const pen = await page.context().newCDPSession(page);
  const put = async (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', x: number, force: number) => {
    const [px, py] = await app.at(x, 0.12);
    await pen.send('Input.dispatchMouseEvent', {
      type,
      x: px,
      y: py,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
      pointerType: 'pen',
      force,
    });
  };
  const before = await app.hazeAt(0.3, 0.12);
  await put('mousePressed', 0.2, 0.25);
  for (let i = 1; i <= 8; i++) await put('mouseMoved', 0.2 + i * 0.02, 0.25);
  await put('mouseReleased', 0.36, 0);
  await expect(app.list.getByRole('button', { name: /^Brush/ })).toContainText('1 stroke');
  // A quarter of the force clears about a quarter of the haze.
  const haze = await app.hazeAt(0.3, 0.12);
  expect(haze).toBeLessThan(before - 10);
  expect(haze).toBeGreaterThan(before - 45);
});

/** File pickers that need no person: what is saved is kept in the window. */
function keepingPickers(): void {
  const written: Blob[] = [];
  const wanted: string[] = [];
  Object.assign(window, {
    written,
    wanted,
    isPutAway: false,
    showOpenFilePicker: async () => [],
    showSaveFilePicker: async ({ suggestedName }: { suggestedName: string }) => {
      if ((window as unknown as { isPutAway: boolean }).isPutAway)
        throw new DOMException('The user aborted a request.', 'AbortError');
      wanted.push(suggestedName);
      const parts: BlobPart[] = [];
      const write = async (part: BlobPart): Promise<void> => void parts.push(part);
      const close = async (): Promise<void> => void written.push(new Blob(parts));
      return {
        kind: 'file',
        name: suggestedName,
        createWritable: async () => Object.assign(new WritableStream({ write, close }), { write, close }),
      };
    },
  });
}

test('where the browser has a picker, files go where it says; putting it away writes nothing', async ({
  unopened: app,
  page,
}) => {
  await app.open(keepingPickers);
  await app.step('Output');
  await page.getByRole('radio', { name: 'PNG' }).click();
  await app.size('Long edge', 300);
  await page.getByRole('button', { name: 'Export PNG' }).click();
  await expect(page.getByText(/Exported “Tram loop.png”: 300 × 200 px/)).toBeVisible();
  const first = await page.evaluate(async () => {
    const { written, wanted } = window as unknown as { written: Blob[]; wanted: string[] };
    return { wanted, start: [...new Uint8Array(await written[0]!.slice(0, 4).arrayBuffer())] };
  });
  expect(first).toEqual({ wanted: ['Tram loop.png'], start: [0x89, 0x50, 0x4e, 0x47] });
  await page.evaluate(() => Object.assign(window, { isPutAway: true }));
  await page.getByRole('button', { name: 'Export PNG' }).click();
  await expect(page.getByText('Export cancelled. No file was saved')).toBeVisible();
  expect(await page.evaluate(() => (window as unknown as { written: Blob[] }).written.length)).toBe(1);
});
