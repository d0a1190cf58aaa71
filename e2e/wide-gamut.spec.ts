import { crc32, deflateSync } from 'node:zlib';
import { type SceneLight, rawFile } from '../core/test/raw-file';
import { expect, join, render, sharp, test, writeFile } from './fixtures';

const [WIDTH, HEIGHT] = [600, 400];

/** A PNG of Display P3: a red that sRGB has not on the left, grey on the right, with lines through both. */
async function widePicture(): Promise<Buffer> {
  const samples = Buffer.alloc(3 * WIDTH * HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const isLine = i % 40 < 3;
    const colour = i % WIDTH < WIDTH / 2 ? [250, 12, 30] : [120, 120, 120];
    samples.set(isLine ? [30, 30, 30] : colour, 3 * i);
  }
  const plain = await sharp(samples, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
    .png()
    .toBuffer();
  const one = sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } });
  const { icc } = await sharp(await one.withIccProfile('p3').png().toBuffer()).metadata();
  const body = Buffer.concat([Buffer.from('iCCPp3\0\0', 'latin1'), deflateSync(icc!)]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(body.length - 4);
  sum.writeUInt32BE(crc32(body));
  return Buffer.concat([plain.subarray(0, 33), length, body, sum, plain.subarray(33)]);
}

test('a raw file shows its preview while it is developed, and keeps its colours', async ({
  app,
  page,
  folder,
}) => {
  const [width, height] = [3000, 2000];
  const light: SceneLight = (x, y) => (y > 1200 && x % 300 < 40 ? [1.6, 1.2, 0.4] : [0.7, 0.02, 0.05]);
  const bytes = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#d02040' } })
    .jpeg()
    .toBuffer();
  const preview = { width: 300, height: 200, bytes };
  const raw = Buffer.from(rawFile({ width, height, light, primaries: 'display-p3', preview }));
  const chosen = app.choose({ name: 'poppies.dng', mimeType: 'image/x-adobe-dng', buffer: raw });
  const shown = page.getByRole('img', { name: 'Preview from the camera' });
  await expect(shown).toBeVisible();
  await expect(page.getByText('Developing “poppies.dng”')).toBeVisible();
  await chosen;
  await expect(app.project).toHaveText('poppies');
  await expect(page.getByText('Display P3', { exact: true })).toBeVisible();
  await expect(shown).toBeHidden();
  await app.settled();
  await app.step('Output');
  await page.getByRole('radio', { name: 'Display P3' }).click();
  const out = await app.downloadBy(page.getByRole('button', { name: 'Export JPEG' }), folder);
  const [r, g, b] = await sharp(out, { ignoreIcc: true }).extract({ left: 100, top: 90, width: 1, height: 1 }).toColourspace('srgb').raw().toBuffer(); // prettier-ignore
  // 0.7, 0.02 and 0.05 of the light, coded.
  [[r, 218], [g, 39], [b, 63]].forEach(([value, due]) => expect(Math.abs(value! - due!)).toBeLessThan(12)); // prettier-ignore
  // Darker it has the light that was beyond white, as on the command line, cropped and in sRGB, too.
  await app.step('Colour');
  await app.number('Exposure').fill('-0.5');
  await app.number('Exposure').press('Enter');
  await app.step('Tidy');
  await app.number('Rotation of the crop').fill('4');
  await app.number('Rotation of the crop').press('Enter');
  const source = join(folder, 'poppies.dng');
  await writeFile(source, raw);
  await app.step('Output');
  await page.getByRole('radio', { name: 'sRGB' }).click();
  const [ours, theirs] = await app.bothWays(source, folder);
  expect(ours.equals(theirs)).toBe(true);
});

test('colours beyond sRGB are kept, shown where the screen has them, and written where they are wanted', async ({
  app,
  page,
  folder,
}) => {
  // A screen with more colours.
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('Emulation.setEmulatedMedia', {
    features: [
      { name: 'color-gamut', value: 'p3' },
      { name: 'prefers-color-scheme', value: 'dark' },
    ],
  });
  await page.reload();
  const source = await widePicture();
  await app.choose({ name: 'poppies.png', mimeType: 'image/png', buffer: source });
  await expect(app.project).toHaveText('poppies');
  await app.settled();
  const shown = await app.picture.evaluate((canvas: HTMLCanvasElement) => {
    const context = canvas.getContext('2d')!;
    const { colorSpace } = context.getContextAttributes();
    const at = [Math.floor(canvas.width * 0.29), Math.floor(canvas.height * 0.5)] as const;
    const { data } = context.getImageData(...at, 1, 1, { colorSpace: 'display-p3' });
    return { colorSpace, pixel: [...data].slice(0, 3) };
  });
  expect(shown.colorSpace).toBe('display-p3');
  [250, 12, 30].forEach((value, c) => expect(Math.abs(shown.pixel[c]! - value)).toBeLessThan(40));

  // What sRGB cannot hold is said, and marked with what is clipped.
  await app.step('Output');
  const hint = page.getByText('The picture is in Display P3');
  await expect(hint).toBeVisible();
  const mark = page.getByRole('button', { name: 'Clipping', exact: true });
  await mark.click();
  const marked = async (x: number): Promise<boolean> =>
    page.locator('hl-lights-mark canvas').evaluate((canvas: HTMLCanvasElement, fx) => {
      const copy = new OffscreenCanvas(30, 1).getContext('2d', { willReadFrequently: true })!;
      copy.drawImage(canvas, -Math.floor(canvas.width * fx), -(canvas.height >> 1));
      const { data } = copy.getImageData(0, 0, 30, 1);
      return data.some((value, i) => i % 4 === 3 && value > 0);
    }, x);
  await expect.poll(() => marked(0.2)).toBe(true);
  expect(await marked(0.7)).toBe(false);
  await page.getByRole('radio', { name: 'Display P3' }).click();
  await expect(hint).toHaveCount(0);
  await expect.poll(() => marked(0.2)).toBe(false);
  await mark.click();

  // The file has them, to the pixel as the command line writes it.
  await page.getByRole('radio', { name: 'PNG' }).click();
  const exported = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  const recipe = await app.downloadBy(page.getByRole('button', { name: 'Export recipe' }), folder);
  await writeFile(join(folder, 'in.png'), source);
  const line = ['--recipe', recipe, '--in', join(folder, 'in.png'), '--space', 'display-p3'];
  const made = await render(...line, '--out', join(folder, 'out.png'));
  expect(made.code, made.error).toBe(0);
  const pixels = (path: string): Promise<Buffer> =>
    sharp(path, { ignoreIcc: true }).removeAlpha().raw().toBuffer();
  const [ours, theirs] = [await pixels(exported), await pixels(join(folder, 'out.png'))];
  expect(Buffer.compare(ours, theirs)).toBe(0);
  expect((await sharp(exported).metadata()).icc!.includes('Display P3'.split('').join('\0'))).toBe(true);
  const middle = 3 * ((HEIGHT / 2) * WIDTH + 170);
  expect(Math.max(...ours.subarray(middle, middle + 60))).toBeGreaterThan(240);

  // As sRGB it is what that has nearest.
  await page.getByRole('radio', { name: 'sRGB' }).click();
  const plain = await app.downloadBy(page.getByRole('button', { name: 'Export PNG' }), folder);
  const out = join(folder, 'plain.png');
  const { code } = await render('--recipe', recipe, '--in', join(folder, 'in.png'), '--out', out);
  expect(code).toBe(0);
  expect(Buffer.compare(await pixels(plain), await pixels(out))).toBe(0);
});
