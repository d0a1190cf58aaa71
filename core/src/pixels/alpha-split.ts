import { fromLinear, toLinear } from './transfer';

const TOP = 65535;

/** A picture with transparent places as two opaque ones, which may be scaled and blurred like any other. */
export interface AlphaSplit<T> {
  /** Light times how much of it there is: premultiplied, in linear light. */
  premultiplied: T;
  /** How much there is of each pixel, as linear light of a grey. */
  alpha: T;
}

/** Splits straight RGBA samples; null where all is opaque. @param top the samples' largest value. */
export function splitAlpha(rgba: ArrayLike<number>, top: 255 | 65535): AlphaSplit<Uint16Array> | null {
  const count = rgba.length / 4;
  let isOpaque = true;
  for (let i = 3; i < rgba.length && isOpaque; i += 4) isOpaque = rgba[i] === top;
  if (isOpaque) return null;
  const linear = Float64Array.from({ length: top + 1 }, (_, v) => toLinear(v / top));
  const premultiplied = new Uint16Array(rgba.length);
  const alpha = new Uint16Array(rgba.length);
  for (let i = 0; i < count * 4; i += 4) {
    const share = rgba[i + 3]! / top;
    const grey = coded(share);
    for (let c = 0; c < 3; c++) {
      premultiplied[i + c] = share === 1 ? (rgba[i + c]! * TOP) / top : coded(linear[rgba[i + c]!]! * share);
      alpha[i + c] = grey;
    }
    premultiplied[i + 3] = alpha[i + 3] = TOP;
  }
  return { premultiplied, alpha };
}

const coded = (light: number): number => Math.round(Math.min(1, fromLinear(light)) * TOP);
