import { dirname, join } from 'node:path';
import sharp from 'sharp';
import {
  ALIGN_LONG_EDGE_PX,
  type RecipeAssets,
  type Raster,
  type ColourLut,
  type LayerImage,
  type LiftedSubject,
  type Recipe,
  Scratch,
  type Threads,
  parseCube,
  alignDepth,
  carriesMattes,
  keepMasksOf,
  layerImage,
  liftSubject,
  lumaOf,
  makeRaster,
  sizeProblem,
  sizeWithin,
  textOf,
  shownBytes,
} from '@hazy-lens/core';
import {
  type Decoded,
  InputError,
  decodePicture,
  knownKind,
  readInputFile,
  reasonOf,
  samplesOf,
} from './picture';
import type { Rendered } from './still';

/** Decodes a grey picture that a recipe names: 16 bits, colours as luminance, transparent parts on black. */
export async function decodeGrey(path: string, field: string): Promise<Raster> {
  const file = await readInputFile(path).catch((error: Error) => {
    throw new InputError(`${error.message} (used by ${field})`);
  });
  try {
    knownKind(file, path);
    const { width, height } = await sharp(file, { limitInputPixels: false }).metadata();
    const problem = sizeProblem({ width, height });
    if (problem) throw new InputError(`${path}: ${problem}`);
    const { data, info } = await sharp(file, { limitInputPixels: false, failOn: 'error' })
      .autoOrient()
      .flatten({ background: '#000000' })
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const all = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    const samples =
      info.channels === 1
        ? all
        : Uint16Array.from({ length: info.width * info.height }, (_, i) => all[i * info.channels]!);
    return makeRaster(path, info.width, info.height, samples);
  } catch (error) {
    if (error instanceof InputError) throw new InputError(`${error.message} (used by ${field})`);
    throw new InputError(`${path}: can’t be read as a picture (${reasonOf(error)}). ${field} names it.`);
  }
}

/** A file that is larger is no table that can be read. */
const MAX_TABLE_BYTES = 30_000_000;

/** Reads the table of colours that a recipe's look names. */
async function readTable(path: string): Promise<ColourLut> {
  const refused = (why: string): InputError =>
    new InputError(`${path}: can’t be used as a table of colours. ${why} colour.look.image names it.`);
  const file = await readInputFile(path, MAX_TABLE_BYTES).catch((error: Error) => {
    throw new InputError(`${error.message} (colour.look.image names it.)`);
  });
  try {
    return parseCube(textOf(file), path);
  } catch (error) {
    throw refused((error as Error).message);
  }
}

/**
 * What the files are that a recipe names, relative to the recipe's file.
 * @throws InputError that names the file and the field.
 */
export async function loadCompanions(
  recipe: Recipe,
  recipePath: string,
  picture: Rendered,
): Promise<RecipeAssets> {
  const { depthMap, mattes, on } = recipe.focus;
  const beside = (name: string): string => join(dirname(recipePath), name);
  let depth: Raster | null = null;
  if (on && depthMap?.on) {
    depth = await decodeGrey(beside(depthMap.image), 'focus.depthMap.image');
    if (depthMap.align > 0) depth = alignDepth(depth, await guideOf(picture), depthMap.align);
  }
  const pictures = await Promise.all(
    mattes.map(async (how, i) =>
      on && how.on ? [{ how, picture: await decodeGrey(beside(how.image), `focus.mattes[${i}].image`) }] : [],
    ),
  );
  const { look, on: hasColour } = recipe.colour;
  return {
    depth,
    keep: keepMasksOf(pictures.flat(), Math.max(picture.width, picture.height), carriesMattes(recipe)),
    images: await loadImages(recipe, beside),
    lifted: new Map(),
    table: hasColour && look?.image !== undefined ? await readTable(beside(look.image)) : null,
  };
}

/** The subjects that a recipe lifts off a still, whose mends are made. @param keep of its companions. */
export async function liftedOff(
  { width, height, format, data, parts }: Decoded,
  { focus }: Recipe,
  keep: RecipeAssets['keep'],
  threads: Threads,
): Promise<RecipeAssets['lifted']> {
  const lifted = new Map<string, LiftedSubject>();
  const samples = { width, height, channels: format.channels, data: samplesOf(data, format), parts };
  const scratch = new Scratch();
  for (const { id } of focus.mattes.filter((one) => one.on && one.lifted && one.combine === 'add')) {
    const raster = keep.find(({ matte }) => matte === id)?.raster;
    const made = raster && (await liftSubject(scratch, await threads.module, samples, raster, id));
    if (made) lifted.set(id, made);
  }
  return lifted;
}

/** The pictures of all elements that are on, by the names that the recipe gives them. */
async function loadImages(
  { elements }: Recipe,
  beside: (name: string) => string,
): Promise<Map<string, LayerImage>> {
  const images = new Map<string, LayerImage>();
  for (const [i, { on, image }] of elements.entries()) {
    if (!on || images.has(image)) continue;
    const decoded = await decodePicture(beside(image)).catch((error: Error) => {
      throw new InputError(`${error.message} (elements[${i}].image names it.)`);
    });
    const { data, format, parts } = decoded;
    const samples = samplesOf(data, format);
    const top = format.bytes === 2 ? 65535 : 255;
    images.set(image, layerImage(image, decoded, parts ?? { samples, channels: format.channels, top }));
  }
  return images;
}

/** Luma of the picture at the size at which depth maps are aligned. */
async function guideOf({ width, height, format, data, gain }: Rendered): Promise<ReturnType<typeof lumaOf>> {
  const raw = { width, height, channels: format.channels };
  const samples = samplesOf(data, format);
  // As it is shown, where its light goes beyond white.
  const seen = gain !== 1 && samples instanceof Uint16Array ? shownBytes(samples, gain) : samples;
  const { data: small, info } = await sharp(seen, { raw })
    .resize({ ...sizeWithin(raw, ALIGN_LONG_EDGE_PX), fit: 'fill' })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return lumaOf({ width: info.width, height: info.height, data: small });
}
