import { toLinear } from '@hazy-lens/core';

/** The mean linear light of the pixels within `reach` of one, each way. */
export function meanLight(
  { data, width, height }: Pick<ImageData, 'data' | 'width' | 'height'>,
  x: number,
  y: number,
  reach: number,
): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0];
  let count = 0;
  for (let py = Math.max(0, y - reach); py <= Math.min(height - 1, y + reach); py++)
    for (let px = Math.max(0, x - reach); px <= Math.min(width - 1, x + reach); px++) {
      const i = (py * width + px) * 4;
      for (const k of [0, 1, 2] as const) sum[k] += toLinear(data[i + k]! / 255);
      count++;
    }
  return [sum[0] / count, sum[1] / count, sum[2] / count];
}
