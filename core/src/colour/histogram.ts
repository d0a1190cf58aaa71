/** Bins of a tone histogram: each is two of the 256 levels of sRGB. */
export const TONE_BINS = 128;
const BIN_SHIFT = 1;

/** How tones are spread over a picture. */
export interface ToneHistogram {
  /** Share of the pixels in each bin, from black to white; together 1. */
  shares: Float32Array;
  /** The same of each channel by itself: red, green, blue. */
  channels: readonly [Float32Array, Float32Array, Float32Array];
  /** Share of the pixels with a channel that is clipped at black, and at white. */
  black: number;
  white: number;
}

/**
 * The tone histogram of RGBA pixels in sRGB, 8 bits a channel. A pixel's tone is its luma (Rec. 709 weights on the
 * coded channels, ITU-R BT.709-6 item 3.2).
 */
export function toneHistogram(pixels: ArrayLike<number>): ToneHistogram {
  const [counts, ...byChannel] = Array.from({ length: 4 }, () => new Uint32Array(TONE_BINS)) as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  const many = Math.floor(pixels.length / 4);
  let [black, white] = [0, 0];
  for (let i = 0; i < many * 4; i += 4) {
    const [r, g, b] = [pixels[i]!, pixels[i + 1]!, pixels[i + 2]!];
    const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    counts[Math.min(TONE_BINS - 1, (luma * TONE_BINS) >> 8)]!++;
    byChannel[0][r >> BIN_SHIFT]!++;
    byChannel[1][g >> BIN_SHIFT]!++;
    byChannel[2][b >> BIN_SHIFT]!++;
    if (r === 0 || g === 0 || b === 0) black++;
    if (r === 255 || g === 255 || b === 255) white++;
  }
  const share = many > 0 ? 1 / many : 0;
  const sharesOf = (of: Uint32Array): Float32Array => Float32Array.from(of, (count) => count * share);
  return {
    shares: sharesOf(counts),
    channels: [sharesOf(byChannel[0]), sharesOf(byChannel[1]), sharesOf(byChannel[2])],
    black: black * share,
    white: white * share,
  };
}
