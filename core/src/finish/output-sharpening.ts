import type { Size } from '../geometry/size';
import type { PixelFormat } from '../pixels/format';

/** Haze from which nothing is sharpened: what is meant to be soft stays so. */
const SOFT_HAZE = 0.25;
/** Share of the largest value that a pixel changes by at most, so that edges get no halo that is seen. */
const MAX_CHANGE = 0.12;
/** Luma of coded values (ITU-R BT.709, 3.2). */
const [R, G, B] = [0.2126, 0.7152, 0.0722] as const;

/**
 * How much of the sharpening a scale gets: reducing softens, so that a picture at full size gets half of it, one of half
 * the size and less all.
 */
export const sharpeningAt = (amount: number, scale: number): number =>
  amount * (0.5 + 0.5 * Math.min(1, Math.max(0, -Math.log2(scale))));

/**
 * Sharpens a finished picture for output, in place: each pixel gains the difference of its luma to that around it
 * (weights 1 2 1 each way), less where there is haze. Transparent places and their rims stay as they are.
 * @param samples 8 or 16 bits, interleaved by `channels`; the fourth is coverage. @param haze of each pixel, 65535 is 1.
 * @param amount 0..1: at 1 a pixel gains one and a half times that difference.
 */
export function sharpenForOutput(
  samples: Uint8Array | Uint16Array,
  { channels, bytes }: PixelFormat,
  { width, height }: Size,
  haze: Uint16Array,
  amount: number,
): void {
  const top = bytes === 2 ? 65535 : 255;
  const most = MAX_CHANGE * top;
  const gain = 1.5 * amount;
  // Rows are overwritten: the luma of three of them is kept, with a repeated sample on either side.
  const rows = [0, 1, 2].map(() => new Float32Array(width + 2));
  const isOpaque = [0, 1, 2].map(() => new Uint8Array(width + 2));
  const read = (y: number): void => {
    const row = rows[y % 3]!;
    const opaque = isOpaque[y % 3]!;
    for (let x = 0, at = y * width * channels; x < width; x++, at += channels) {
      row[x + 1] = R * samples[at]! + G * samples[at + 1]! + B * samples[at + 2]!;
      opaque[x + 1] = channels < 4 || samples[at + 3] === top ? 1 : 0;
    }
    [row[0], row[width + 1]] = [row[1]!, row[width]!];
    [opaque[0], opaque[width + 1]] = [opaque[1]!, opaque[width]!];
  };
  read(0);
  for (let y = 0; y < height; y++) {
    if (y + 1 < height) read(y + 1);
    const [above, here, below] = [Math.max(0, y - 1), y, Math.min(height - 1, y + 1)].map((r) => r % 3) as [
      number,
      number,
      number,
    ];
    const [a, b, c] = [rows[above]!, rows[here]!, rows[below]!];
    const [oa, ob, oc] = [isOpaque[above]!, isOpaque[here]!, isOpaque[below]!];
    for (let x = 0; x < width; x++) {
      const weight = 1 - haze[y * width + x]! / (65535 * SOFT_HAZE);
      if (weight <= 0) continue;
      if (!(oa[x]! & oa[x + 1]! & oa[x + 2]! & ob[x]! & ob[x + 1]! & ob[x + 2]!)) continue;
      if (!(oc[x]! & oc[x + 1]! & oc[x + 2]!)) continue;
      const around =
        a[x]! +
        2 * a[x + 1]! +
        a[x + 2]! +
        2 * (b[x]! + 2 * b[x + 1]! + b[x + 2]!) +
        c[x]! +
        2 * c[x + 1]! +
        c[x + 2]!;
      const difference = gain * weight * (b[x + 1]! - around / 16);
      const change = Math.max(-most, Math.min(most, difference));
      for (let k = 0, at = (y * width + x) * channels; k < 3; k++, at++)
        samples[at] = Math.max(0, Math.min(top, Math.round(samples[at]! + change)));
    }
  }
}
