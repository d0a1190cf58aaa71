import { type Similarity, moved } from '../../focus/similarity';
import { between } from '../../pixels/between';
import type { Box } from './corners';
import type { Point } from './fit-similarity';
import type { Grey } from './pyramid';

/** Places that are compared, about. */
const PLACES = 3000;

/**
 * How like what a subject was it still is: the normalised correlation of its light, place by place, which does not mind
 * that all of it becomes brighter or has more contrast (J. Lewis, "Fast normalized cross-correlation", 1995).
 */
export class Likeness {
  private readonly places: Point[] = [];
  private readonly first: Float32Array;

  /** @param isInside says which places of the first frame are the subject. */
  constructor(first: Grey, box: Box, isInside: (x: number, y: number) => boolean) {
    const left = Math.max(0, Math.floor(box.left));
    const top = Math.max(0, Math.floor(box.top));
    const right = Math.min(first.width - 1, box.right);
    const bottom = Math.min(first.height - 1, box.bottom);
    const step = Math.max(1, Math.round(Math.sqrt(((right - left) * (bottom - top)) / PLACES)));
    for (let y = top; y <= bottom; y += step)
      for (let x = left; x <= right; x += step) if (isInside(x, y)) this.places.push([x, y]);
    this.first = Float32Array.from(this.places, ([x, y]) => lightAt(first, x, y)!);
  }

  /** 0..1; what has left the frame is not counted. 1 where there is nothing to compare. */
  of(now: Grey, motion: Similarity): number {
    let [n, a, b, aa, ab, bb] = [0, 0, 0, 0, 0, 0];
    this.places.forEach((place, i) => {
      const light = lightAt(now, ...moved(motion, place));
      if (light === null) return;
      const was = this.first[i]!;
      n++;
      a += was;
      b += light;
      aa += was * was;
      ab += was * light;
      bb += light * light;
    });
    const [va, vb] = [aa - (a * a) / n, bb - (b * b) / n];
    // A flat subject looks like any other flat one.
    if (n < 9 || va < n || vb < n) return 1;
    return Math.max(0, (ab - (a * b) / n) / Math.sqrt(va * vb));
  }
}

/** Between pixels; null outside. */
function lightAt(grey: Grey, x: number, y: number): number | null {
  if (x < 0 || y < 0 || x >= grey.width || y >= grey.height) return null;
  return between(grey.data, grey, 1, 0, x, y);
}
