import { type AlphaSplit, splitAlpha } from '@hazy-lens/core';

/** Straight RGBA with its transparent places on white, as pictures are that keep none. */
export function flattenOnWhite(pixels: SharedArrayBuffer): void {
  const rgba = new Uint8Array(pixels);
  for (let i = 3; i < rgba.length; i += 4) {
    const share = rgba[i]! / 255;
    if (share === 1) continue;
    for (let c = i - 3; c < i; c++) rgba[c] = Math.round(rgba[c]! * share + 255 * (1 - share));
    rgba[i] = 255;
  }
}

/** Straight RGBA as its parts; null where all of it is opaque. */
export function partsOf(pixels: SharedArrayBuffer): AlphaSplit<SharedArrayBuffer> | null {
  const parts = splitAlpha(new Uint8Array(pixels), 255);
  return parts && { premultiplied: shared(parts.premultiplied), alpha: shared(parts.alpha) };
}

function shared(samples: Uint16Array): SharedArrayBuffer {
  const bytes = new SharedArrayBuffer(samples.byteLength);
  new Uint16Array(bytes).set(samples);
  return bytes;
}
