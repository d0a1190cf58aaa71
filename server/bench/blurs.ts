/**
 * The other kinds of blur against the same peer as Gaussian blur, and what lens blur costs a megapixel by the radius and
 * by the size of the picture.
 */
import { diagonal, parseRecipe } from '@hazy-lens/core';
import { LARGE, SIGMA, bandRecipe, demoPixels, ours, peerOf, threads } from './large-picture';
import { inTurns, thousandth } from './timing';

const RUNS = 5;
const FEW_RUNS = 3;
const RADII = [8, 16, 32, 64, 128];
const LENS = { kind: 'lens', lens: { blades: 6, highlights: { stops: 2 } } };
const KINDS = {
  lens: LENS,
  motion: { kind: 'motion', motion: { angle: 20 } },
  spin: { kind: 'spin' },
  zoom: { kind: 'zoom' },
};
/** Six megapixels. */
const MIDDLE = { width: 3000, height: 2000 };
const SIZES = [MIDDLE, { width: 4243, height: 2828 }, LARGE, { width: 8485, height: 5657 }];

const source = await demoPixels(LARGE);
const works = Object.values(KINDS).map((parts) => {
  const recipe = bandRecipe(LARGE, SIGMA, 0, parts);
  return () => ours(source, LARGE, recipe);
});
const taken = await inTurns(RUNS, [...works, peerOf(source, LARGE, SIGMA)]);
const peerMs = taken.at(-1)!;
console.log(
  JSON.stringify({
    case: 'blurs',
    ratio: Object.fromEntries(Object.keys(KINDS).map((kind, i) => [kind, thousandth(taken[i]! / peerMs)])),
    oursMs: Object.fromEntries(Object.keys(KINDS).map((kind, i) => [kind, Math.round(taken[i]!)])),
    peerMs: Math.round(peerMs),
    peer: 'sharp',
  }),
);

/** Milliseconds a megapixel where all is haze. */
async function perMegapixel(size: typeof MIDDLE, radius: number): Promise<number> {
  const recipe = parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    blur: { radius: radius / diagonal(size), ...LENS },
  });
  const pixels = await demoPixels(size);
  const [ms] = await inTurns(FEW_RUNS, [() => ours(pixels, size, recipe)]);
  return Math.round((ms! * 1e6) / (size.width * size.height));
}
const byRadius: Record<string, number> = {};
for (const radius of RADII) byRadius[radius] = await perMegapixel(MIDDLE, radius);
const bySize: Record<string, number> = {};
for (const size of SIZES)
  bySize[Math.round((size.width * size.height) / 1e6)] = await perMegapixel(
    size,
    (72 * diagonal(size)) / diagonal(LARGE),
  );
await threads.close();
console.log(JSON.stringify({ case: 'lens, ms a megapixel', byRadius, byMegapixels: bySize }));
