import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { aperture, gatherLens } from '../reference/lens';
import {
  type FocusPictures,
  type Recipe,
  NO_PICTURES,
  aperturePoints,
  diagonal,
  fromLinear,
  lookField,
  makeRaster,
  recipeLook,
} from '../src/index';
import { type Picture, linearPlanes, psnr, recipe, renderPicture, testPicture } from './harness';

const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));

async function demoCrop(width: number, height: number): Promise<Picture> {
  const data = await sharp(demo).extract({ left: 1700, top: 1300, width, height }).removeAlpha().raw().toBuffer();
  return { width, height, data, channels: 3 };
}

/** Compares scattered pixels with the formula. */
async function agreement(
  picture: Picture,
  how: Recipe,
  samples: number,
  pictures: FocusPictures = NO_PICTURES,
): Promise<number> {
  const result = await renderPicture(picture, how, { pictures, workers: 2 });
  const planes = linearPlanes(picture);
  const field = lookField(recipeLook(how, pictures).field, picture);
  const full = how.blur.radius * diagonal(picture);
  const radius = (x: number, y: number): number => full * field(x + 0.5, y + 0.5);
  const [ours, exact]: [number[], number[]] = [[], []];
  for (let k = 0; k < samples; k++) {
    const x = Math.floor(((k * 0.7548776662) % 1) * picture.width);
    const y = Math.floor(((k * 0.569840291) % 1) * picture.height);
    const light = gatherLens(planes, radius, how.blur.lens, x, y);
    for (let c = 0; c < 3; c++) {
      ours.push(result[(y * picture.width + x) * picture.channels + c]!);
      exact.push(Math.min(1, Math.max(0, fromLinear(light[c]!))) * 255);
    }
  }
  return psnr(ours, exact);
}

const side = { clear: 0.01, falloff: 0.3 };
const ramp = (radius: number, lens: object, angle = 12) =>
  recipe({
    focus: { bands: [{ id: 'a', kind: 'planar', angle, profile: 'linear', near: side, far: side }] },
    blur: { kind: 'lens', radius, lens },
  });

describe('lens blur', () => {
  it.each([
    ['round', {}],
    ['of six blades, turned', { blades: 6, rotation: 17 }],
    ['squeezed, with a rim', { blades: 0, squeeze: 1.8, rim: 0.7 }],
    ['of five blades, fringed, with lights', { blades: 5, roundness: 0.4, fringe: 1, highlights: { stops: 3 } }],
  ])('agrees with the formula on the demo picture, ramps to 40 px: %s', async (name, lens) => {
    const picture = await demoCrop(500, 400);
    const agreed = await agreement(picture, ramp(40 / diagonal(picture), lens), 700);
    console.log(`lens ${name}: ${agreed.toFixed(1)} dB`);
    expect(agreed).toBeGreaterThan(38);
  });
});
