// Blur by an aperture as the recipe's documentation writes it, one pixel at a time, on three planes of linear light.
import type { Lens } from '../src/index';
import type { Planes } from './blur';

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

function coded(linear: number): number {
  const x = clamp(linear);
  return x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055;
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
        const w = aperture(lens, dx, dy, r) / Math.max(0.25, their * their);
        sum[c]! += w * light[c]! * gain;
        total[c]! += w;
      }
    }
  return [0, 1, 2].map((c) => sum[c]! / total[c]!) as [number, number, number];
}
