import { readFileSync } from 'node:fs';
import type { Planes } from '../reference/blur';
import {
  type RecipeAssets,
  type Content,
  type RenderSettings,
  type PixelFormat,
  type Recipe,
  type Region,
  RenderWorker,
  SharedRenderer,
  type Threads,
  type View,
  blurOf,
  parseRecipe,
  resolveRecipe,
  toLinear,
  wholeView,
} from '../src/index';
import { createMemory } from '../src/memory';
import { instantiateKernels } from '../src/kernels';

export const kernelModule = new WebAssembly.Module(
  readFileSync(new URL('../dist/kernels.wasm', import.meta.url)),
);

export async function kernelsWith(bytes: number) {
  const memory = createMemory(bytes);
  return { memory, kernels: await instantiateKernels(kernelModule, memory) };
}

export const recipe = (parts: object): Recipe =>
  parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });

export interface Picture {
  width: number;
  height: number;
  data: Uint8Array | Uint16Array;
  channels: 3 | 4;
}

interface Options {
  content?: Content;
  workers?: number;
  module?: WebAssembly.Module;
  stripRows?: number;
  region?: Region;
  pictures?: Partial<RecipeAssets>;
  output?: PixelFormat;
  /** In place of the one that the recipe has on the whole picture. */
  look?: RenderSettings;
}

/** Threads that run in this one, as the application's workers do in theirs. */
export function testThreads(workers: number, module = kernelModule): Threads {
  const runners = Array.from({ length: workers }, () => {
    const worker = new RenderWorker();
    return worker.run.bind(worker);
  });
  return { runners, module };
}

export const formatOf = ({ channels, data }: Picture): PixelFormat => ({
  channels,
  bytes: data instanceof Uint16Array ? 2 : 1,
});

/** The view of a test's picture. */
export function viewOf(picture: Picture, how: Recipe, options: Options = {}): View {
  const { width, height } = picture;
  const formats = { input: formatOf(picture), output: options.output ?? formatOf(picture) };
  const view = { ...wholeView({ width, height }, how, formats), stripRows: options.stripRows ?? 32 };
  if (!options.region) return view;
  const { region } = options;
  return { ...view, region, most: blurOf(how.blur).strength(how.blur, region.picture) };
}

/** The bytes of samples. */
export const bytesOf = ({ buffer, byteOffset, byteLength }: Uint8Array | Uint16Array): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);

/** Renders in this thread. */
export async function renderPicture(
  picture: Picture,
  how: Recipe,
  options: Options = {},
): Promise<Uint8Array | Uint16Array> {
  const view = viewOf(picture, how, options);
  const renderer = new SharedRenderer(testThreads(options.workers ?? 1, options.module));
  await renderer.open(view);
  renderer.input(0).set(bytesOf(picture.data));
  const content = options.content ?? 'picture';
  const look = options.look ?? resolveRecipe(how, picture, options.pictures);
  const bytes = (await renderer.render({ slot: 0, source: 'test', look, content })).slice();
  const { output } = view;
  const isDeep = content === 'haze16' || (content === 'picture' && 'bytes' in output && output.bytes === 2);
  return isDeep ? new Uint16Array(bytes.buffer) : bytes;
}

/** A picture of soft shapes and hard detail, the same every time. */
export function testPicture(width: number, height: number, channels: 3 | 4 = 3): Picture {
  const data = new Uint8Array(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * channels;
      const grain = ((Math.imul(x * 7919 + y * 104729, 2654435761) >>> 16) & 63) - 32;
      data[at] = Math.max(0, Math.min(255, 128 + 100 * Math.sin(x / 9) + grain));
      data[at + 1] = Math.max(0, Math.min(255, 120 + 90 * Math.sin(y / 7 + x / 31) + grain));
      data[at + 2] = (x >> 4) % 2 === (y >> 4) % 2 ? 220 : 40;
      if (channels === 4) data[at + 3] = 255;
    }
  return { width, height, data, channels };
}

/** Peak signal-to-noise ratio of two 8-bit rows of samples, in dB. */
export function psnr(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i]! - b[i]!) ** 2;
  return 10 * Math.log10((255 * 255 * a.length) / sum);
}

/** A picture's linear light, for the slow versions. */
export function linearPlanes(picture: Picture): Planes {
  const { width, height, channels, data } = picture;
  const plane = (c: number): Float64Array =>
    Float64Array.from({ length: width * height }, (_, i) => toLinear(data[i * channels + c]! / 255));
  return { width, height, planes: [plane(0), plane(1), plane(2)] };
}
