import { fromLinear, toLinear } from '../../pixels/transfer';
import { interpolateHole } from './membrane';
import { type MendWindow, type Samples, holeOf, whiteOf } from './window';

const TOP = 65535;
const coded = (light: number): number => Math.round(TOP * Math.min(1, Math.max(0, fromLinear(light))));

/**
 * Brings a mend into the transparent places of a picture whose colours, on white, have it already: how much there is of
 * each pixel comes from around a fill, drawn inwards smoothly, or from where a copy comes from.
 * @param share how much of the mend lies on each pixel of the window. @param way of a copy in pixels; null for a fill.
 */
export function mendAlpha(
  samples: Samples,
  window: MendWindow,
  share: Float32Array,
  way: readonly [number, number] | null,
): void {
  const { parts, width, height, channels, data } = samples;
  if (!parts) return;
  const amounts = new Float32Array(window.width * window.height);
  const place = (at: number): [number, number] => [
    window.x + (at % window.width),
    window.y + Math.floor(at / window.width),
  ];
  const amountAt = (x: number, y: number): number => toLinear(parts.alpha[(y * width + x) * 4]! / TOP);
  for (let at = 0; at < amounts.length; at++) amounts[at] = amountAt(...place(at));
  const made = amounts.slice();
  if (way)
    for (let at = 0; at < made.length; at++) {
      const [x, y] = place(at);
      const [fx, fy] = [x + way[0], y + way[1]];
      if (share[at]! > 0 && fx >= 0 && fy >= 0 && fx < width && fy < height) made[at] = amountAt(fx, fy);
    }
  else interpolateHole(made, holeOf(share), window, 1);
  const white = whiteOf(samples);
  for (let at = 0; at < made.length; at++) {
    if (share[at] === 0) continue;
    const [x, y] = place(at);
    const amount = amounts[at]! + (made[at]! - amounts[at]!) * share[at]!;
    const to = (y * width + x) * 4;
    for (let c = 0; c < 3; c++) {
      // On white it is c a + (1 - a), in coded values.
      const seen = data[(y * width + x) * channels + c]! / white;
      const own = amount > 0 ? Math.min(1, Math.max(0, (seen - 1 + amount) / amount)) : 0;
      parts.premultiplied[to + c] = coded(toLinear(own) * amount);
      parts.alpha[to + c] = coded(amount);
    }
  }
}
