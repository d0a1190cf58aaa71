import { toLinear } from '../pixels/transfer';

/** How well a caption would read on a part of a picture. */
export interface CaptionContrast {
  /** How much there is to distract: the root mean square step of lightness from pixel to pixel, of 255. */
  detail: number;
  black: TextReading;
  white: TextReading;
}

/** How text of one colour stands out. */
export interface TextReading {
  /** The least contrast that it has with any pixel, 1..21. */
  least: number;
  /** The share of pixels with which it has 4.5 or more, which is what small text wants. */
  readable: number;
}

/** Contrast that the guidelines ask of text of usual size (WCAG 2.2, success criterion 1.4.3). */
export const MIN_TEXT_CONTRAST = 4.5;

const lightOf = Float64Array.from({ length: 256 }, (_, value) => toLinear(value / 255));

/**
 * Reads a picture for how quiet it is under a caption; contrast is that of the Web Content Accessibility Guidelines 2.2:
 * (lighter + 0.05) / (darker + 0.05) of relative luminance. @param rgba 8 bits a channel, row by row.
 */
export function captionContrast(rgba: ArrayLike<number>, width: number, height: number): CaptionContrast {
  let [steps, counted] = [0, 0];
  let [darkest, lightest] = [1, 0];
  let [onBlack, onWhite] = [0, 0];
  const grey = new Float64Array(width * height);
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!];
    const light = 0.2126 * lightOf[r]! + 0.7152 * lightOf[g]! + 0.0722 * lightOf[b]!;
    darkest = Math.min(darkest, light);
    lightest = Math.max(lightest, light);
    if (contrast(light, 0) >= MIN_TEXT_CONTRAST) onBlack++;
    if (contrast(1, light) >= MIN_TEXT_CONTRAST) onWhite++;
    grey[i] = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (x > 0) steps += (grey[at]! - grey[at - 1]!) ** 2;
      if (y > 0) steps += (grey[at]! - grey[at - width]!) ** 2;
      counted += (x > 0 ? 1 : 0) + (y > 0 ? 1 : 0);
    }
  const all = Math.max(1, width * height);
  return {
    detail: counted > 0 ? Math.sqrt(steps / counted) : 0,
    black: { least: contrast(darkest, 0), readable: onBlack / all },
    white: { least: contrast(1, lightest), readable: onWhite / all },
  };
}

function contrast(lighter: number, darker: number): number {
  return (lighter + 0.05) / (darker + 0.05);
}
