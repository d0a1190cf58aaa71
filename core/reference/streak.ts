// Movement as the recipe's documentation writes it, one pixel at a time, on three planes of linear light.
import type { Recipe } from '../src/index';
import type { Planes } from './blur';

function mirrored(v: number, n: number): number {
  const k = ((v % (2 * n)) + 2 * n) % (2 * n);
  return k < n ? k : 2 * n - k;
}

/** The picture between its pixels at a point in pixels; pixel (i, j) has its centre at (i + 1/2, j + 1/2). */
function at({ width, height, planes }: Planes, c: number, x: number, y: number): number {
  const [u, v] = [mirrored(x, width) - 0.5, mirrored(y, height) - 0.5];
  const [i, j] = [Math.floor(u), Math.floor(v)];
  const one = (a: number, b: number): number =>
    planes[c]![Math.min(height - 1, Math.max(0, b)) * width + Math.min(width - 1, Math.max(0, a))]!;
  const [fx, fy] = [u - i, v - j];
  const above = one(i, j) * (1 - fx) + one(i + 1, j) * fx;
  return above * (1 - fy) + (one(i, j + 1) * (1 - fx) + one(i + 1, j + 1) * fx) * fy;
}

/** Pixel (x, y) whose haze is H: the mean over 400 places of its path. */
export function streakReference(
  picture: Planes,
  blur: Recipe['blur'],
  H: number,
  x: number,
  y: number,
): [number, number, number] {
  const { width: w, height: h } = picture;
  const [px, py] = [x + 0.5, y + 0.5];
  const r = blur.radius * Math.hypot(w, h) * H;
  const sum: [number, number, number] = [0, 0, 0];
  const many = 400;
  for (let i = 0; i < many; i++) {
    const t = (2 * (i + 0.5)) / many - 1;
    let [qx, qy] = [px, py];
    if (blur.kind === 'motion') {
      const a = (blur.motion.angle * Math.PI) / 180;
      [qx, qy] = [px + t * r * Math.cos(a), py + t * r * Math.sin(a)];
    } else {
      const centre = blur.kind === 'spin' ? blur.spin.centre : blur.zoom.centre;
      const [cx, cy] = [centre[0] * w, centre[1] * h];
      const [dx, dy] = [px - cx, py - cy];
      const far = t * 2 * blur.radius * H;
      if (blur.kind === 'zoom') [qx, qy] = [cx + dx * (1 + far), cy + dy * (1 + far)];
      else {
        qx = cx + dx * Math.cos(far) - dy * Math.sin(far);
        qy = cy + dy * Math.cos(far) + dx * Math.sin(far);
      }
    }
    for (let c = 0; c < 3; c++) sum[c]! += at(picture, c, qx, qy) / many;
  }
  return sum;
}
