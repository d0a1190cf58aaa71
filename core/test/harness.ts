import { readFileSync } from 'node:fs';
import {
  type FocusPictures,
  type PixelFormat,
  type Recipe,
  type Region,
  RenderWorker,
  type StripContent,
  buildOctaves,
  createMemory,
  fullSigma,
  instantiateKernels,
  openRender,
  parseRecipe,
  planRender,
  recipeLook,
  renderStrips,
} from '../src/index';

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
  content?: StripContent;
  workers?: number;
  stripRows?: number;
  region?: Region;
  pictures?: FocusPictures;
}

/** Renders in this thread, as the application does in its workers. */
export async function renderPicture(
  picture: Picture,
  how: Recipe,
  options: Options = {},
): Promise<Uint8Array | Uint16Array> {
  const { width, height } = picture;
  const region = options.region ?? { x: 0, y: 0, width, height, picture: { width, height } };
  const format: PixelFormat = {
    channels: picture.channels,
    bytes: picture.data instanceof Uint16Array ? 2 : 1,
  };
  const workers = options.workers ?? 1;
  const plan = planRender({
    region,
    format,
    maxSigma: fullSigma(how.blur, region.picture),
    workers,
    stripRows: options.stripRows ?? 32,
  });
  const memory = createMemory(plan.bytes);
  const runners = Array.from({ length: workers }, () => {
    const worker = new RenderWorker();
    return worker.run.bind(worker);
  });
  const render = { slot: 'test', plan, memory, runners };
  await openRender(kernelModule, render);
  const Samples = format.bytes === 2 ? Uint16Array : Uint8Array;
  new Samples(memory.buffer, plan.source, picture.data.length).set(picture.data);
  await buildOctaves(render);
  await renderStrips(render, recipeLook(how, options.pictures), options.content ?? 'picture');
  return new Samples(memory.buffer, plan.output, picture.data.length).slice();
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
