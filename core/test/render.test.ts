import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { gatherGaussian } from '../reference/blur';
import {
  type FocusPictures,
  diagonal,
  fromLinear,
  keepMaskFrom,
  makeRaster,
  resolveRecipe,
} from '../src/index';
import { NO_PICTURES, focusField, protectsAreas } from '../src/focus/field';
import { type Picture, linearPlanes, psnr, recipe, renderPicture, testPicture } from './harness';

const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));

async function demoCrop(): Promise<Picture> {
  const crop = { left: 1700, top: 1300, width: 1000, height: 700 };
  const data = await sharp(demo).extract(crop).removeAlpha().raw().toBuffer();
  return { width: crop.width, height: crop.height, data, channels: 3 };
}

const ramp = (angle: number, radius: number) =>
  recipe({
    focus: {
      bands: [
        {
          id: 'a',
          kind: 'planar',
          angle,
          centre: [0.5, 0.5],
          profile: 'linear',
          near: { clear: 0.01, falloff: 0.25 },
          far: { clear: 0.01, falloff: 0.25 },
        },
      ],
    },
    blur: { radius },
  });

/** Compares scattered pixels with a gather of the exact local blur. */
async function agreement(
  picture: Picture,
  how: ReturnType<typeof recipe>,
  samples: number,
  pictures: FocusPictures = NO_PICTURES,
): Promise<number> {
  const result = await renderPicture(picture, how, { pictures });
  const planes = linearPlanes(picture);
  const haze = focusField(how.focus, picture, pictures);
  const keeps = protectsAreas(resolveRecipe(how, picture, pictures).field);
  const spread = (x: number, y: number): number =>
    keeps ? Math.min(1, Math.max(1 / 4096, 8 * haze(x + 0.5, y + 0.5))) : 1;
  const ours: number[] = [];
  const exact: number[] = [];
  for (let k = 0; k < samples; k++) {
    const x = Math.floor(((k * 0.7548776662) % 1) * picture.width);
    const y = Math.floor(((k * 0.569840291) % 1) * picture.height);
    const sigma = (haze(x + 0.5, y + 0.5) * how.blur.radius * diagonal(picture)) / 2;
    const light = gatherGaussian(planes, x, y, sigma, spread);
    for (let c = 0; c < 3; c++) {
      ours.push(result[(y * picture.width + x) * picture.channels + c]!);
      exact.push(fromLinear(light[c]!) * 255);
    }
  }
  return psnr(ours, exact);
}

describe('blur of locally varying width', () => {
  it.each([0, 23])(
    'agrees with a brute-force gather on the demo picture, ramp at %i degrees',
    async (angle) => {
      expect(existsSync(demo)).toBe(true);
      const picture = await demoCrop();
      const radius = 60 / diagonal(picture);
      const agreed = await agreement(picture, ramp(angle, radius), 1200);
      console.log(`ramp at ${angle} degrees: ${agreed.toFixed(1)} dB`);
      expect(agreed).toBeGreaterThan(45);
    },
  );

  it.each([
    [61, 47, 0.02],
    [200, 3, 0.01],
    [24, 5, 0.1],
    [1, 1, 0.1],
    [130, 97, 0.1],
  ])('agrees at the mirrored edges of a %i x %i picture, radius %f', async (width, height, radius) => {
    const how = recipe({ focus: { rest: 1 }, blur: { radius } });
    expect(
      await agreement(testPicture(width, height), how, Math.min(900, width * height * 4)),
    ).toBeGreaterThan(45);
  });

  it('gives the same pixels whatever the strips and workers', async () => {
    const picture = testPicture(300, 211, 4);
    const plain = ramp(35, 0.03);
    const how = { ...plain, colour: { ...plain.colour, saturation: 0.4 } };
    const whole = await renderPicture(picture, how, { stripRows: 256 });
    const strips = await renderPicture(picture, how, { stripRows: 16, workers: 3 });
    expect(Buffer.compare(Buffer.from(whole), Buffer.from(strips))).toBe(0);
  });

  it('agrees where subjects are kept clear, and no light of theirs gets into the haze', async () => {
    const picture = testPicture(160, 120);
    const isSubject = (i: number): boolean => Math.hypot((i % 160) - 80, Math.floor(i / 160) - 60) < 30;
    const samples = Uint16Array.from({ length: 160 * 120 }, (_, i) => (isSubject(i) ? 65535 : 0));
    const pictures = { keep: keepMaskFrom(makeRaster('k', 160, 120, samples)), depth: null };
    const how = recipe({ focus: { rest: 1, mattes: [{ id: 'm', image: 'm.png' }] }, blur: { radius: 0.08 } });
    expect(await agreement(picture, how, 1500, pictures)).toBeGreaterThan(45);
    for (let i = 0; i < 160 * 120; i++)
      picture.data.set(isSubject(i) ? [255, 20, 0] : [119, 119, 119], i * 3);
    const out = await renderPicture(picture, how, { pictures });
    // Dither moves each channel by up to one level.
    for (let i = 0; i < 160 * 120; i++)
      if (isSubject(i)) expect(out[i * 3]).toBe(255);
      else for (let c = 0; c < 3; c++) expect(Math.abs(out[i * 3 + c]! - 119)).toBeLessThanOrEqual(2);
  });

  it('leaves clear pixels byte for byte, in 8 and 16 bits, 3 and 4 channels', async () => {
    const how = ramp(12, 0.05);
    for (const channels of [3, 4] as const)
      for (const deep of [false, true]) {
        const picture = testPicture(157, 120, channels);
        if (deep) picture.data = Uint16Array.from(picture.data, (v, i) => v * 257 - (i % 50));
        const result = await renderPicture(picture, how);
        const field = focusField(how.focus, picture);
        let clear = 0;
        let changed = 0;
        for (let i = 0; i < result.length; i++) {
          const pixel = Math.floor(i / channels);
          const haze = field((pixel % 157) + 0.5, Math.floor(pixel / 157) + 0.5);
          if (haze === 0 && result[i] === picture.data[i]) clear++;
          else if (haze === 0) throw new Error(`clear sample ${i} changed`);
          else if (result[i] !== picture.data[i]) changed++;
        }
        expect(clear).toBeGreaterThan(500);
        expect(changed).toBeGreaterThan(5000);
      }
  });

  it('keeps the mean light and shows no steps in a smooth ramp', async () => {
    const picture = testPicture(256, 256);
    for (let i = 0; i < 256 * 256 * 3; i++) picture.data[i] = 60 + Math.floor((Math.floor(i / 3) % 256) / 16);
    const result = await renderPicture(picture, recipe({ focus: { rest: 1 }, blur: { radius: 0.05 } }));
    // Dither: the mean of a column follows the smooth ramp although its pixels are whole numbers.
    const column = (x: number) =>
      Array.from({ length: 256 }, (_, y) => result[(y * 256 + x) * 3]!).reduce((a, b) => a + b, 0) / 256;
    const steps = Array.from({ length: 120 }, (_, k) => column(k + 68) - column(k + 67));
    expect(Math.max(...steps.map((step) => Math.abs(step - 1 / 16)))).toBeLessThan(0.25);
    expect(new Set(Array.from({ length: 256 }, (_, y) => result[(y * 256 + 100) * 3])).size).toBeGreaterThan(
      1,
    );
  });

  it('renders a part of a picture as it stands in the whole', async () => {
    const picture = testPicture(240, 200);
    const how = ramp(0, 0.01);
    const whole = await renderPicture(picture, how);
    const part: Picture = { width: 160, height: 150, channels: 3, data: new Uint8Array(160 * 150 * 3) };
    for (let y = 0; y < 150; y++)
      part.data.set(
        picture.data.subarray(((y + 30) * 240 + 40) * 3, ((y + 30) * 240 + 200) * 3),
        y * 160 * 3,
      );
    const region = { x: 40, y: 30, width: 160, height: 150, picture: { width: 240, height: 200 } };
    const crop = await renderPicture(part, how, { region });
    const inner = (data: ArrayLike<number>, stride: number, x0: number, y0: number) =>
      Array.from(
        { length: 100 * 90 * 3 },
        (_, i) => data[((y0 + Math.floor(i / 300)) * stride + x0) * 3 + (i % 300)]!,
      );
    expect(psnr(inner(whole, 240, 70, 60), inner(crop, 160, 30, 30))).toBeGreaterThan(48);
  });
});
