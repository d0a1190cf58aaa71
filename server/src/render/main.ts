import { readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import sharp from 'sharp';
import {
  type Recipe,
  RecipeError,
  type Render,
  buildOctaves,
  createMemory,
  fullSigma,
  openRender,
  planRender,
  readRecipe,
  recipeLook,
  renderStrips,
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
import { type Threads, startThreads } from './threads';

const USAGE =
  'usage: render --recipe R.json --in IN.png --out OUT.png [--map MAP.png] [--workers N] [--quality draft|fine]';
const STRIP_ROWS = 32;

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

/** A picture in shared memory with its workers, ready for strips. */
async function open(picture: Decoded, recipe: Recipe, threads: Threads): Promise<Render> {
  const size = { width: picture.width, height: picture.height };
  const plan = planRender({
    region: { x: 0, y: 0, ...size, picture: size },
    format: picture.format,
    maxSigma: fullSigma(recipe.blur, size),
    workers: threads.runners.length,
    stripRows: STRIP_ROWS,
  });
  const memory = createMemory(plan.bytes);
  const module = await WebAssembly.compile(await readFile(new URL('./kernels.wasm', import.meta.url)));
  const render = { slot: 'picture', plan, memory, runners: threads.runners };
  await openRender(module, render);
  new Uint8Array(memory.buffer).set(picture.data, plan.source);
  return render;
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
  const threads = startThreads(options.workers);
  const render = await open(picture, recipe, threads);
  const { plan, memory } = render;
  // The decoded copy is in shared memory now.
  picture.data = full.data = Buffer.alloc(0);
  await buildOctaves(render);
  await renderStrips(render, look, 'picture');
  clock.push(performance.now());
  const bytes = plan.region.width * plan.region.height * 3 * plan.format.bytes;
  let data: Buffer = Buffer.from(memory.buffer, plan.output, bytes);
  if (options.quality === 'draft') data = await resized({ ...picture, data }, width, height);
  await encodePicture(options.out, { ...picture, width, height, data });
  clock.push(performance.now());
  if (options.map) {
    await renderStrips(render, look, 'haze16');
    await encodeMap(
      options.map,
      plan.region.width,
      plan.region.height,
      new Uint16Array(memory.buffer, plan.output, plan.region.width * plan.region.height),
    );
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
