import type { Size } from '../geometry/size';
import { fromLinear, toLinear } from '../pixels/transfer';
import type { Look } from './look';
import { type RenderOptions, SharedRenderer, type Threads, wholeView } from './renderer';

const TOP = 65535;

/** A picture with transparent places as two opaque ones, which may be scaled and blurred like any other. */
export interface Parts<T> {
  /** Light times how much of it there is: premultiplied, in linear light. */
  lit: T;
  /** How much there is of each pixel, as linear light of a grey. */
  cover: T;
}

/** Splits straight RGBA samples; null where all is opaque. @param top the samples' largest value. */
export function splitTransparent(rgba: ArrayLike<number>, top: 255 | 65535): Parts<Uint16Array> | null {
  const count = rgba.length / 4;
  let isOpaque = true;
  for (let i = 3; i < rgba.length && isOpaque; i += 4) isOpaque = rgba[i] === top;
  if (isOpaque) return null;
  const linear = Float64Array.from({ length: top + 1 }, (_, v) => toLinear(v / top));
  const lit = new Uint16Array(rgba.length);
  const cover = new Uint16Array(rgba.length);
  for (let i = 0; i < count * 4; i += 4) {
    const share = rgba[i + 3]! / top;
    const grey = coded(share);
    for (let c = 0; c < 3; c++) {
      lit[i + c] = share === 1 ? (rgba[i + c]! * TOP) / top : coded(linear[rgba[i + c]!]! * share);
      cover[i + c] = grey;
    }
    lit[i + 3] = cover[i + 3] = TOP;
  }
  return { lit, cover };
}

const coded = (light: number): number => Math.round(Math.min(1, fromLinear(light)) * TOP);

/**
 * Renders a picture with transparent places: its light and how much there is of it are blurred alike, and colour and
 * finish change the light alone, as they do that of an opaque picture.
 * @param fill puts a part at the size of the render into memory.
 * @returns straight RGBA, 8 or 16 bits a sample. @throws the signal's reason.
 */
export async function renderTransparent(
  threads: Threads,
  size: Size,
  look: Look,
  { bytes, scale = 1, ...options }: { bytes: 1 | 2; scale?: number } & RenderOptions,
  fill: (part: keyof Parts<unknown>, target: Uint8Array) => void | Promise<void>,
): Promise<Uint8Array> {
  const renderer = new SharedRenderer(threads);
  try {
    const output = { covered: bytes === 1 ? 'straight' : 'straight16' } as const;
    await renderer.open(wholeView(size, look, { input: { covered: 'parts' }, output }, scale));
    const both = renderer.input(0);
    await fill('lit', both.subarray(0, both.length / 2));
    await fill('cover', both.subarray(both.length / 2));
    return (await renderer.render({ slot: 0, source: 'parts', look, content: 'picture' }, options)).slice();
  } finally {
    await renderer.close();
  }
}
