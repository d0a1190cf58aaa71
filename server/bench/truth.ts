/**
 * Blur made from a sharp picture and what is known of its depth, against the same view through a thin lens: how near lens blur
 * comes, and Gaussian blur, and the sharp picture; of whole pictures, and about outlines. The differences go to `.cache/truth`.
 */
import { mkdir, readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { ssim } from 'ssim.js';
import {
  type Raster,
  type Recipe,
  type RecipeAssets,
  SharedRenderer,
  type Size,
  diagonal,
  keepMasksOf,
  parseRecipe,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { NO_PICTURES } from '../../core/src/focus/field';
import { asLight, asPicture, nearOutline, psnr } from '../../core/reference/optical';
import { meadow } from '../../core/test/meadow';
import { decodeGrey } from '../src/render/companions';
import { threads } from './large-picture';
import { thousandth } from './timing';

const folder = fileURLToPath(new URL('../../demo/optical/', import.meta.url));
const houseOutline = fileURLToPath(new URL('../../demo/pictures/tram-loop-house.png', import.meta.url));
/** How far the house lies off the focus at most, in the depth map. */
const HOUSE_RADIUS = 0.25;
const differences = fileURLToPath(new URL('../../.cache/truth/', import.meta.url));
/** What the night is lit by is brighter than its white. */
const LIGHTS = { stops: 3, threshold: 0.97, tint: 1 };

interface Lens {
  focus: number;
  tilt: number;
  disc: number;
}
interface Pixels<T extends Uint8Array | Uint16Array> extends Size {
  data: T;
}

async function read(file: string): Promise<Pixels<Uint8Array>> {
  const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

function likeness(a: Uint8Array, { data, width, height }: Pixels<Uint8Array>): object {
  const picture = (rgb: Uint8Array) => ({
    width,
    height,
    data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : rgb[(i >> 2) * 3 + (i % 4)]!,
    ),
  });
  const { mssim } = ssim(picture(a) as ImageData, picture(data) as ImageData);
  return { psnr: hundredth(psnr(a, data)), ssim: thousandth(mssim) };
}

const hundredth = (value: number): number => Math.round(value * 100) / 100;

/** A picture under a recipe: samples as they came. */
async function rendered<T extends Uint8Array | Uint16Array>(
  source: Pixels<T>,
  recipe: Recipe,
  pictures: Partial<RecipeAssets>,
): Promise<T> {
  const isDeep = source.data instanceof Uint16Array;
  const format = { channels: 3, bytes: isDeep ? 2 : 1 } as const;
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
  return (isDeep ? new Uint16Array(copy.buffer) : copy) as T;
}

const recipeOf = (parts: object): Recipe => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });

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

/** Grey where both are alike, four times as much where they differ. */
async function writeDifference(name: string, made: Uint8Array, optical: Pixels<Uint8Array>): Promise<void> {
  const difference = made.map((v, i) => Math.min(255, Math.max(0, 128 + 4 * (v - optical.data[i]!))));
  const raw = { width: optical.width, height: optical.height, channels: 3 as const };
  await sharp(difference, { raw }).png().toFile(`${differences}${name}.png`);
}

/** A scene with its depth map, or with a band where the plane of focus is tilted. */
async function measureScene(name: string, glass: Lens): Promise<void> {
  const scene = name.replace(/-[a-z]+$/, '');
  const source = await read(`${folder}${scene}.png`);
  const optical = await read(`${folder}${name}.png`);
  const depth = await decodeGrey(`${folder}${scene}-depth.png`, 'The scene');
  const isTilted = glass.tilt !== 0;
  const map = { image: 'depth.png', focus: glass.focus, clear: 0, falloff: 1, profile: 'linear' };
  const focus = isTilted ? bandFor({ ...source, levels: depth.levels }, glass) : { depthMap: map };
  const pictures = isTilted ? NO_PICTURES : { depth };
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
  const light = { ...source, data: asLight(source.data, 3) };
  for (const [kind, blur] of Object.entries(made)) {
    const recipe = recipeOf({ focus, blur });
    const picture = asPicture(await rendered(light, recipe, pictures));
    const plain = await rendered(source, recipe, pictures);
    line[kind] = { ...likeness(picture, optical), asDeveloped: likeness(plain, optical) };
    await writeDifference(`${name}-${kind}`, picture, optical);
  }
  console.log(JSON.stringify(line));
}

/** Balloons over the town, each way to tell how near they are: whole, and about the outlines of all and of the nearest. */
async function measureMeadow(): Promise<void> {
  const { size, truth, cases, others, outlines } = await meadow(await threads.module);
  const optical = { ...size, data: truth };
  const line: Record<string, unknown> = { case: 'truth', scene: 'meadow' };
  for (const [name, { picture, how, pictures }] of Object.entries({ ...cases, ...others })) {
    const out = asPicture(await rendered({ ...size, data: picture.data as Uint16Array }, how, pictures));
    const [atOutlines, atNearest] = [outlines.all, outlines.near].map((one) =>
      hundredth(psnr(out, truth, one)),
    );
    line[name] = { ...likeness(out, optical), atOutlines, atNearest };
    await writeDifference(`meadow-${name}`, out, optical);
  }
  console.log(JSON.stringify(line));
}

/** A house of the tram loop under a planar band: as the band has it, and standing, whole and about its outline. */
async function measureStanding({ focus, disc }: Lens): Promise<void> {
  const source = await read(`${folder}tram-loop.png`);
  const optical = await read(`${folder}tram-loop-lens.png`);
  const { levels } = await decodeGrey(`${folder}tram-loop-depth.png`, 'The scene');
  const size = { width: source.width, height: source.height };
  const house = await decodeGrey(houseOutline, 'The house');
  const { samples, width, height } = house.levels[0];
  const coverage = (x: number, y: number): number => {
    const [u, v] = [Math.floor((x * width) / size.width), Math.floor((y * height) / size.height)];
    return samples[v * width + u]! / 65535;
  };
  const near = nearOutline(coverage, size, HOUSE_RADIUS * disc);
  const light = { ...size, data: asLight(source.data, 3) };
  const line: Record<string, unknown> = { case: 'truth', scene: 'tram-loop-lens', field: 'planar band' };
  for (const as of ['flat', 'standing'] as const) {
    const mattes = as === 'flat' ? [] : [{ id: 'house', image: 'house.png', as }];
    const recipe = recipeOf({
      focus: { ...bandFor({ ...size, levels }, { focus, disc, tilt: 0 }), mattes },
      blur: { kind: 'lens', radius: disc / diagonal(size) },
    });
    const keep = keepMasksOf(
      recipe.focus.mattes.map((how) => ({ how, picture: house })),
      size.width,
      false,
    );
    const out = asPicture(await rendered(light, recipe, { keep }));
    line[as] = { ...likeness(out, optical), atOutline: hundredth(psnr(out, optical.data, near)) };
  }
  console.log(JSON.stringify(line));
}

await mkdir(differences, { recursive: true });
const lenses = JSON.parse(await readFile(`${folder}lenses.json`, 'utf8')) as Record<string, Lens>;
for (const [name, glass] of Object.entries(lenses)) await measureScene(name, glass);
await measureStanding(lenses['tram-loop-lens']!);
await measureMeadow();
await threads.close();
