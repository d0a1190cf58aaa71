/**
 * Blur made from a sharp picture and its depth map, against the same view through a thin lens: how near lens blur comes,
 * and Gaussian blur, and the sharp picture. The differences go to `.cache/truth`.
 */
import { mkdir, readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import {
  type FocusPictures,
  NO_PICTURES,
  type Raster,
  SharedRenderer,
  type Size,
  diagonal,
  parseRecipe,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { decodeGrey } from '../src/render/companions';
import { threads } from './large-picture';
import { type Deep, type Pixels, asLight, asPicture, likeness, read } from './optical';

const folder = fileURLToPath(new URL('../../demo/optical/', import.meta.url));
const differences = fileURLToPath(new URL('../../.cache/truth/', import.meta.url));
/** What the night is lit by is brighter than its white. */
const LIGHTS = { stops: 3, threshold: 0.97, tint: 1 };

interface Lens {
  focus: number;
  tilt: number;
  disc: number;
}
/** The picture under a focus and a blur: samples as they came. */
async function blurred<T extends Pixels | Deep>(
  source: T,
  focus: object,
  blur: object,
  pictures: FocusPictures,
): Promise<T['data']> {
  const isDeep = source.data instanceof Uint16Array;
  const format = { channels: 3, bytes: isDeep ? 2 : 1 } as const;
  const recipe = parseRecipe({ format: 'hazy-lens-recipe', version: 1, focus, blur });
  const renderer = new SharedRenderer(threads);
  await renderer.open(wholeView(source, recipe, { input: format, output: format }));
  const { buffer, byteOffset, byteLength } = source.data;
  renderer.input(0).set(new Uint8Array(buffer, byteOffset, byteLength));
  const job = {
    slot: 0,
    source: 'truth',
    look: resolveRecipe(recipe, source, pictures),
    content: 'picture',
  } as const;
  const copy = (await renderer.render(job)).slice();
  await renderer.close();
  return isDeep ? new Uint16Array(copy.buffer) : Buffer.from(copy.buffer);
}

/** The planar band that comes nearest to a tilted plane of focus: how far a row's middle depth lies off the plane, as a line. */
function bandFor({ width, height, levels }: Pick<Raster, 'levels'> & Size, { focus, tilt }: Lens): object {
  const { samples } = levels[0];
  const off = Array.from({ length: height }, (_, y) => {
    const row = Array.from({ length: width }, (_, x) => samples[y * width + x]! / 65535).sort(
      (a, b) => a - b,
    );
    return row[width >> 1]! - (focus + tilt * (1 - (2 * (y + 0.5)) / height));
  });
  const focused = off.reduce((best, v, y) => (Math.abs(v) < Math.abs(off[best]!) ? y : best), 0);
  // Least squares through the row in focus, on each side.
  const slope = (rows: number[]): number =>
    Math.abs(
      rows.reduce((sum, y) => sum + off[y]! * (y - focused), 0) /
        rows.reduce((sum, y) => sum + (y - focused) ** 2, 0),
    );
  const rows = off.map((_, y) => y);
  const side = (perRow: number) => ({ clear: 0, falloff: 1 / perRow / diagonal({ width, height }) });
  return {
    bands: [
      {
        id: 'a',
        kind: 'planar',
        profile: 'linear',
        centre: [0.5, (focused + 0.5) / height],
        near: side(slope(rows.filter((y) => y > focused))),
        far: side(slope(rows.filter((y) => y < focused))),
      },
    ],
  };
}

await mkdir(differences, { recursive: true });
const lenses = JSON.parse(await readFile(`${folder}lenses.json`, 'utf8')) as Record<string, Lens>;
for (const [name, glass] of Object.entries(lenses)) {
  const scene = name.replace(/-[a-z]+$/, '');
  const source = await read(`${folder}${scene}.png`);
  const optical = await read(`${folder}${name}.png`);
  const depth = await decodeGrey(`${folder}${scene}-depth.png`, 'The scene');
  const isTilted = glass.tilt !== 0;
  const map = { image: 'depth.png', focus: glass.focus, clear: 0, falloff: 1, profile: 'linear' };
  const focus = isTilted ? bandFor({ ...source, levels: depth.levels }, glass) : { depthMap: map };
  const pictures = isTilted ? NO_PICTURES : { ...NO_PICTURES, depth };
  const radius = glass.disc / diagonal(source);
  const lens = { kind: 'lens', radius };
  const made = {
    lens,
    // What was clipped has its brightness back where the curve is off; as it is, lamps need it by hand.
    lensWithLights: { ...lens, lens: { highlights: LIGHTS } },
    gaussian: { kind: 'gaussian', radius },
    sharp: { radius: 0 },
  };
  const line: Record<string, unknown> = {
    case: 'truth',
    scene: name,
    field: isTilted ? 'planar band' : 'depth map',
  };
  const light = asLight(source);
  for (const [kind, blur] of Object.entries(made)) {
    const picture = asPicture(await blurred(light, focus, blur, pictures));
    const plain = await blurred(source, focus, blur, pictures);
    line[kind] = { ...likeness(picture, optical), asDeveloped: likeness(plain, optical) };
    // Grey where both are alike, four times as much where they differ.
    const difference = picture.map((v, i) => Math.min(255, Math.max(0, 128 + 4 * (v - optical.data[i]!))));
    const raw = { width: source.width, height: source.height, channels: 3 as const };
    await sharp(difference, { raw }).png().toFile(`${differences}${name}-${kind}.png`);
  }
  console.log(JSON.stringify(line));
}
await threads.close();
