import type { Size } from '../focus/geometry';
import type { PixelFormat } from '../pixels/format';
import { POINT_STEPS } from '../colour';
import { FINISH_STEPS } from '../finish';
import { fromLinear, toLinear } from '../pixels/transfer';
import type { Look } from './look';
import { SourceMeasures, wantsMeasures } from './measured';
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
function divided({ lit, cover }: Parts<Uint16Array>): Uint16Array<ArrayBuffer> {
  const straight = new Uint16Array(lit.length);
  for (let i = 0; i < lit.length; i++) {
    const share = cover[i]!;
    if (i % 4 === 3 || share === TOP) straight[i] = lit[i]!;
    else if (share > 0) straight[i] = coded(toLinear(lit[i]! / TOP) / toLinear(share / TOP));
  }
  return straight;
}

/** How many times brighter than white a look may make light before the steps after the blur: a power of two. */
function headroomOf({ blur }: Look): number {
  return blur.on && blur.kind === 'lens' ? 2 ** Math.ceil(blur.lens.highlights.stops) : 1;
}

/** True where a look changes nothing but by its blur. */
function onlyBlurs(look: Look): boolean {
  return [...POINT_STEPS, ...FINISH_STEPS].every((step) => step.key(look) === '');
}

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
  const headroom = headroomOf(look);
  const off = { colour: { ...look.colour, on: false }, finish: { ...look.finish, on: false } };
  const lens = { ...look.blur.lens, highlights: { ...look.blur.lens.highlights, stops: 0 } };
  const looks = {
    // What is brighter than white must still be so when the colours come.
    lit: { ...look, ...off, light: 1 / headroom },
    // Brighter lamps are not more of a picture.
    cover: { ...look, ...off, light: 1, blur: { ...look.blur, lens } },
  };
  const renderer = new SharedRenderer(threads);
  const samples = (bytes: Uint8Array): Uint16Array<ArrayBuffer> => new Uint16Array(bytes.slice().buffer);
  const part = async (which: keyof Parts<unknown>): Promise<Uint16Array> => {
    const job = { slot: 0, source: which, look: looks[which], content: 'picture' } as const;
    return samples(await renderer.render(job, options));
  };
  try {
    const formats = { input: PART_FORMAT, output: PART_FORMAT };
    await renderer.open(wholeView(size, looks.lit, formats, scale));
    const job = { slot: 0, source: 'colours', look, isBlurred: true } as const;
    const isKept = onlyBlurs(look);
    const haze = isKept ? samples(await renderer.render({ ...job, content: 'haze16' }, options)) : null;
    await fill('lit', renderer.input(0));
    const needsSource = look.measured === null && wantsMeasures(look);
    const isExact = headroom === 1 || !isKept;
    const came = needsSource || !isExact ? samples(renderer.input(0)) : null;
    const lit = await part('lit');
    await fill('cover', renderer.input(0));
    const source = came && divided({ lit: came, cover: samples(renderer.input(0)) });
    const cover = await part('cover');
    const straight = divided({ lit, cover });
    const output: PixelFormat = { channels: 4, bytes };
    const view = wholeView(size, look, { input: PART_FORMAT, output }, scale);
    await renderer.open({ ...view, blur: 'gaussian', most: 0 });
    renderer.input(0).set(new Uint8Array(straight.buffer));
    const measured =
      needsSource && source
        ? { source: new SourceMeasures('source', new Uint8Array(source.buffer), PART_FORMAT, size) }
        : look.measured;
    const clear: Look = { ...look, light: look.light * headroom, measured };
    const made = (await renderer.render({ ...job, look: clear, content: 'picture' }, options)).slice();
    const out = bytes === 1 ? made : new Uint16Array(made.buffer);
    const top = bytes === 1 ? 255 : TOP;
    for (let i = 3; i < out.length; i += 4) {
      out[i] = Math.round(toLinear(cover[i - 1]! / TOP) * top);
      // What is clear is as it came.
      if (haze?.[i >> 2] === 0)
        for (let c = i - 3; c < i; c++) out[c] = Math.round(((isExact ? straight : source!)[c]! * top) / TOP);
    }
    return made;
  } finally {
    await renderer.close();
  }
}
