import sharp from 'sharp';
import {
  PART_FORMAT,
  type Recipe,
  messageLine,
  stillFormatFor,
  scaledSize,
  cropOf,
  resolveTidiedRecipe,
} from '@hazy-lens/core';
import { type Rendered, hazeOf, renderStill } from './still';
import { liftedOff, loadCompanions } from './companions';
import {
  type Decoded,
  InputError,
  bytesFor,
  decodePicture,
  writeHazeMap,
  writePicture,
  outputFormat,
  samplesOf,
} from './picture';
import { picturesIn } from './inputs';
import { loadRecipe } from './load-recipe';
import { measuresOf } from './measures';
import { type Options, readOptions } from './options';
import { keepInputs } from './outputs';
import { isClipName } from '../footage/clip-probe';
import { partsOf } from '../footage/job';
import { renderBatch, renderByPresets, renderFootage, renderFootageByPresets } from './batch';
import { printLine } from './report';
import { startThreads } from './threads';
import { cropped, mend } from './tidy';

const DRAFT_SCALE = 1 / 2;

/** Half the size each way: a draft is rendered there and enlarged. */
async function halved(picture: Decoded): Promise<Decoded> {
  const { format } = picture;
  const { width, height } = scaledSize(picture, DRAFT_SCALE);
  const part = async (samples: Uint16Array): Promise<Uint16Array> => {
    const data = Buffer.from(samples.buffer);
    const small = await resized({ ...picture, data, format: PART_FORMAT }, width, height);
    return new Uint16Array(small.buffer, small.byteOffset, small.length / 2).slice();
  };
  const { parts } = picture;
  return {
    ...picture,
    width,
    height,
    data: await resized(picture, width, height),
    parts: parts && { premultiplied: await part(parts.premultiplied), alpha: await part(parts.alpha) },
    format,
  };
}

async function resized(picture: Rendered, width: number, height: number): Promise<Buffer> {
  const { data, format } = picture;
  const raw = { width: picture.width, height: picture.height, channels: format.channels };
  return sharp(samplesOf(data, format), { raw })
    .resize(width, height, { fit: 'fill' })
    .toColourspace(format.bytes === 2 ? 'rgb16' : 'srgb')
    .raw({ depth: format.bytes === 2 ? 'ushort' : 'uchar' })
    .toBuffer();
}

async function main(): Promise<number> {
  const options = readOptions();
  const { recipe, isTimed } = await loadRecipe(options.recipe);
  await keepInputs(
    {
      '--in': options.in,
      '--recipe': options.recipe,
      ...(options.presets !== null && { '--presets': options.presets }),
    },
    { '--out': options.out, '--map': options.map },
  );
  // A GIF that becomes a picture is taken for one.
  const isClip = isClipName(options.in) && !(/\.gif$/i.test(options.in) && stillFormatFor(options.out));
  const isFilm = isClip || isClipName(options.out);
  const inputs = isClip ? null : await picturesIn(options.in);
  if (options.presets !== null)
    return isClip || (inputs && (isTimed || options.fps !== null))
      ? renderFootageByPresets(options, recipe, inputs ?? options.in)
      : renderByPresets(options, recipe, inputs);
  if (!inputs && !isFilm) return renderOne(options, recipe);
  if (options.map) throw new InputError('--map works with a single picture only.');
  if (isFilm && options.quality === 'draft')
    throw new InputError('--quality: draft works with pictures only.');
  if (isClip) return renderFootage(options, recipe, options.in);
  if (!inputs)
    throw new InputError(`${options.in}: a clip is made from a clip, or from a folder or a zip of pictures.`);
  return isTimed || isFilm || options.fps !== null
    ? renderFootage(options, recipe, inputs)
    : renderBatch(options, recipe, inputs);
}

async function renderOne(options: Options, whole: Recipe): Promise<number> {
  const recipe = partsOf(whole, options.parts);
  outputFormat(options.out);
  if (options.map && outputFormat(options.map).id !== 'png')
    throw new InputError(`${options.map}: the map must be a .png file.`);
  const clock = [performance.now()];
  const full = await decodePicture(options.in, 'own');
  const { width, height } = cropOf(recipe, full);
  const isDraft = options.quality === 'draft';
  const source = isDraft ? await halved(full) : full;
  const companions = await loadCompanions(recipe, options.recipe, source);
  clock.push(performance.now());
  const threads = await startThreads(options.workers);
  await mend(source, recipe, threads);
  const measures = measuresOf(isDraft ? full : source, recipe);
  if (isDraft) full.data = Buffer.alloc(0);
  const lifted = await liftedOff(source, recipe, companions.keep, threads);
  const look = resolveTidiedRecipe(recipe, source, { ...companions, lifted }, source.gain, measures);
  const picture = await cropped(source, recipe, threads);
  if (picture !== source) source.data = Buffer.alloc(0);
  let map: Uint16Array | null = null;
  // What is lifted has its own haze where it lies.
  if (options.map) map = await hazeOf(picture, resolveTidiedRecipe(recipe, source, companions), threads);
  const bytes = bytesFor(options.out, picture.format, options.encoding);
  const primaries = { source: picture.primaries, output: options.encoding.space };
  await renderStill(
    picture,
    { ...look, primaries },
    threads,
    options.out,
    bytes,
    isDraft ? DRAFT_SCALE : 1,
    async (rendered) => {
      clock.push(performance.now());
      const data = isDraft ? await resized(rendered, width, height) : rendered.data;
      const made = { ...rendered, width, height, data };
      await writePicture(options.out, made, options.metadata, options.encoding);
    },
  );
  clock.push(performance.now());
  if (options.map && map) await writeHazeMap(options.map, picture.width, picture.height, map);
  await threads.close();
  const [decode, render, encode] = [1, 2, 3].map((i) => clock[i]! - clock[i - 1]!) as [
    number,
    number,
    number,
  ];
  printLine({ width, height }, { decode, render, encode });
  return 0;
}

main().then(
  (code) => void (process.exitCode = code),
  (error: Error) => {
    const known = error instanceof InputError || error instanceof RangeError;
    process.stderr.write(`${known ? messageLine(error.message) : `Unexpected: ${error.stack}`}\n`);
    process.exit(known ? 2 : 1);
  },
);
