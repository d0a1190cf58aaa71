import { irisRim } from '../../focus/bands/iris';
import type { Lens } from '../../recipe/schema';

/** The shape of an aperture. */
export type Aperture = Pick<Lens, 'blades' | 'roundness' | 'rotation' | 'squeeze'>;

/**
 * How far an aperture's outline lies from its middle in a direction, as a share of the radius to a corner of one that is
 * not squeezed: the outline of an iris band, its own x axis stretched by sqrt(squeeze), its own y axis by 1 / sqrt(squeeze),
 * turned clockwise by `rotation`.
 * @param aperture its shape. @returns the outline's distance in the direction of (dx, dy), which is not (0, 0).
 */
export function apertureOutline(aperture: Aperture): (dx: number, dy: number) => number {
  const { blades, roundness, rotation, squeeze } = aperture;
  const rim = blades === 0 ? () => 1 : irisRim({ sides: blades, roundness });
  const a = (rotation * Math.PI) / 180;
  const [cos, sin, stretch] = [Math.cos(a), Math.sin(a), Math.sqrt(squeeze)];
  return (dx, dy) => {
    const p = (dx * cos + dy * sin) / stretch;
    const q = (dy * cos - dx * sin) * stretch;
    return (Math.hypot(dx, dy) * rim(Math.atan2(q, p))) / Math.hypot(p, q);
  };
}

/** Outline points of an aperture of radius 1, all round, for drawing. */
export function aperturePoints(aperture: Aperture, count: number): [number, number][] {
  const outline = apertureOutline(aperture);
  return Array.from({ length: count }, (_, i) => {
    const a = (2 * Math.PI * i) / count;
    const far = outline(Math.cos(a), Math.sin(a));
    return [far * Math.cos(a), far * Math.sin(a)];
  });
}

/**
 * What a point of light makes of a place of its disc, for drawing: red, green and blue, 1 where an even disc is full.
 * @param radius of the disc in pixels. @param shift of the circle that cuts it, in radii; null where none does.
 * @returns of the place (dx, dy) from its middle, in pixels.
 */
export function discLight(
  lens: Lens,
  radius: number,
  shift: readonly [number, number] | null = null,
): (dx: number, dy: number) => [number, number, number] {
  const outline = apertureOutline(lens);
  const channel = (far: number, distance: number, r: number): number => {
    const u = Math.min(1, distance / (far * r));
    const inside = Math.min(1, Math.max(0, far * r - distance + 0.5));
    return inside * (1 + lens.rim * (2 * u * u - 1));
  };
  return (dx, dy) => {
    const distance = Math.hypot(dx, dy);
    if (shift && Math.hypot(dx - shift[0] * radius, dy - shift[1] * radius) > radius) return [0, 0, 0];
    const far = distance === 0 ? 1 : outline(dx, dy);
    const by = FRINGE * lens.fringe;
    return [
      channel(far, distance, radius * (1 + by)),
      channel(far, distance, radius),
      channel(far, distance, radius * (1 - by)),
    ];
  };
}

/** Most that any aperture's outline reaches beyond its radius. */
export const FARTHEST_OUTLINE = Math.sqrt(3);

/** How much larger red discs are, and smaller blue ones, at a fringe of 1. */
export const FRINGE = 0.1;

/** The places around a sample that a disc can cover, as the kernel `gatherDiscs` reads them. */
export interface Taps {
  /** Of each: rows down, samples along, the outline's distance for radius 1 in its direction, its own less half a sample. */
  list: [dy: number, dx: number, scale: number, reach: number][];
  /** How many of them a disc of a quarter sample, two quarters, … can cover. */
  counts: number[];
}

/** @param top largest radius in samples. */
export function apertureTaps(aperture: Aperture, top: number): Taps {
  const outline = apertureOutline(aperture);
  const far = Math.ceil(top * FARTHEST_OUTLINE + 1);
  const found: { tap: Taps['list'][number]; from: number }[] = [];
  for (let dy = -far; dy <= far; dy++)
    for (let dx = -far; dx <= far; dx++) {
      const distance = Math.hypot(dx, dy);
      // Rounded as the kernel reads it: engines differ in the last bits of trigonometric functions, which must not
      // change the order of taps that are equal, as light is summed in that order.
      const scale = distance === 0 ? 1 : Math.fround(outline(dx, dy));
      // Covered from the radius on where radius x scale exceeds the reach.
      const from = (distance - 0.5) / scale;
      if (from < top) found.push({ tap: [dy, dx, scale, distance - 0.5], from });
    }
  found.sort((a, b) => a.from - b.from);
  const counts: number[] = [];
  for (let quarter = 0, i = 0; quarter <= Math.ceil(top * 4); quarter++) {
    while (i < found.length && found[i]!.from < quarter / 4) i++;
    counts.push(Math.max(1, i));
  }
  return { list: found.map(({ tap }) => tap), counts };
}

/** The taps that all discs of a radius cover wholly, so that their light can be summed by columns. */
export interface InnerTaps {
  /** The first so many of all taps. */
  count: number;
  /** First and last row of those in each column, as many columns to the left as to the right. */
  columns: (readonly [top: number, bottom: number])[];
}

/** Fewer taps are as quickly summed one by one. */
const MIN_INNER = 40;
const NO_ROWS = [0, -1] as const;
const NO_TAPS: InnerTaps = { count: 0, columns: [] };

/** @returns of each quarter sample of radius the inner taps; none where that gains nothing. */
export function innerTaps({ list, counts }: Taps): InnerTaps[] {
  const columns = new Map<number, readonly [top: number, bottom: number]>();
  let count = 0;
  let found = NO_TAPS;
  return counts.map((_, quarter) => {
    for (; count < list.length; count++) {
      const [dy, dx, scale, reach] = list[count]!;
      if ((1 + reach) / scale > quarter / 4) break;
      const [top, bottom] = columns.get(dx) ?? [dy, dy];
      columns.set(dx, [Math.min(top, dy), Math.max(bottom, dy)]);
    }
    const across = Math.max(0, ...[...columns.keys()].map(Math.abs));
    const all = Array.from({ length: 2 * across + 1 }, (_, i) => columns.get(i - across) ?? NO_ROWS);
    const held = all.reduce((sum, [top, bottom]) => sum + bottom - top + 1, 0);
    // Whatever the shape, no column may have a gap.
    if (count >= MIN_INNER && held === count) found = { count, columns: all };
    return found;
  });
}
