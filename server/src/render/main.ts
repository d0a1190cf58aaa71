import sharp from 'sharp';
import {
  type Recipe,
  RecipeError,
  SharedRenderer,
  type Threads,
  readRecipe,
  recipeLook,
  wholeView,
} from '@hazy-lens/core';
import { loadFocusPictures } from './focus-pictures';
import {
  type Decoded,
  InputError,
  decodePicture,
  encodeMap,
  encodePicture,
  outputKind,
  readFileOr,
} from './picture';
import { picturesIn } from './inputs';
import { type Options, readOptions } from './options';
import { renderEach, renderFootage } from './many';
import { printLine } from './report';
import { startThreads } from './threads';

/** @returns also whether the recipe says something of time, which makes numbered pictures footage. */
async function loadRecipe(path: string): Promise<{ recipe: Recipe; isTimed: boolean }> {
  const text = (await readFileOr(path)).toString('utf8');
  try {
    const recipe = readRecipe(text);
    const { pace, keys } = JSON.parse(text) as { pace?: unknown; keys?: unknown[] };
    return { recipe, isTimed: pace !== undefined || (keys?.length ?? 0) > 0 };
  } catch (error) {
    if (error instanceof RecipeError) throw new InputError(`${path}: ${error.message}`);
    throw error;
  }
}

/** A renderer with a picture in it. The decoded copy is let go. */
async function open(picture: Decoded, recipe: Recipe, threads: Threads): Promise<SharedRenderer> {
  const renderer = new SharedRenderer(threads);
  await renderer.open(wholeView(picture, recipe, { input: picture.format, output: picture.format }));
  renderer.input(0).set(picture.data);
  picture.data = Buffer.alloc(0);
  return renderer;
}

/** Half the size each way: a draft is rendered there and enlarged. */
async function halved(picture: Decoded): Promise<Decoded> {
  const { format } = picture;
  const width = Math.max(1, Math.round(picture.width / 2));
  const height = Math.max(1, Math.round(picture.height / 2));
  return { ...picture, width, height, data: await resized(picture, width, height), format };
}

async function resized(picture: Decoded, width: number, height: number): Promise<Buffer> {
  const { data, format } = picture;
  const samples = format.bytes === 2 ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;
  return sharp(samples, { raw: { width: picture.width, height: picture.height, channels: 3 } })
    .resize(width, height, { fit: 'fill' })
    .toColourspace(format.bytes === 2 ? 'rgb16' : 'srgb')
    .raw({ depth: format.bytes === 2 ? 'ushort' : 'uchar' })
    .toBuffer();
}

async function main(): Promise<number> {
  const options = readOptions();
  const { recipe, isTimed } = await loadRecipe(options.recipe);
  const pictures = await picturesIn(options.in);
  if (!pictures) return renderOne(options, recipe);
  if (options.map) throw new InputError('--map: is written of one picture only.');
  return isTimed || options.fps !== null
    ? renderFootage(options, recipe, pictures)
    : renderEach(options, recipe, pictures);
}

async function renderOne(options: Options, recipe: Recipe): Promise<number> {
  outputKind(options.out);
  if (options.map && outputKind(options.map) !== 'png')
    throw new InputError(`${options.map}: the map is written as .png only.`);
  const clock = [performance.now()];
  const full = await decodePicture(options.in);
  const { width, height } = full;
  const picture = options.quality === 'draft' ? await halved(full) : full;
  const look = recipeLook(recipe, await loadFocusPictures(recipe, options.recipe, picture));
  clock.push(performance.now());
  const threads = await startThreads(options.workers);
  full.data = options.quality === 'draft' ? Buffer.alloc(0) : full.data;
  const renderer = await open(picture, recipe, threads);
  const job = { slot: 0, source: options.in, look };
  const rendered = await renderer.render({ ...job, content: 'picture' });
  clock.push(performance.now());
  let data: Buffer = Buffer.from(rendered.buffer, rendered.byteOffset, rendered.byteLength);
  if (options.quality === 'draft') data = await resized({ ...picture, data }, width, height);
  await encodePicture(options.out, { ...picture, width, height, data });
  clock.push(performance.now());
  if (options.map) {
    const map = await renderer.render({ ...job, content: 'haze16' });
    const samples = new Uint16Array(map.buffer, map.byteOffset, map.byteLength / 2);
    await encodeMap(options.map, picture.width, picture.height, samples);
  }
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
    process.stderr.write(`${known ? error.message : `Unexpected: ${error.stack}`}\n`);
    process.exit(known ? 2 : 1);
  },
);
