import { type Similarity, transformPoint } from '../../geometry/similarity';
import { bilinear } from '../../geometry/bilinear';
import type { Box } from './corners';
import type { Point } from './fit-similarity';
import type { Grey, Pyramid } from './pyramid';

/** Places that are compared, about. */
const PLACES = 3000;
/** So many of them are enough to find it by. */
const FEW_PLACES = 250;
/** Long side of the picture in which it is looked for everywhere. */
const SEARCHED_EDGE = 200;
/** A place that is less alike than this is none. */
const MIN_LIKENESS = 0.5;
/** Less of the subject than this within the frame says nothing. */
const MIN_SHARE = 0.15;

/** A place where a subject may be: how much further it would have moved, and how alike it is there, 0..1. */
export interface Candidate {
  shift: Point;
  likeness: number;
}

/**
 * What a subject looks like: the light of its places. How like that it is elsewhere is their normalised correlation, which
 * does not mind that all of it becomes brighter or has more contrast (J. Lewis, "Fast normalized cross-correlation", 1995).
 */
export class Appearance {
  private readonly places: Point[] = [];
  private readonly first: Float32Array;

  /** @param isInside says which places of the frame are the subject. */
  constructor(frame: Grey, box: Box, isInside: (x: number, y: number) => boolean) {
    const left = Math.max(0, Math.floor(box.left));
    const top = Math.max(0, Math.floor(box.top));
    const right = Math.min(frame.width - 1, box.right);
    const bottom = Math.min(frame.height - 1, box.bottom);
    const step = Math.max(1, Math.round(Math.sqrt(((right - left) * (bottom - top)) / PLACES)));
    for (let y = top; y <= bottom; y += step)
      for (let x = left; x <= right; x += step) if (isInside(x, y)) this.places.push([x, y]);
    this.first = Float32Array.from(this.places, ([x, y]) => lightAt(frame, x, y)!);
  }

  /** How alike a subject is that was moved, 0..1; 1 where it is too plain to tell, 0 where too little lies within the frame. */
  of(frame: Grey, motion: Similarity): number {
    const sums = new Correlation();
    this.places.forEach((place, i) => {
      const light = lightAt(frame, ...transformPoint(motion, place));
      if (light !== null) sums.add(this.first[i]!, light);
    });
    if (this.places.length === 0) return 1;
    return sums.count < MIN_SHARE * this.places.length ? 0 : sums.likeness;
  }

  /**
   * Places within reach where the subject may be, the likeliest first; each a few pixels from the next.
   * @param home the pyramid of the frame it was taken from. @param reach in pixels each way.
   */
  search(home: Pyramid, pyramid: Pyramid, motion: Similarity, reach: number, most: number): Candidate[] {
    const wanted = pyramid.findIndex(({ width, height }) => Math.max(width, height) <= SEARCHED_EDGE);
    const level = wanted < 0 ? pyramid.length - 1 : wanted;
    const size = 2 ** level;
    const { width, height, data } = pyramid[level]!;
    const every = Math.max(1, Math.floor(this.places.length / FEW_PLACES));
    const small = home[level]!;
    const atLevel = (value: number): number => (value + 0.5) / size - 0.5;
    const [xs, ys, was]: number[][] = [[], [], []];
    for (let i = 0; i < this.places.length; i += every) {
      const place = this.places[i]!;
      const light = lightAt(small, atLevel(place[0]), atLevel(place[1]));
      if (light === null) continue;
      const [x, y] = transformPoint(motion, place);
      xs!.push(Math.round(atLevel(x)));
      ys!.push(Math.round(atLevel(y)));
      was!.push(light);
    }
    const found: Candidate[] = [];
    const sums = new Correlation();
    const [columns, rows] = [shiftsOf(xs!, width, reach / size), shiftsOf(ys!, height, reach / size)];
    for (let dy = rows[0]; dy <= rows[1]; dy++)
      for (let dx = columns[0]; dx <= columns[1]; dx++) {
        sums.clear();
        for (let i = 0; i < was!.length; i++) {
          const x = xs![i]! + dx;
          const y = ys![i]! + dy;
          if (x >= 0 && y >= 0 && x < width && y < height) sums.add(was![i]!, data[y * width + x]!);
        }
        // Half of it at least is wanted to find it by.
        if (sums.count < was!.length / 2) continue;
        const { likeness } = sums;
        if (likeness >= MIN_LIKENESS) found.push({ shift: [dx * size, dy * size], likeness });
      }
    found.sort((a, b) => b.likeness - a.likeness);
    const apart: Candidate[] = [];
    for (const one of found) {
      if (apart.length === most) break;
      const isNear = ({ shift: [x, y] }: Candidate): boolean =>
        Math.hypot(x - one.shift[0], y - one.shift[1]) < 3 * size;
      if (!apart.some(isNear)) apart.push(one);
    }
    return apart;
  }
}

/** The least and the greatest shift within reach that leaves half of so many places within a length. */
function shiftsOf(places: readonly number[], length: number, reach: number): [number, number] {
  const middle = [...places].sort((a, b) => a - b)[places.length >> 1] ?? 0;
  return [Math.ceil(Math.max(-reach, -middle)), Math.floor(Math.min(reach, length - 1 - middle))];
}

/** Sums of pairs, as their correlation needs them. */
class Correlation {
  count = 0;
  private a = 0;
  private b = 0;
  private aa = 0;
  private ab = 0;
  private bb = 0;

  clear(): void {
    this.count = this.a = this.b = this.aa = this.ab = this.bb = 0;
  }

  add(was: number, now: number): void {
    this.count++;
    this.a += was;
    this.b += now;
    this.aa += was * was;
    this.ab += was * now;
    this.bb += now * now;
  }

  /** 0..1; 1 for what is too plain to tell: a flat subject looks like any other flat one. */
  get likeness(): number {
    const { count, a, b } = this;
    const [va, vb] = [this.aa - (a * a) / count, this.bb - (b * b) / count];
    if (count < 9 || va < count || vb < count) return va < count ? 1 : 0;
    return Math.max(0, (this.ab - (a * b) / count) / Math.sqrt(va * vb));
  }
}

/** Between pixels; null outside. */
function lightAt(grey: Grey, x: number, y: number): number | null {
  if (x < 0 || y < 0 || x >= grey.width || y >= grey.height) return null;
  return bilinear(grey.data, grey, 1, 0, x, y);
}
