// Slow and obvious versions that the kernels are held against. Pictures are three planes of linear light.

export interface Planes {
  width: number;
  height: number;
  planes: [Float64Array, Float64Array, Float64Array];
}

function mirrored(i: number, n: number): number {
  const k = ((i % (2 * n)) + 2 * n) % (2 * n);
  return k < n ? k : 2 * n - 1 - k;
}

/**
 * The Gaussian-weighted mean round pixel (x, y), out to four standard deviations, edges mirrored.
 * @param spread how far the light of a pixel spreads.
 */
export function gatherGaussian(
  picture: Planes,
  x: number,
  y: number,
  sigma: number,
  spread: (x: number, y: number) => number = () => 1,
): [number, number, number] {
  const reach = Math.ceil(4 * sigma);
  const weight = Array.from({ length: 2 * reach + 1 }, (_, i) =>
    sigma > 0 ? Math.exp(-((i - reach) ** 2) / (2 * sigma ** 2)) : 1,
  );
  let total = 0;
  const sum: [number, number, number] = [0, 0, 0];
  for (let dy = -reach; dy <= reach; dy++) {
    const qy = mirrored(y + dy, picture.height);
    for (let dx = -reach; dx <= reach; dx++) {
      const qx = mirrored(x + dx, picture.width);
      const w = weight[dy + reach]! * weight[dx + reach]! * spread(qx, qy);
      const at = qy * picture.width + qx;
      total += w;
      for (let c = 0; c < 3; c++) sum[c]! += w * picture.planes[c]![at]!;
    }
  }
  return [sum[0] / total, sum[1] / total, sum[2] / total];
}
