/** All colour steps together at 24 megapixels, against sharp's modulate, linear, recomb and clahe on the same pixels. */
import sharp from 'sharp';
import { parseRecipe } from '@hazy-lens/core';
import { LARGE, demoPixels, ours, threads } from './large-picture';
import { inTurns, thousandth } from './timing';

const RUNS = 5;
const recipe = parseRecipe({
  format: 'hazy-lens-recipe',
  version: 1,
  colour: {
    exposure: 0.2,
    warmth: 0.2,
    contrast: 0.25,
    vibrance: 0.3,
    saturation: 0.15,
    balance: { shadows: [0, -0.02], lights: [0.01, 0.02] },
  },
});
const raw = { ...LARGE, channels: 3 as const };
const source = await demoPixels(LARGE);
const peer = (): Promise<Buffer> =>
  sharp(source, { raw })
    .modulate({ saturation: 1.2, brightness: 1.1 })
    .linear(1.1, -8)
    .recomb([
      [1.05, -0.02, -0.03],
      [-0.02, 1.03, -0.01],
      [-0.03, -0.02, 1.05],
    ])
    .clahe({ width: 64, height: 64, maxSlope: 3 })
    .raw()
    .toBuffer();
const [oursMs, peerMs] = (await inTurns(RUNS, [() => ours(source, LARGE, recipe), peer])) as [number, number];
await threads.close();
console.log(
  JSON.stringify({
    case: 'colour',
    ratio: thousandth(oursMs / peerMs),
    oursMs: Math.round(oursMs),
    peerMs: Math.round(peerMs),
    peer: 'sharp',
  }),
);
