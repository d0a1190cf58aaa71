import fc from 'fast-check';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { streakReference } from '../reference/streak';
import { type Recipe, diagonal, fromLinear, keepMaskFrom, makeRaster } from '../src/index';
import { focusField } from '../src/focus/field';
import { type Picture, linearPlanes, psnr, recipe, renderPicture, testPicture } from './harness';

const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));

async function agreement(picture: Picture, how: Recipe, samples: number): Promise<number> {
  const result = await renderPicture(picture, how, { workers: 2 });
  const planes = linearPlanes(picture);
  const haze = focusField(how.focus, picture);
  const [ours, exact]: [number[], number[]] = [[], []];
  for (let k = 0; k < samples; k++) {
    const x = Math.floor(((k * 0.7548776662) % 1) * picture.width);
    const y = Math.floor(((k * 0.569840291) % 1) * picture.height);
    const light = streakReference(planes, how.blur, haze(x + 0.5, y + 0.5), x, y);
    for (let c = 0; c < 3; c++) {
      ours.push(result[(y * picture.width + x) * 3 + c]!);
      exact.push(fromLinear(light[c]!) * 255);
    }
  }
  return psnr(ours, exact);
}

const side = { clear: 0.02, falloff: 0.4 };
const bands = [{ id: 'a', kind: 'planar', angle: 8, profile: 'linear', near: side, far: side }];

describe('movement', () => {
  it.each([
    ['motion', 12, { motion: { angle: 0 } }],
    ['motion', 40, { motion: { angle: 33 } }],
    ['motion', 40, { motion: { angle: -90 } }],
    ['spin', 40, { spin: { centre: [0.3, 0.6] } }],
    ['spin', 12, { spin: { centre: [1.1, -0.3] } }],
    ['spin', 55, { spin: { centre: [0.5, 0.5] } }],
    ['zoom', 40, { zoom: { centre: [0.7, 0.2] } }],
    ['zoom', 12, { zoom: { centre: [-0.2, 1.2] } }],
  ])('agrees with the formula on the demo picture: %s, radius %i px, %j', async (kind, px, parts) => {
    const crop = { left: 1700, top: 1300, width: 480, height: 360 };
    const data = await sharp(demo).extract(crop).removeAlpha().raw().toBuffer();
    const picture: Picture = { width: crop.width, height: crop.height, data, channels: 3 };
    const how = recipe({ focus: { bands }, blur: { kind, radius: px / diagonal(picture), ...parts } });
    const agreed = await agreement(picture, how, 2500);
    console.log(`${kind} ${px} px: ${agreed.toFixed(1)} dB`);
    expect(agreed).toBeGreaterThan(38);
  });

  it('smears a point evenly over its streak, without gaps', async () => {
    const [width, height] = [401, 81];
    const data = new Uint16Array(width * height * 3);
    data.fill(65535, (40 * width + 200) * 3, (40 * width + 200) * 3 + 3);
    const picture: Picture = { width, height, data, channels: 3 };
    const how = recipe({ focus: { rest: 1 }, blur: { kind: 'motion', radius: 40 / diagonal(picture) } });
    const out = await renderPicture(picture, how);
    const row = Array.from({ length: width }, (_, x) => out[(40 * width + x) * 3]!);
    const inside = row.slice(200 - 34, 200 + 35);
    const mean = inside.reduce((a, b) => a + b, 0) / inside.length;
    for (const v of inside) expect(Math.abs(v / mean - 1)).toBeLessThan(0.12);
    expect(Math.max(...row.slice(0, 200 - 46), ...row.slice(200 + 47))).toBe(0);
  });

  it('does not smear a subject that is kept clear', async () => {
    const [width, height] = [160, 120];
    const picture = testPicture(width, height);
    const isSubject = (i: number): boolean => i % width >= 60 && i % width < 100;
    for (let i = 0; i < width * height; i++)
      picture.data.set(isSubject(i) ? [255, 20, 0] : [119, 119, 119], i * 3);
    const samples = Uint16Array.from({ length: width * height }, (_, i) => (isSubject(i) ? 65535 : 0));
    const focus = { rest: 1, mattes: [{ id: 'm', image: 'm.png' }] };
    const pictures = { keep: keepMaskFrom(makeRaster('k', width, height, samples)), depth: null };
    for (const kind of ['motion', 'spin', 'zoom']) {
      const out = await renderPicture(picture, recipe({ focus, blur: { kind, radius: 0.08 } }), { pictures });
      for (let i = 0; i < width * height; i++)
        if (!isSubject(i)) expect(Math.abs(out[i * 3]! - 119)).toBeLessThanOrEqual(2);
        else expect(out[i * 3]).toBe(255);
    }
  });

  it('leaves it even close to the centre that it turns about, wherever that lies between pixels', async () => {
    const picture = testPicture(60, 60);
    picture.data.fill(140);
    for (let off = 2.2; off < 2.5; off += 0.02) {
      const centre = [(30.5 - off) / 60, (30.5 - off) / 60];
      const blur = { kind: 'spin', radius: 0.1, spin: { centre } };
      const out = await renderPicture(picture, recipe({ focus: { rest: 1 }, blur }));
      for (const v of out) expect(Math.abs(v - 140)).toBeLessThanOrEqual(1);
    }
  });

  it('leaves an even picture as it is, at every end of its numbers and in the smallest pictures', async () => {
    const sizes = fc.constantFrom([1, 1], [9, 1], [1, 7], [140, 3], [31, 64]);
    const end = fc.constantFrom(-1, 0, 0.5, 2);
    const centre = fc.tuple(end, end);
    const kinds = fc.constantFrom('motion', 'spin', 'zoom');
    const angle = fc.constantFrom(-360, -45, 0, 90, 360);
    await fc.assert(
      fc.asyncProperty(
        sizes,
        kinds,
        angle,
        centre,
        fc.constantFrom(0, 0.001, 0.1),
        async (size, kind, a, c, radius) => {
          const picture = testPicture(size[0]!, size[1]!);
          picture.data.fill(140);
          const blur = { kind, radius, motion: { angle: a }, spin: { centre: c }, zoom: { centre: c } };
          const out = await renderPicture(picture, recipe({ focus: { rest: 1 }, blur }), {
            workers: 2,
            stripRows: 8,
          });
          for (const v of out) expect(Math.abs(v - 140)).toBeLessThanOrEqual(1);
        },
      ),
      { numRuns: 40 },
    );
  });
});
