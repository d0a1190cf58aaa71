import { SharedRenderer, diagonal, parseRecipe, recipeLook, wholeView } from '@hazy-lens/core';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { startThreads } from '../src/render/threads';
const picture = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
const threads = await startThreads(2);
const format = { channels: 3, bytes: 1 } as const;
for (const [w, h, px] of [[1280, 853, 15], [6000, 4000, 8], [6000, 4000, 16], [6000, 4000, 36], [6000, 4000, 72], [6000,4000,144]] as const) {
  const size = { width: w, height: h };
  const source = await sharp(picture).resize(size).removeAlpha().raw().toBuffer();
  for (const full of [false, true])
  for (const kind of ['gaussian', 'lens'] as const) {
    const side = { clear: 0.05, falloff: 0.22 };
    const recipe = parseRecipe({ format: 'hazy-lens-recipe', version: 1,
      focus: full ? { rest: 1 } : { bands: [{ id: 'a', kind: 'planar', near: side, far: side }] },
      blur: { kind, radius: px / diagonal(size), lens: { blades: 6, highlights: { stops: 2 } } } });
    const renderer = new SharedRenderer(threads);
    await renderer.open(wholeView(size, recipe, { input: format, output: format }));
    renderer.input(0).set(source);
    const times = [];
    for (let i = 0; i < 3; i++) { const t = performance.now();
      await renderer.render({ slot: 0, source: `${i}`, look: recipeLook(recipe), content: 'picture' }); times.push(Math.round(performance.now() - t)); }
    console.log(w, px, full ? 'all haze' : 'band', kind, times.join(' '));
    await renderer.close();
  }
}
await threads.close();
