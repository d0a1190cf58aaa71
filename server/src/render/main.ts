import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
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
import { startThreads } from './threads';

const USAGE =
  'usage: render --recipe R.json --in IN.png --out OUT.png [--map MAP.png] [--workers N] [--quality draft|fine]';

interface Options {
  recipe: string;
  in: string;
  out: string;
  map?: string | undefined;
  workers: number;
  quality: 'draft' | 'fine';
}

function readOptions(): Options {
  const text = { type: 'string' } as const;
  let values;
  try {
    values = parseArgs({
      options: { recipe: text, in: text, out: text, map: text, workers: text, quality: text },
    }).values;
  } catch (error) {
    throw new InputError(`${(error as Error).message} ${USAGE}`);
  }
  for (const name of ['recipe', 'in', 'out'] as const)
    if (!values[name]) throw new InputError(`--${name} is missing. ${USAGE}`);
  const workers = values.workers === undefined ? availableParallelism() : Number(values.workers);
  if (!Number.isInteger(workers) || workers < 1 || workers > 64)
    throw new InputError(`--workers: must be a whole number from 1 to 64, not "${values.workers}".`);
  const quality = values.quality ?? 'fine';
  if (quality !== 'draft' && quality !== 'fine')
    throw new InputError(`--quality: must be draft or fine, not "${quality}".`);
  return { recipe: values.recipe!, in: values.in!, out: values.out!, map: values.map, workers, quality };
}

async function loadRecipe(path: string): Promise<Recipe> {
  const text = (await readFileOr(path)).toString('utf8');
  try {
    return readRecipe(text);
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

async function main(): Promise<void> {
  const options = readOptions();
  outputKind(options.out);
  if (options.map && outputKind(options.map) !== 'png')
    throw new InputError(`${options.map}: the map is written as .png only.`);
  const recipe = await loadRecipe(options.recipe);
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
  const [decodeMs, renderMs, encodeMs] = [1, 2, 3].map((i) => Math.round(clock[i]! - clock[i - 1]!));
  const peakMiB = Math.round(process.resourceUsage().maxRSS / 1024);
  console.log(
    JSON.stringify({ width, height, ms: { decode: decodeMs, render: renderMs, encode: encodeMs }, peakMiB }),
  );
}

main().catch((error: Error) => {
  const known = error instanceof InputError || error instanceof RangeError;
  process.stderr.write(`${known ? error.message : `Unexpected: ${error.stack}`}\n`);
  process.exit(known ? 2 : 1);
});
