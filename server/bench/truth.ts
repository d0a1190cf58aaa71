/**
 * Blur made from a sharp picture and its depth map, against the same view through a thin lens: how near lens blur comes,
 * and Gaussian blur, and the sharp picture. The differences go to `.cache/truth`.
 */
import { mkdir, readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { ssim } from 'ssim.js';
import {
  type FocusPictures,
  NO_PICTURES,
  type Raster,
  SharedRenderer,
  type Size,
  diagonal,
  fromLinear,
  parseRecipe,
  resolveRecipe,
  toLinear,
  wholeView,
} from '@hazy-lens/core';
import { decodeGrey } from '../src/render/companions';
import { threads } from './large-picture';
import { thousandth } from './timing';

const folder = fileURLToPath(new URL('../../demo/optical/', import.meta.url));
const differences = fileURLToPath(new URL('../../.cache/truth/', import.meta.url));
/** What the night is lit by is brighter than its white. */
const LIGHTS = { stops: 3, threshold: 0.97, tint: 1 };

interface Lens {
  focus: number;
  tilt: number;
  disc: number;
}
interface Pixels extends Size {
  data: Buffer;
}
interface Deep extends Size {
  data: Uint16Array;
}

async function read(file: string): Promise<Pixels> {
  const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

function psnr(a: Buffer, b: Buffer): number {
  const sum = a.reduce((all, v, i) => all + (v - b[i]!) ** 2, 0);
  return 10 * Math.log10((255 * 255 * a.length) / sum);
}

function likeness(a: Buffer, { data, width, height }: Pixels): object {
  const picture = (rgb: Buffer) => ({
    width,
    height,
    data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : rgb[(i >> 2) * 3 + (i % 4)]!,
    ),
  });
  const { mssim } = ssim(picture(a) as ImageData, picture(data) as ImageData);
  return { psnr: Number(psnr(a, data).toFixed(2)), ssim: thousandth(mssim) };
}

/*
 * The scenes are developed by a curve that presses bright light together, as cameras do; the lens saw the light before it.
 * So the sharp picture is blurred twice: as it is, and with the generator's curve taken off before and put on after.
 */

/** Scene light that is as bright as the curve can tell apart. */
const BRIGHTEST = 7.1;
const MIN_GREY = 0.88;
const luma = ([r, g, b]: Light): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;
type Light = [number, number, number];

/** The generator's tone curve, on exposed linear light, to coded values; see `TONE_CURVE` there. */
function developed(light: Light): Light {
  const bent = light.map((c) => (c * (2.51 * c + 0.03)) / (c * (2.43 * c + 0.59) + 0.14)) as Light;
  const grey = luma(bent);
  return bent.map((c) => fromLinear(Math.min(1, Math.max(0, grey + (c - grey) * MIN_GREY)))) as Light;
}

/** The light that a coded colour was developed from. */
function undeveloped(coded: Light): Light {
  const bent = coded.map(toLinear) as Light;
  const grey = luma(bent);
  return bent.map((c) => {
    const y = Math.min(0.999, Math.max(0, grey + (c - grey) / MIN_GREY));
    const [a, b] = [2.43 * y - 2.51, 0.59 * y - 0.03];
    return (-b - Math.sqrt(b * b - 4 * a * 0.14 * y)) / (2 * a);
  }) as Light;
}

/** Calls for each colour of interleaved samples. */
function eachColour(from: ArrayLike<number>, top: number, to: (light: Light, i: number) => void): void {
  for (let i = 0; i < from.length; i += 3) to([from[i]! / top, from[i + 1]! / top, from[i + 2]! / top], i);
}

/** The picture as scene light, in 16 bits. */
function asLight(source: Pixels): Deep {
  const data = new Uint16Array(source.data.length);
  eachColour(source.data, 255, (coded, i) =>
    undeveloped(coded).forEach((c, k) => (data[i + k] = Math.round(fromLinear(c / BRIGHTEST) * 65535))),
  );
  return { ...source, data };
}

/** Scene light in 16 bits as a picture. */
function asPicture(light: Uint16Array): Buffer {
  const data = Buffer.alloc(light.length);
  eachColour(light, 65535, (coded, i) => {
    const scene = coded.map((v) => toLinear(v) * BRIGHTEST) as Light;
    developed(scene).forEach((v, k) => (data[i + k] = Math.round(v * 255)));
  });
  return data;
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
