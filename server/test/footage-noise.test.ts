import { evenTimes, parseRecipe } from '@hazy-lens/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FootageRenderer, RGB } from '../src/footage/footage-renderer';
import type { FrameSource } from '../src/footage/frame';
import { type WorkerThreads, startThreads } from '../src/render/threads';

const SIZE = { width: 128, height: 96 };
const FRAMES = 44;
const FPS = 20;
/** Levels that the grey of each frame varies by: much more in every other half second. */
const noiseOf = (index: number): number => (Math.floor(index / 10) % 2 ? 12 : 3);

/** Numbers of mean 0 and deviation 1, near enough to a bell curve. */
function white(count: number, seed: number): Float64Array {
  let state = seed + 1;
  const next = (): number => (state = Math.imul(state ^ (state >>> 15), 2246822519) + 3266489917) >>> 0;
  return Float64Array.from({ length: count }, () => {
    let sum = 0;
    for (let k = 0; k < 12; k++) sum += next() / 2 ** 32;
    return sum - 6;
  });
}

const data = Array.from({ length: FRAMES }, (_, index) => {
  const noise = white(SIZE.width * SIZE.height * 3, index * 7919);
  return Buffer.from(Uint8Array.from(noise, (v) => Math.round(128 + noiseOf(index) * v)));
});
const footage: FrameSource = {
  ...SIZE,
  format: RGB,
  times: evenTimes(FRAMES, FPS),
  at: async (index) => ({ ...SIZE, format: RGB, data: data[index]! }),
  close: async () => undefined,
};

describe('matched grain of footage', () => {
  let threads: WorkerThreads;
  beforeAll(async () => {
    threads = await startThreads(2, new URL('../dist/', import.meta.url));
  });
  afterAll(() => threads.close());

  const recipe = parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { rest: 1 },
    blur: { radius: 0.05 },
    finish: { grain: { match: 1 } },
  });
  async function rendered(from: number, to: number): Promise<Buffer[]> {
    const wish = { format: RGB, size: { by: 'full' }, isEven: false } as const;
    const renderer = await FootageRenderer.open(footage, recipe, 'none.json', threads, wish);
    const made: Buffer[] = [];
    for await (const { data: bytes } of renderer.frames(from, to)) made.push(Buffer.from(bytes));
    await renderer.close();
    return made;
  }
  const deviation = (bytes: Buffer): number => {
    const mean = bytes.reduce((sum, v) => sum + v, 0) / bytes.length;
    return Math.sqrt(bytes.reduce((sum, v) => sum + (v - mean) ** 2, 0) / bytes.length);
  };

  it('changes smoothly where the noise of the frames jumps, and is the same part by part', async () => {
    const whole = await rendered(0, FRAMES - 1);
    const seen = whole.map(deviation);
    const steps = seen.slice(1).map((v, i) => Math.max(v / seen[i]!, seen[i]! / v));
    // From one frame to the next the noise of the source itself is four times as strong.
    expect(Math.max(...steps)).toBeLessThan(1.45);
    expect(Math.min(...seen)).toBeLessThan(4);
    expect(Math.max(...seen)).toBeGreaterThan(10);
    const part = await rendered(23, 31);
    part.forEach((bytes, i) => expect(Buffer.compare(bytes, whole[23 + i]!), `frame ${23 + i}`).toBe(0));
  });
});
