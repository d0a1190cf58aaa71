// The haze field of bands, soundings and strokes as the recipe's documentation writes it, one pixel at a time.
import type { Band, Carry, Focus, Profile, Stroke } from '../src/index';

const clamp = (v: number): number => Math.min(1, Math.max(0, v));

/** Monotone cubic through knots (Fritsch and Carlson), straight from the paper: Hermite form. */
function monotone(knots: [number, number][], x: number): number {
  const n = knots.length;
  const slopes = knots.slice(1).map(([u, p], i) => (p - knots[i]![1]) / (u - knots[i]![0]));
  const m = knots.map((_, i) => {
    if (i === 0) return slopes[0]!;
    if (i === n - 1) return slopes[n - 2]!;
    return slopes[i - 1]! * slopes[i]! <= 0 ? 0 : (slopes[i - 1]! + slopes[i]!) / 2;
  });
  slopes.forEach((s, i) => {
    if (s === 0) m[i] = m[i + 1] = 0;
    else {
      const [a, b] = [m[i]! / s, m[i + 1]! / s];
      const r = Math.sqrt(a * a + b * b);
      if (r > 3) [m[i], m[i + 1]] = [(3 / r) * a * s, (3 / r) * b * s];
    }
  });
  let i = 0;
  while (i < n - 2 && x >= knots[i + 1]![0]) i++;
  const h = knots[i + 1]![0] - knots[i]![0];
  const t = (x - knots[i]![0]) / h;
  return (
    (2 * t ** 3 - 3 * t ** 2 + 1) * knots[i]![1] +
    (t ** 3 - 2 * t ** 2 + t) * h * m[i]! +
    (3 * t ** 2 - 2 * t ** 3) * knots[i + 1]![1] +
    (t ** 3 - t ** 2) * h * m[i + 1]!
  );
}

export function profileReference(profile: Profile, u: number): number {
  const x = clamp(u);
  if (profile === 'linear') return x;
  if (profile === 'smooth') return x * x * (3 - 2 * x);
  if (profile === 'late') return x * x;
  if (profile === 'early') return 1 - (1 - x) ** 2;
  const inner = profile.knots.filter(([k]) => k > 0 && k < 1);
  return clamp(monotone([[0, 0], ...inner, [1, 1]], x));
}

const step = (beyond: number, falloff: number): number =>
  falloff > 0 ? clamp(beyond / falloff) : beyond > 0 ? 1 : 0;

/** One band's own haze. */
export function bandReference(band: Band, w: number, h: number, x: number, y: number): number {
  const d = Math.sqrt(w * w + h * h);
  const P = (u: number): number => profileReference(band.profile, u);
  if (band.kind === 'linear') {
    const [x0, y0, x1, y1] = [band.start[0] * w, band.start[1] * h, band.end[0] * w, band.end[1] * h];
    const square = (x1 - x0) ** 2 + (y1 - y0) ** 2;
    const t = square === 0 ? 1 : clamp(((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / square);
    const [from, to] = band.invert ? [band.endHaze, band.startHaze] : [band.startHaze, band.endHaze];
    return from + (to - from) * P(t);
  }
  const a = (band.angle * Math.PI) / 180;
  const [dx, dy] = [x - band.centre[0] * w, y - band.centre[1] * h];
  const p = dx * Math.cos(a) + dy * Math.sin(a);
  const q = -dx * Math.sin(a) + dy * Math.cos(a);
  if (band.kind === 'planar') {
    const s = q / d;
    const side = s >= 0 ? band.near : band.far;
    const own = side.haze * P(step(Math.abs(s) - side.clear, side.falloff));
    return band.invert ? side.haze - own : own;
  }
  const ring = (u: number): number => {
    const own = band.innerHaze + (band.haze - band.innerHaze) * P(u);
    return band.invert ? band.haze + band.innerHaze - own : own;
  };
  if (band.kind === 'elliptical') {
    const rho = Math.sqrt((p / (band.radii[0] * d)) ** 2 + (q / (band.radii[1] * d)) ** 2);
    return ring(step(rho - 1, band.falloff));
  }
  const theta = Math.atan2(q, p / band.aspect);
  const turn = 2 * Math.PI;
  const positive = ((theta % turn) + turn) % turn;
  const n = band.sides;
  const polygon = Math.cos(Math.PI / n) / Math.cos((positive % (turn / n)) - Math.PI / n);
  const R = (1 - band.roundness) * polygon + band.roundness;
  const around = (ratios: readonly number[]): number => {
    const points = Array.from({ length: 25 }, (_, i) => [i - 8, ratios[i % 8]!] as [number, number]);
    return Math.max(0, monotone(points, (positive / turn) * 8));
  };
  const rho = Math.hypot(p / band.aspect, q) / (band.radius * d * R * around(band.outline));
  return ring(step(rho - 1, around(band.falloff)));
}

/** Coverage of a stroke: the most that any of many places along it gives. */
export function strokeReference(stroke: Stroke, w: number, h: number, x: number, y: number): number {
  const d = Math.sqrt(w * w + h * h);
  let most = 0;
  stroke.points.forEach((to, i) => {
    const from = stroke.points[Math.max(0, i - 1)]!;
    const given = (t: number): number => {
      const mix = (a: number, b: number): number => a + (b - a) * t;
      const press = mix(from[2] ?? 1, to[2] ?? 1);
      const radius = stroke.radius * (stroke.pressure === 'size' ? press : 1) * d;
      const strength = stroke.strength * (stroke.pressure === 'strength' ? press : 1);
      const e = Math.hypot(x - mix(from[0], to[0]) * w, y - mix(from[1], to[1]) * h);
      const v = clamp((1 - e / Math.max(radius, 1e-5 * d)) / Math.max(0.02, stroke.softness));
      return strength * v * v * (3 - 2 * v);
    };
    // Many places along the piece, and then many more round the best of them.
    let best = 0;
    for (let k = 0; k <= 400; k++) if (given(k / 400) > given(best)) best = k / 400;
    for (let k = -50; k <= 50; k++) most = Math.max(most, given(clamp(best + k / 20000)));
  });
  return most;
}

/** Where a pixel was before it was carried: back by the shift, then turned and scaled back about the middle. */
export function homeReference(
  { shift, turn, scale }: Carry,
  w: number,
  h: number,
  x: number,
  y: number,
): [number, number] {
  const [dx, dy] = [x - w / 2 - shift[0] * w, y - h / 2 - shift[1] * h];
  const a = (-turn * Math.PI) / 180;
  return [
    w / 2 + (dx * Math.cos(a) - dy * Math.sin(a)) / scale,
    h / 2 + (dx * Math.sin(a) + dy * Math.cos(a)) / scale,
  ];
}

/** The field of rest, soundings, bands and strokes, as far as each is switched on. */
export function fieldReference(focus: Focus, w: number, h: number, x: number, y: number): number {
  const d = Math.sqrt(w * w + h * h);
  let H = focus.rest;
  if (!focus.on) return H;
  if (focus.soundingsOn && focus.soundings.length > 0) {
    const weights = focus.soundings.map(({ at }) => {
      const square = ((x - at[0] * w) / d) ** 2 + ((y - at[1] * h) / d) ** 2;
      return 1 / (square + 1e-9);
    });
    const total = weights.reduce((sum, weight) => sum + weight, 0);
    H = focus.soundings.reduce((sum, { haze }, i) => sum + (weights[i]! / total) * haze, 0);
  }
  for (const band of focus.bands) {
    if (!band.on) continue;
    const own = bandReference(band, w, h, x, y);
    H = band.mode === 'clear' ? Math.min(H, own) : Math.max(H, own);
  }
  const before = H;
  const home = homeReference(focus.strokesCarry, w, h, x, y);
  for (const stroke of focus.strokesOn ? focus.strokes : []) {
    const c = strokeReference(stroke, w, h, ...home);
    if (stroke.mode === 'clear') H *= 1 - c;
    else if (stroke.mode === 'haze') H += (1 - H) * c;
    else H += (before - H) * c;
  }
  return H;
}
