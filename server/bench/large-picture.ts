import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import {
  type Recipe,
  SharedRenderer,
  type Size,
  diagonal,
  parseRecipe,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { focusField } from '../../core/src/focus/field';
import { startThreads } from '../src/render/threads';

/** 24 megapixels of the demo, and what a blur of this sigma in a planar band is measured against. */
export const LARGE: Size = { width: 6000, height: 4000 };
export const SIGMA = 36;
const picture = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
const format = { channels: 3, bytes: 1 } as const;
export const threads = await startThreads(2);

/** Raw pixels of the demo picture at a size. */
export const demoPixels = (size: Size): Promise<Buffer> =>
  sharp(picture).resize(size).removeAlpha().raw().toBuffer();

/** A planar band at an angle, blur of the same strength as the peer's. */
export function bandRecipe(size: Size, sigma: number, angle: number, parts: object = {}): Recipe {
  const side = { clear: 0.05, falloff: 0.22 };
  return parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { bands: [{ id: 'a', kind: 'planar', angle, near: side, far: side }] },
    blur: { radius: (2 * sigma) / diagonal(size), ...parts },
    colour: { saturation: 0.3 },
  });
}

/** Renders raw pixels, from opening the renderer to closing it. */
export async function ours(source: Buffer, size: Size, recipe: Recipe): Promise<Buffer> {
  const renderer = new SharedRenderer(threads);
  await renderer.open(wholeView(size, recipe, { input: format, output: format }));
  renderer.input(0).set(source);
  const job = { slot: 0, source: 'bench', look: resolveRecipe(recipe, size), content: 'picture' } as const;
  const copy = Buffer.from(await renderer.render(job));
  await renderer.close();
  return copy;
}

/** A whole-picture Gaussian blur, a ready mask and a saturation by sharp: raw pixels in, raw pixels out. */
export function peerOf(source: Buffer, size: Size, sigma: number): () => Promise<Buffer> {
  const raw = { ...size, channels: 3 as const };
  const field = focusField(bandRecipe(size, sigma, 0).focus, size);
  const mask = Buffer.alloc(size.width * size.height);
  for (let y = 0; y < size.height; y++)
    mask.fill(Math.round(field(0.5, y + 0.5) * 255), y * size.width, (y + 1) * size.width);
  return async () => {
    const blurred = await sharp(source, { raw })
      .blur(sigma)
      .joinChannel(mask, { raw: { ...size, channels: 1 } })
      .raw()
      .toBuffer();
    return sharp(source, { raw })
      .composite([{ input: blurred, raw: { ...size, channels: 4 } }])
      .modulate({ saturation: 1.3 })
      .raw()
      .toBuffer();
  };
}
