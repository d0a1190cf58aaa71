/**
 * Gaussian blur against a whole-picture blur, a ready mask and a saturation by sharp. Ours with the band at three angles:
 * what it costs must not hang on that.
 */
import { LARGE, SIGMA, bandRecipe, demoPixels, ours, peerOf, threads } from './large-picture';
import { inTurns, thousandth } from './timing';

const RUNS = 5;
const ANGLES = [0, 10, 90] as const;
const source = await demoPixels(LARGE);
const recipes = ANGLES.map((angle) => bandRecipe(LARGE, SIGMA, angle));
const works = recipes.map((recipe) => () => ours(source, LARGE, recipe));
const taken = await inTurns(RUNS, [...works, peerOf(source, LARGE, SIGMA)]);
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
