import sharp from 'sharp';
import { SharedRenderer, parseRecipe, resolveRecipe, wholeView } from '@hazy-lens/core';
import { startThreads } from '../src/render/threads';
import { inTurns, thousandth } from './timing';

/** The whole field of 60 soundings, 6 bands and 40 strokes; sharp enlarging a picture to the same size beside it. */
const size = { width: 6000, height: 4000 };
const megapixels = (size.width * size.height) / 1e6;
const at = (i: number, by: number): number => (i * by) % 1;
const recipe = parseRecipe({
  format: 'hazy-lens-recipe',
  version: 1,
  focus: {
    soundings: Array.from({ length: 60 }, (_, i) => ({
      at: [at(i, 0.754877), at(i, 0.56984)],
      haze: at(i, 0.381966),
    })),
    bands: [
      { id: 'a', kind: 'planar' },
      { id: 'b', kind: 'linear' },
      { id: 'c', kind: 'elliptical', centre: [0.3, 0.4] },
      { id: 'd', kind: 'iris', centre: [0.7, 0.6] },
      { id: 'e', kind: 'planar', mode: 'haze', angle: 30, near: { haze: 0.4 }, far: { haze: 0.4 } },
      { id: 'f', kind: 'elliptical', mode: 'haze', haze: 0.3, angle: 70 },
    ],
    strokes: Array.from({ length: 40 }, (_, k) => ({
      mode: (['clear', 'haze', 'erase'] as const)[k % 3],
      radius: 0.02,
      points: Array.from({ length: 60 }, (_, i) => [
        at(k, 0.618) + i * 0.003,
        at(k, 0.377) + 0.04 * Math.sin(i / 6 + k),
      ]),
    })),
  },
});
const format = { channels: 3, bytes: 1 } as const;
const threads = await startThreads(2);
const renderer = new SharedRenderer(threads);
await renderer.open(wholeView(size, recipe, { input: format, output: format }));
const job = { slot: 0, source: 'bench', look: resolveRecipe(recipe, size), content: 'haze16' } as const;
const small = await sharp({ create: { width: 3000, height: 2000, channels: 3, background: '#866' } })
  .raw()
  .toBuffer();
const peer = (): Promise<Buffer> =>
  sharp(small, { raw: { width: 3000, height: 2000, channels: 3 } })
    .resize(size)
    .raw()
    .toBuffer();
const [ours, peers] = (await inTurns(5, [() => renderer.render(job), peer])) as [number, number];
await threads.close();
console.log(
  JSON.stringify({
    case: 'field',
    ratio: thousandth(ours / peers),
    oursMs: Math.round(ours),
    msPerMegapixel: thousandth(ours / megapixels),
    peerMs: Math.round(peers),
    peer: 'sharp resize',
  }),
);
