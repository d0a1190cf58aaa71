// Blur by an aperture as the recipe's documentation writes it, one pixel at a time, on three planes of linear light.
import type { Lens } from '../src/index';
import type { Planes } from './blur';
import { coded } from './srgb';

function mirrored(i: number, n: number): number {
  const k = ((i % (2 * n)) + 2 * n) % (2 * n);
  return k < n ? k : 2 * n - 1 - k;
}

/** Distance of the outline of a disc of radius 1 in the direction of (dx, dy). */
function outline({ blades, roundness, rotation, squeeze }: Lens, dx: number, dy: number): number {
  if (dx === 0 && dy === 0) return 1;
  const a = (rotation * Math.PI) / 180;
  const x = (dx * Math.cos(a) + dy * Math.sin(a)) / Math.sqrt(squeeze);
  const y = (-dx * Math.sin(a) + dy * Math.cos(a)) * Math.sqrt(squeeze);
  let polygon = 1;
  if (blades > 0) {
    const [turn, part] = [2 * Math.PI, (2 * Math.PI) / blades];
    const theta = (Math.atan2(y, x) + turn) % turn;
    const sharp = Math.cos(Math.PI / blades) / Math.cos((theta % part) - Math.PI / blades);
    polygon = (1 - roundness) * sharp + roundness;
  }
  return polygon * (Math.hypot(dx, dy) / Math.hypot(x, y));
}

const clamp = (v: number): number => Math.min(1, Math.max(0, v));

/** A(d; r). */
export function aperture(lens: Lens, dx: number, dy: number, r: number): number {
  const far = outline(lens, dx, dy);
  const distance = Math.hypot(dx, dy);
  const inside = clamp(r * far - distance + 0.5);
  const u = Math.min(1, r > 0 ? distance / (far * r) : 0);
  return inside * (1 + lens.rim * clamp(r - 0.5) * (2 * u * u - 1));
}

/** How much of the place (dx, dy) of a disc of radius r a second circle of that radius leaves, shifted by (sx, sy) radii. */
function cut(dx: number, dy: number, r: number, sx: number, sy: number): number {
  return clamp(r + 0.5 - Math.hypot(dx - sx * r, dy - sy * r));
}

/** A picture whose clipped spots have one colour each, as far as `tint` says; found by flooding. */
export function tintedLamps(picture: Planes, { highlights }: Lens): Planes {
  const { width, height, planes } = picture;
  const { tint } = highlights;
  const threshold = Math.min(highlights.threshold, 0.999);
  const d = Math.hypot(width, height);
  const out = planes.map((plane) => plane.slice()) as Planes['planes'];
  const rim = Math.max(2, Math.ceil(d * 0.0006));
  const most = (i: number): number => Math.max(...planes.map((plane) => plane[i]!));
  const share = (value: number): number => {
    const x = clamp((value - threshold) / (1 - threshold));
    return x * x * (3 - 2 * x);
  };
  const seen = new Set<number>();
  for (let start = 0; start < width * height; start++) {
    if (seen.has(start) || coded(most(start)) < threshold) continue;
    const spot = [start];
    seen.add(start);
    const sums = [0, 0, 0];
    for (let k = 0; k < spot.length; k++) {
      const [x, y] = [spot[k]! % width, Math.floor(spot[k]! / width)];
      for (let v = Math.max(0, y - rim); v <= Math.min(height - 1, y + rim); v++)
        for (let u = Math.max(0, x - rim); u <= Math.min(width - 1, x + rim); u++) {
          const at = v * width + u;
          const own = coded(most(at));
          for (let c = 0; c < 3; c++) sums[c]! += (1 - share(own)) * most(at) ** 2 * planes[c]![at]!;
          if (own < threshold || Math.abs(u - x) > 1 || Math.abs(v - y) > 1 || seen.has(at)) continue;
          seen.add(at);
          spot.push(at);
        }
    }
    const strongest = Math.max(...sums);
    if (strongest === 0 || spot.length > 0.002 * d * d) continue;
    for (const at of spot) {
      for (let c = 0; c < 3; c++) {
        const due = (sums[c]! / strongest) * most(at);
        out[c]![at] = planes[c]![at]! + tint * share(coded(most(at))) * (due - planes[c]![at]!);
      }
    }
  }
  return { width, height, planes: out };
}

/**
 * The pixel (x, y) of a picture whose pixels have discs of the radii that `radius` gives, none larger than `most`.
 * @param nearness says, where a depth map is in force, how near a pixel is: more is nearer.
 */
export function gatherLens(
  picture: Planes,
  radius: (x: number, y: number) => number,
  lens: Lens,
  x: number,
  y: number,
  nearness: ((x: number, y: number) => number) | null = null,
  most = radius(x, y),
): [number, number, number] {
  const { width, height, planes } = picture;
  const own = radius(x, y);
  const stretched = Math.sqrt(Math.max(lens.squeeze, 1 / lens.squeeze)) * (1 + 0.1 * Math.abs(lens.fringe));
  const reach = Math.ceil(most * stretched + 1);
  const [sum, total] = [[0, 0, 0], [0, 0, 0]]; // prettier-ignore
  const outwards = (2 * lens.cat) / Math.hypot(width, height);
  const [sx, sy] = [outwards * (x + 0.5 - width / 2), outwards * (y + 0.5 - height / 2)];
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      const [qx, qy] = [mirrored(x + dx, width), mirrored(y + dy, height)];
      const their = radius(qx, qy);
      const light = planes.map((plane) => plane[qy * width + qx]!);
      const { stops, threshold } = lens.highlights;
      const t = clamp((coded(Math.max(...light)) - threshold) / Math.max(1 - threshold, 1e-3));
      const gain = 1 + (2 ** stops - 1) * t * t * (3 - 2 * t) * clamp(their - 0.5);
      for (let c = 0; c < 3; c++) {
        const isOver = nearness !== null && nearness(qx, qy) > nearness(x, y);
        const r = (isOver ? their : Math.min(own, their)) * (1 + 0.1 * lens.fringe * (1 - c));
        // The place in the disc of q is p - q.
        const left = lens.cat > 0 ? cut(-dx, -dy, r, sx, sy) : 1;
        const w = (left * aperture(lens, dx, dy, r)) / Math.max(0.25, their * their);
        sum[c]! += w * light[c]! * gain;
        total[c]! += w;
      }
    }
  return [0, 1, 2].map((c) => sum[c]! / total[c]!) as [number, number, number];
}
