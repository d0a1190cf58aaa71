import { fromLinear, toLinear } from './transfer';

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
