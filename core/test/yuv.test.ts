import { describe, expect, it } from 'vitest';
import { chromaAt, rgbOf, yuvOf } from '../reference/yuv';
import {
  type FrameFormat,
  SharedRenderer,
  type YuvFormat,
  frameBytes,
  fromLinear,
  resolveRecipe,
  toLinear,
  wholeView,
} from '../src/index';
import { KernelContext } from '../src/memory';
import { type ScaleTask, scaleRows, scratchBytes } from '../src/pixels/scale';
import { kernelsWith, recipe, testThreads } from './harness';

const FORMATS: YuvFormat[] = (['bt601', 'bt709', 'bt2020'] as const).flatMap((matrix) =>
  (['limited', 'full'] as const).map((range) => ({ matrix, range })),
);
const RGB: FrameFormat = { channels: 3, bytes: 1 };

/** Planes of a frame with soft colours that lie within what RGB can show. */
function frame(width: number, height: number, format: YuvFormat): Uint8Array {
  const bytes = new Uint8Array(frameBytes(format, { width, height }));
  const [cw, ch] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) bytes[y * width + x] = 110 + 50 * Math.sin(x / 5) + 20 * Math.cos(y / 3);
  for (let y = 0; y < ch; y++)
    for (let x = 0; x < cw; x++) {
      bytes[width * height + y * cw + x] = 128 + 22 * Math.sin(x / 4 + y / 6);
      bytes[width * height + cw * ch + y * cw + x] = 128 + 22 * Math.cos(x / 7 - y / 5);
    }
  return bytes;
}

async function render(
  bytes: Uint8Array,
  size: { width: number; height: number },
  input: FrameFormat,
  output: FrameFormat,
  parts: object = {},
  workers = 1,
): Promise<Uint8Array> {
  const look = resolveRecipe(recipe(parts), size);
  const renderer = new SharedRenderer(testThreads(workers));
  await renderer.open(wholeView(size, look, { input, output }));
  renderer.input(0).set(bytes);
  return (await renderer.render({ slot: 0, source: 'one', look, content: 'picture' })).slice();
}

describe('planes of luma and chroma', () => {
  for (const format of FORMATS)
    it(`become red, green and blue as ${format.matrix}, ${format.range}, says`, async () => {
      const size = { width: 39, height: 21 };
      const bytes = frame(size.width, size.height, format);
      const rgb = await render(bytes, size, format, RGB);
      const chroma = [0, 1].map((i) => bytes.subarray(39 * 21 + i * 20 * 11, 39 * 21 + (i + 1) * 20 * 11));
      for (let y = 0; y < size.height; y++)
        for (let x = 0; x < size.width; x++) {
          const [u, v] = chroma.map((plane) => chromaAt(plane, 20, 11, x, y)) as [number, number];
          const wanted = rgbOf(format, bytes[y * 39 + x]!, u, v);
          wanted.forEach((value, c) => {
            const level = 255 * Math.min(1, Math.max(0, value));
            // The dither is one level of noise.
            expect(Math.abs(rgb[(y * 39 + x) * 3 + c]! - level)).toBeLessThanOrEqual(1.52);
          });
        }
    });

  for (const format of FORMATS)
    it(`come back from even colours as ${format.matrix}, ${format.range}, says`, async () => {
      for (const colour of [
        [10, 10, 10],
        [250, 250, 250],
        [180, 60, 90],
        [20, 200, 240],
        [0, 0, 0],
        [255, 255, 255],
      ]) {
        const size = { width: 21, height: 7 };
        const rgb = Uint8Array.from({ length: 21 * 7 * 3 }, (_, i) => colour[i % 3]!);
        const bytes = await render(rgb, size, RGB, format);
        const [y, u, v] = yuvOf(
          format,
          colour.map((c) => fromLinear(toLinear(c / 255))),
        ) as [number, number, number];
        for (let i = 0; i < 21 * 7; i++) expect(Math.abs(bytes[i]! - y)).toBeLessThanOrEqual(1.02);
        for (let i = 0; i < 11 * 4; i++) {
          expect(Math.abs(bytes[21 * 7 + i]! - u)).toBeLessThanOrEqual(0.52);
          expect(Math.abs(bytes[21 * 7 + 44 + i]! - v)).toBeLessThanOrEqual(0.52);
        }
      }
    });

  it('come back with 10 bits, also where a row does not end with a whole vector', async () => {
    for (const range of ['limited', 'full'] as const) {
      const format: YuvFormat = { matrix: 'bt709', range, bits: 10 };
      const size = { width: 523, height: 9 };
      const [cw, ch] = [262, 5];
      // A slope so gentle that 8 bits have no level for most of its pixels.
      const value = (x: number): number => 0.3 + (0.1 * x) / size.width;
      const deep = new Uint16Array(size.width * size.height * 3);
      for (let i = 0; i < size.width * size.height; i++)
        deep.fill(Math.round(65535 * value(i % size.width)), 3 * i, 3 * i + 3);
      const bytes = await render(new Uint8Array(deep.buffer), size, { channels: 3, bytes: 2 }, format);
      expect(bytes.length).toBe(frameBytes(format, size));
      const levels = new Uint16Array(bytes.buffer);
      const [offset, span] = range === 'limited' ? [64, 876] : [0, 1023];
      const apart = [...levels.subarray(0, size.width * size.height)].map(
        (level, i) => level - (offset + span * value(i % size.width)),
      );
      expect(Math.max(...apart.map(Math.abs))).toBeLessThanOrEqual(1.02);
      expect(Math.abs(apart.reduce((sum, one) => sum + one, 0) / apart.length)).toBeLessThan(0.02);
      expect(new Set(levels.subarray(size.width * size.height))).toEqual(new Set([512]));
      expect(levels.length).toBe(size.width * size.height + 2 * cw * ch);
    }
  });

  it('have the same colours with 10 bits as with 8', async () => {
    const size = { width: 39, height: 21 };
    const from: YuvFormat = { matrix: 'bt601', range: 'limited' };
    const bytes = frame(size.width, size.height, from);
    const parts = { focus: { rest: 1 }, blur: { radius: 0.05 } };
    const eight = await render(bytes, size, from, from, parts);
    const ten = new Uint16Array((await render(bytes, size, from, { ...from, bits: 10 }, parts, 2)).buffer);
    for (const [i, level] of eight.entries()) expect(Math.abs(ten[i]! / 4 - level)).toBeLessThanOrEqual(1.27);
  });

  it('stay byte for byte where nothing is done, and where there is no haze', async () => {
    const format: YuvFormat = { matrix: 'bt709', range: 'limited' };
    const size = { width: 1101, height: 67 };
    const bytes = frame(size.width, size.height, format);
    expect(Buffer.compare(await render(bytes, size, format, format, {}, 2), bytes)).toBe(0);
    const band = {
      id: 'b',
      kind: 'planar',
      centre: [0.5, 0.5],
      near: { clear: 0.01, falloff: 0.01 },
      far: { clear: 0.01, falloff: 0.01 },
    };
    const blurred = await render(bytes, size, format, format, {
      focus: { rest: 1, bands: [band] },
      blur: { radius: 0.01 },
    });
    // The band's clear rows are those in the middle: the chroma between them too.
    const row = 33;
    expect(blurred.subarray(row * 1101, (row + 1) * 1101)).toEqual(
      bytes.subarray(row * 1101, (row + 1) * 1101),
    );
    expect(blurred.subarray(0, 1101)).not.toEqual(bytes.subarray(0, 1101));
    const chroma = 1101 * 67 + 16 * 551;
    expect(blurred.subarray(chroma, chroma + 551)).toEqual(bytes.subarray(chroma, chroma + 551));
  });

  it('keep grey without a tint through a blur', async () => {
    const format: YuvFormat = { matrix: 'bt601', range: 'limited' };
    const size = { width: 64, height: 32 };
    const grey = frame(64, 32, format).fill(128, 64 * 32);
    const bytes = await render(grey, size, format, format, { focus: { rest: 1 }, blur: { radius: 0.05 } });
    expect(new Set(bytes.subarray(64 * 32))).toEqual(new Set([128]));
  });

  it('are the same whatever the strips', async () => {
    const format: YuvFormat = { matrix: 'bt709', range: 'full' };
    const size = { width: 133, height: 77 };
    const bytes = frame(133, 77, format);
    const parts = { focus: { rest: 0.4 }, blur: { radius: 0.02 }, colour: { saturation: 0.3 } };
    const one = await render(bytes, size, format, format, parts, 1);
    expect(Buffer.compare(await render(bytes, size, format, format, parts, 3), one)).toBe(0);
  });
});

describe('scaling planes of luma and chroma', () => {
  async function scaled(width: number, height: number): Promise<Uint8Array> {
    const format: YuvFormat = { matrix: 'bt709', range: 'limited' };
    const size = { width: 90, height: 61 };
    const bytes = frame(90, 61, format);
    const source = new SharedArrayBuffer(bytes.length);
    new Uint8Array(source).set(bytes);
    const region = { x: 0, y: 0, width, height, picture: { width, height } };
    const target = new SharedArrayBuffer(width * height * 3);
    const task: ScaleTask = {
      from: format,
      to: { channels: 3, bytes: 1 },
      source,
      sourceSize: size,
      region,
      target,
      offset: 0,
      rows: [0, height],
    };
    const { kernels, memory } = await kernelsWith(scratchBytes(task));
    scaleRows(new KernelContext(kernels, memory), task);
    return new Uint8Array(target);
  }

  it('to the same size gives what rendering gives', async () => {
    const format: YuvFormat = { matrix: 'bt709', range: 'limited' };
    const rendered = await render(frame(90, 61, format), { width: 90, height: 61 }, format, RGB);
    const away = (await scaled(90, 61)).map((value, i) => Math.abs(value - rendered[i]!));
    expect(Math.max(...away)).toBeLessThanOrEqual(1);
  });

  it('to a smaller size keeps the mean', async () => {
    const mean = (data: ArrayLike<number>): number => {
      let sum = 0;
      for (let i = 1; i < data.length; i += 3) sum += toLinear(data[i]! / 255);
      return fromLinear(sum / (data.length / 3)) * 255;
    };
    expect(Math.abs(mean(await scaled(45, 31)) - mean(await scaled(90, 61)))).toBeLessThan(1);
  });
});
