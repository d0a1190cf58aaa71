/**
 * What lies over a picture: the time of 12 megapixels with one element of a tenth of it, soft all over, as a share of the
 * time without, for three kinds of blur; and with one that is sharp.
 */
import {
  type LayerImage,
  SharedRenderer,
  diagonal,
  layerImage,
  parseRecipe,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { SIGMA, bandRecipe, demoPixels, threads } from './large-picture';
import { inTurns, thousandth } from './timing';

const RUNS = 3;
const SIZE = { width: 4243, height: 2828 };
const KINDS = ['gaussian', 'lens', 'motion'] as const;
const RGB = { channels: 3, bytes: 1 } as const;

/** A disc with a soft edge, of a tenth of the picture. */
const side = Math.round(Math.sqrt(SIZE.width * SIZE.height * 0.1));
const rgba = new Uint8Array(4 * side * side);
for (let i = 0; i < side * side; i++) {
  const [x, y] = [(i % side) - side / 2, Math.floor(i / side) - side / 2];
  const share = Math.min(1, Math.max(0, (side / 2 - Math.hypot(x, y)) / 4));
  rgba.set([200, (i * 7) % 256, 60, 255 * share], 4 * i);
}
const image = layerImage('disc', { width: side, height: side }, { samples: rgba, channels: 4, top: 255 });
const images: ReadonlyMap<string, LayerImage> = new Map([['disc.png', image]]);
const source = await demoPixels(SIZE);

/** Each time from the start, as a file is rendered. */
function work(kind: string, rest: number | null): () => Promise<void> {
  const bare = bandRecipe(SIZE, SIGMA, 0, { kind });
  const element = { id: 'e', image: 'disc.png', width: side / diagonal(SIZE), focus: { rest } };
  const recipe = rest === null ? bare : parseRecipe({ ...bare, elements: [element] });
  return async () => {
    const renderer = new SharedRenderer(threads);
    await renderer.open(wholeView(SIZE, recipe, { input: RGB, output: RGB }));
    renderer.input(0).set(source);
    const look = resolveRecipe(recipe, SIZE, { images });
    await renderer.render({ slot: 0, source: 'a', look, content: 'picture' });
    await renderer.close();
  };
}

const ratio: Record<string, { soft: number; sharp: number; bareMs: number }> = {};
for (const kind of KINDS) {
  const [bare, soft, sharp] = await inTurns(RUNS, [work(kind, null), work(kind, 1), work(kind, 0)]);
  ratio[kind] = {
    soft: thousandth(soft! / bare!),
    sharp: thousandth(sharp! / bare!),
    bareMs: Math.round(bare!),
  };
}
await threads.close();
console.log(JSON.stringify({ case: 'layers', ratio }));
