import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import {
  type Recipe,
  SharedRenderer,
  diagonal,
  hazeField,
  parseRecipe,
  recipeLook,
  wholeView,
} from '@hazy-lens/core';
import { startThreads } from '../src/render/threads';
import { inTurns, thousandth } from './timing';

/**
 * Ours against a whole-picture blur, a ready mask and a saturation by sharp: raw pixels in, raw pixels out. Ours with
 * the band at three angles: what it costs must not hang on that.
 */
const size = { width: 6000, height: 4000 };
const SIGMA = 36;
const RUNS = 5;
const ANGLES = [0, 10, 90] as const;
const picture = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
const side = { clear: 0.05, falloff: 0.22 };
const turned = (angle: number): Recipe =>
  parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { bands: [{ id: 'a', kind: 'planar', angle, near: side, far: side }] },
    blur: { radius: (2 * SIGMA) / diagonal(size) },
    colour: { saturation: 0.3 },
  });
const raw = { ...size, channels: 3 as const };
const format = { channels: 3, bytes: 1 } as const;
const source = await sharp(picture).resize(size).removeAlpha().raw().toBuffer();
const threads = await startThreads(2);

async function ours(recipe: Recipe): Promise<Buffer> {
  const renderer = new SharedRenderer(threads);
  await renderer.open(wholeView(size, recipe, { input: format, output: format }));
  renderer.input(0).set(source);
  const job = { slot: 0, source: 'bench', look: recipeLook(recipe), content: 'picture' } as const;
  const copy = Buffer.from(await renderer.render(job));
  await renderer.close();
  return copy;
}

const field = hazeField(turned(0).focus, size);
const mask = Buffer.alloc(size.width * size.height);
for (let y = 0; y < size.height; y++)
  mask.fill(Math.round(field(0.5, y + 0.5) * 255), y * size.width, (y + 1) * size.width);

async function peer(): Promise<Buffer> {
  const blurred = await sharp(source, { raw })
    .blur(SIGMA)
    .joinChannel(mask, { raw: { ...size, channels: 1 } })
    .raw()
    .toBuffer();
  return sharp(source, { raw })
    .composite([{ input: blurred, raw: { ...size, channels: 4 } }])
    .modulate({ saturation: 1.3 })
    .raw()
    .toBuffer();
}

const recipes = ANGLES.map(turned);
const taken = await inTurns(RUNS, [...recipes.map((recipe) => () => ours(recipe)), peer]);
await threads.close();
const [level, peerMs] = [taken[0]!, taken.at(-1)!];
console.log(
  JSON.stringify({
    case: 'still',
    ratio: thousandth(level / peerMs),
    oursMs: Object.fromEntries(ANGLES.map((angle, i) => [angle, Math.round(taken[i]!)])),
    dearest: thousandth(Math.max(...taken.slice(0, -1)) / Math.min(...taken.slice(0, -1))),
    peerMs: Math.round(peerMs),
    peer: 'sharp',
  }),
);
