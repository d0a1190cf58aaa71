import type { Size } from '../focus/geometry';
import type { PixelFormat } from '../pixels/format';
import { fromLinear, toLinear } from '../pixels/transfer';
import type { Look } from './look';
import { type RenderOptions, SharedRenderer, type Threads, wholeView } from './renderer';

/** Interleaved samples of 16 bits, the fourth opaque: what both parts of a transparent picture are. */
export const PART_FORMAT: PixelFormat = { channels: 4, bytes: 2 };
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

/** Light that is no longer multiplied, opaque. */
function divided({ lit, cover }: Parts<Uint16Array>): Uint16Array {
  return lit.map((value, i) => {
    if (i % 4 === 3 || cover[i] === TOP) return value;
    return cover[i] === 0 ? 0 : coded(toLinear(value / TOP) / toLinear(cover[i]! / TOP));
  });
}

/**
 * Renders a picture with transparent places: its light and how much there is of it are blurred alike, and colour and
 * finish change the light alone.
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
  const off = { colour: { ...look.colour, on: false }, finish: { ...look.finish, on: false } };
  const lens = { ...look.blur.lens, highlights: { ...look.blur.lens.highlights, stops: 0 } };
  const looks = {
    lit: { ...look, ...off, light: 1 },
    // Brighter lamps are not more of a picture.
    cover: { ...look, ...off, light: 1, blur: { ...look.blur, lens } },
  };
  const renderer = new SharedRenderer(threads);
  const part = async (which: keyof Parts<unknown>): Promise<Uint16Array> => {
    await fill(which, renderer.input(0));
    const job = { slot: 0, source: which, look: looks[which], content: 'picture' } as const;
    return new Uint16Array((await renderer.render(job, options)).slice().buffer);
  };
  try {
    const formats = { input: PART_FORMAT, output: PART_FORMAT };
    await renderer.open(wholeView(size, looks.lit, formats, scale));
    const [lit, cover] = [await part('lit'), await part('cover')];
    const clear = { ...look, blur: { ...look.blur, on: false } };
    await renderer.open(wholeView(size, clear, formats, scale));
    renderer.input(0).set(new Uint8Array(divided({ lit, cover }).buffer));
    const job = { slot: 0, source: 'colours', look: clear, content: 'picture' } as const;
    const deep = new Uint16Array((await renderer.render(job, options)).slice().buffer);
    const top = bytes === 1 ? 255 : TOP;
    const samples = bytes === 1 ? new Uint8Array(deep.length) : deep;
    for (let i = 0; i < deep.length; i++)
      samples[i] = Math.round(i % 4 === 3 ? toLinear(cover[i - 1]! / TOP) * top : (deep[i]! * top) / TOP);
    return new Uint8Array(samples.buffer);
  } finally {
    await renderer.close();
  }
}
