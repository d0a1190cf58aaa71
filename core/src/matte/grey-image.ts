/** A grey picture of floats, row by row. */
export interface GreyImage {
  width: number;
  height: number;
  values: Float32Array;
}

/** Mean over a square of (2 radius + 1)², smaller at the edges; running sums, so the cost does not depend on the radius. */
export function boxMean({ width, height, values }: GreyImage, radius: number): GreyImage {
  const across = new Float32Array(values.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let x = 0; x < Math.min(radius, width); x++) sum += values[row + x]!;
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += values[row + x + radius]!;
      if (x - radius > 0) sum -= values[row + x - radius - 1]!;
      const count = Math.min(width - 1, x + radius) - Math.max(0, x - radius) + 1;
      across[row + x] = sum / count;
    }
  }
  const out = new Float32Array(values.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(radius, height); y++)
    for (let x = 0; x < width; x++) sums[x]! += across[y * width + x]!;
  for (let y = 0; y < height; y++) {
    const count = Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1;
    const coming = y + radius < height ? (y + radius) * width : -1;
    const going = y - radius > 0 ? (y - radius - 1) * width : -1;
    for (let x = 0; x < width; x++) {
      if (coming >= 0) sums[x]! += across[coming + x]!;
      if (going >= 0) sums[x]! -= across[going + x]!;
      out[y * width + x] = sums[x]! / count;
    }
  }
  return { width, height, values: out };
}

/** Another size: bilinear between sample centres, so best for enlarging. */
export function resizeGrey(plane: GreyImage, width: number, height: number): GreyImage {
  if (plane.width === width && plane.height === height) return plane;
  const values = new Float32Array(width * height);
  const place = (i: number, n: number, from: number): [number, number, number] => {
    const at = Math.min(from - 1, Math.max(0, ((i + 0.5) * from) / n - 0.5));
    const low = Math.floor(at);
    return [low, Math.min(low + 1, from - 1), at - low];
  };
  const columns = Array.from({ length: width }, (_, x) => place(x, width, plane.width));
  for (let y = 0; y < height; y++) {
    const [y0, y1, ty] = place(y, height, plane.height);
    const [top, bottom] = [y0 * plane.width, y1 * plane.width];
    for (let x = 0; x < width; x++) {
      const [x0, x1, tx] = columns[x]!;
      const a = plane.values[top + x0]! * (1 - tx) + plane.values[top + x1]! * tx;
      const b = plane.values[bottom + x0]! * (1 - tx) + plane.values[bottom + x1]! * tx;
      values[y * width + x] = a + (b - a) * ty;
    }
  }
  return { width, height, values };
}
