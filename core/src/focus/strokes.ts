import type { Stroke } from '../recipe/focus-schema';
import { type Size, diagonal } from '../geometry/size';

/** A stroke as the workers take it: its points in shared memory, four floats each. */
export interface PackedStroke {
  /** The same for the same stroke; a stroke that is still being drawn keeps it while it grows. */
  id: string;
  mode: Stroke['mode'];
  softness: number;
  /** x and y (fractions of width and height), radius (fraction of the diagonal), strength 0..1; of each point. */
  points: Float32Array<SharedArrayBuffer>;
}

/** Even a hard brush has an edge as soft as this share of its radius: no stairs, at any size. */
const MIN_SOFTNESS = 0.02;
const MIN_RADIUS = 1e-5;

let nextId = 1;
const known = new WeakMap<Stroke, PackedStroke>();

/** An id for a stroke that is still being drawn. */
export function newStrokeId(): string {
  return String(nextId++);
}

/** A recipe's stroke packed; the same object for the same stroke. */
export function packedStrokeOf(stroke: Stroke): PackedStroke {
  let packed = known.get(stroke);
  if (!packed) known.set(stroke, (packed = packStroke(stroke, newStrokeId())));
  return packed;
}

export function packStroke(stroke: Stroke, id: string): PackedStroke {
  const { mode, pressure, radius, strength } = stroke;
  const points = new Float32Array(new SharedArrayBuffer(stroke.points.length * 16));
  stroke.points.forEach(([x, y, press = 1], i) =>
    points.set(
      [
        x,
        y,
        Math.max(MIN_RADIUS, pressure === 'size' ? radius * press : radius),
        pressure === 'strength' ? strength * press : strength,
      ],
      i * 4,
    ),
  );
  return { id, mode, softness: Math.max(MIN_SOFTNESS, stroke.softness), points };
}

const movedKnown = new WeakMap<PackedStroke, { key: string; stroke: PackedStroke }>();

/** A stroke with its points elsewhere and its radii so many times as long; `key` names the way it is moved. */
export function transformStroke(
  stroke: PackedStroke,
  key: string,
  point: (at: readonly [number, number]) => [number, number],
  longer: number,
): PackedStroke {
  const known = movedKnown.get(stroke);
  if (known?.key === key) return known.stroke;
  const points = new Float32Array(new SharedArrayBuffer(stroke.points.byteLength));
  for (let i = 0; i < points.length; i += 4) {
    points.set(point([stroke.points[i]!, stroke.points[i + 1]!]), i);
    points[i + 2] = stroke.points[i + 2]! * longer;
    points[i + 3] = stroke.points[i + 3]!;
  }
  const made = { ...stroke, id: `${stroke.id} ${key}`, points };
  movedKnown.set(stroke, { key, stroke: made });
  return made;
}

/** A piece of a stroke in pixels of a picture: from one point to the next, radius and strength going evenly along. */
export interface StrokeSegment {
  x: number;
  y: number;
  dx: number;
  dy: number;
  radius: number;
  radiusStep: number;
  strength: number;
  strengthStep: number;
}

/** Number of segments of a stroke; a single point is one of no length. */
export function segmentCount(stroke: PackedStroke): number {
  return Math.max(1, stroke.points.length / 4 - 1);
}

export function strokeSegment(
  { points }: PackedStroke,
  i: number,
  picture: Size,
  d = diagonal(picture),
): StrokeSegment {
  const a = i * 4;
  const b = Math.min(a + 4, points.length - 4);
  const { width, height } = picture;
  return {
    x: points[a]! * width,
    y: points[a + 1]! * height,
    dx: (points[b]! - points[a]!) * width,
    dy: (points[b + 1]! - points[a + 1]!) * height,
    radius: points[a + 2]! * d,
    radiusStep: (points[b + 2]! - points[a + 2]!) * d,
    strength: points[a + 3]!,
    strengthStep: points[b + 3]! - points[a + 3]!,
  };
}

/** 1 / length², 0 for a segment of no length: the share along it is then 0. */
export function inverseSquare({ dx, dy }: StrokeSegment): number {
  const square = dx * dx + dy * dy;
  return square < 1e-9 ? 0 : 1 / square;
}

/** Halvings of the span in which the best place along a piece of changing strength is sought. */
const HALVINGS = 16;

/**
 * The share t along a segment whose place gives a point the most. With an even radius and strength it is the nearest
 * place. With a radius r(t) that changes, e² / r² is least where (t − p) L² r(p) = r' q²: p is the share nearest to the
 * point, q its distance from the line there, L the segment's length. With a strength that changes, the logarithm of what
 * t gives is concave: its slope is halved down to zero.
 */
function bestShare(segment: StrokeSegment, softness: number, px: number, py: number): number {
  const { dx, dy, radius, radiusStep, strength, strengthStep } = segment;
  const inverse = inverseSquare(segment);
  const nearest = (px * dx + py * dy) * inverse;
  const beside = (px - nearest * dx) ** 2 + (py - nearest * dy) ** 2;
  const held = (t: number): number => Math.min(1, Math.max(0, t));
  if (radiusStep !== 0) {
    const there = radius + nearest * radiusStep;
    return there > 0 ? held(nearest + (beside * radiusStep * inverse) / there) : radiusStep > 0 ? 1 : 0;
  }
  if (strengthStep === 0) return held(nearest);
  const square = inverse === 0 ? 0 : 1 / inverse;
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVINGS; i++) {
    const t = (low + high) / 2;
    const u = (t - nearest) * square;
    const e = Math.max(1e-9, Math.sqrt(beside + u * (t - nearest)));
    const v = held((1 - e / radius) / softness);
    const gains = strengthStep * radius * softness * e * v * (3 - 2 * v);
    const loses = 6 * (strength + t * strengthStep) * (1 - v) * u;
    if (gains > loses) low = t;
    else high = t;
  }
  // An end that was never left is the place itself.
  return low === 0 ? 0 : high === 1 ? 1 : (low + high) / 2;
}

/**
 * How much of a stroke lies on a point, 0..1: the most that any place along it gives. At a share t along a segment, with
 * the radius r and the strength s there and the distance e: s x S(clamp((1 − e / r) / softness)), S(v) = v²(3 − 2v).
 */
export function strokeCoverage(stroke: PackedStroke, picture: Size): (x: number, y: number) => number {
  const { width, height } = picture;
  let last = measured.get(stroke);
  if (last?.width !== width || last.height !== height)
    measured.set(stroke, (last = { width, height, coverage: measureStroke(stroke, picture) }));
  return last.coverage;
}

/** The last coverage of each stroke: many fields are made of the same strokes. */
const measured = new WeakMap<PackedStroke, Size & { coverage: (x: number, y: number) => number }>();

function measureStroke(stroke: PackedStroke, picture: Size): (x: number, y: number) => number {
  const segments = Array.from({ length: segmentCount(stroke) }, (_, i) => strokeSegment(stroke, i, picture));
  const reach = Math.max(...segments.map((s) => Math.max(s.radius, s.radius + s.radiusStep)));
  const xs = segments.flatMap((s) => [s.x, s.x + s.dx]);
  const ys = segments.flatMap((s) => [s.y, s.y + s.dy]);
  const box = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)] as const;
  return (x, y) => {
    if (x < box[0] - reach || x > box[1] + reach || y < box[2] - reach || y > box[3] + reach) return 0;
    let most = 0;
    for (const segment of segments) {
      const [px, py] = [x - segment.x, y - segment.y];
      const t = bestShare(segment, stroke.softness, px, py);
      const e = Math.hypot(px - t * segment.dx, py - t * segment.dy);
      const v = (1 - e / (segment.radius + t * segment.radiusStep)) / stroke.softness;
      const held = Math.min(1, Math.max(0, v));
      most = Math.max(most, (segment.strength + t * segment.strengthStep) * held * held * (3 - 2 * held));
    }
    return most;
  };
}

/** What a stroke makes of a haze, where `before` is the haze without any strokes. */
export function applyStroke(mode: Stroke['mode'], haze: number, before: number, coverage: number): number {
  const target = mode === 'clear' ? 0 : mode === 'haze' ? 1 : before;
  return haze + (target - haze) * coverage;
}
