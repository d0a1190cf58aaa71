import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import {
  buildOctaves,
  createMemory,
  diagonal,
  fullSigma,
  hazeField,
  openRender,
  parseRecipe,
  planRender,
  recipeLook,
  renderStrips,
} from '@hazy-lens/core';
import { startThreads } from '../src/render/threads';
import { inTurns, thousandth } from './timing';

/** Ours against a whole-picture blur, a ready mask and a saturation by sharp: raw pixels in, raw pixels out. */
const size = { width: 6000, height: 4000 };
const SIGMA = 36;
const RUNS = 5;
const picture = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
const recipe = parseRecipe({
  format: 'hazy-lens-recipe',
  version: 1,
  focus: {
    bands: [
      { id: 'a', kind: 'planar', near: { clear: 0.05, falloff: 0.22 }, far: { clear: 0.05, falloff: 0.22 } },
    ],
  },
  blur: { radius: (2 * SIGMA) / diagonal(size) },
  colour: { saturation: 0.3 },
});
const raw = { ...size, channels: 3 as const };
const source = await sharp(picture).resize(size).removeAlpha().raw().toBuffer();
const module = await WebAssembly.compile(await readFile(new URL('./kernels.wasm', import.meta.url)));
const threads = startThreads(2);

async function ours(): Promise<Buffer> {
  const region = { x: 0, y: 0, ...size, picture: size };
  const plan = planRender({
    region,
    format: { channels: 3, bytes: 1 },
    maxSigma: fullSigma(recipe.blur, size),
    workers: 2,
    stripRows: 32,
  });
  const memory = createMemory(plan.bytes);
  const render = { slot: 'bench', plan, memory, runners: threads.runners };
  await openRender(module, render);
  new Uint8Array(memory.buffer).set(source, plan.source);
  await buildOctaves(render);
  await renderStrips(render, recipeLook(recipe), 'picture');
  return Buffer.from(new Uint8Array(memory.buffer, plan.output, source.length));
}

const field = hazeField(recipe.focus, size);
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

const taken = await inTurns(RUNS, ours, peer);
await threads.close();
console.log(
  JSON.stringify({
    case: 'still',
    ratio: thousandth(taken.ours / taken.peer),
    oursMs: Math.round(taken.ours),
    peerMs: Math.round(taken.peer),
    peer: 'sharp',
  }),
);
