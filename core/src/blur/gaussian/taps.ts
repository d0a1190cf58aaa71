/**
 * A Gaussian sampled at whole or half places, normalised, its discrete variance made exactly `variance` (pixels
 * squared) in spite of sampling and truncation. Symmetric: entry r is the tap at distance r (or r + 1/2).
 */
export function gaussianTaps(variance: number, count: number, half: boolean): Float32Array {
  const distance = (r: number): number => (half ? r + 0.5 : r);
  const weigh = (v: number): number[] => {
    const raw = Array.from({ length: count }, (_, r) => Math.exp(-(distance(r) ** 2) / (2 * v)));
    const sum = raw.reduce((total, w, r) => total + (half || r > 0 ? 2 * w : w), 0);
    return raw.map((w) => w / sum);
  };
  const spread = (taps: number[]): number =>
    taps.reduce((total, w, r) => total + 2 * w * distance(r) ** 2, 0);
  let [low, high] = [variance * 0.3, variance * 3];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (spread(weigh(middle)) < variance) low = middle;
    else high = middle;
  }
  return Float32Array.from(weigh((low + high) / 2));
}
