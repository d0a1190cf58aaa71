import { type Heap, type Rows, rowAddress, sampleAddress } from '../../memory';
import type { LensPlan } from './plan';
import { CROSSFADE, TILE, reachOf } from './levels';

/** A part of the picture, in pixels; it may reach beyond the picture. */
interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Of the level's foreground discs that can reach the part of the picture, the largest radius in
 * pixels, 0 where there are none.
 */
export function maxForegroundRadius(
  heap: Heap,
  { tiles, topRadii }: Pick<LensPlan, 'tiles' | 'topRadii'>,
  strength: number,
  level: number,
  { x, y, width, height }: Part,
): number {
  const low = topRadii[level - 1] ?? 0;
  const top = CROSSFADE * (topRadii[level] ?? Infinity);
  const around = reachOf(level, Math.min(top, strength)) * 2 ** level;
  const found = rangeIn(heap, tiles!, x - around, x + width + around, y - around, y + height + around);
  const [least, most] = found.map((haze) => haze * strength) as [number, number];
  return most > low && least < top ? Math.min(most, top) : 0;
}

/** Least and most haze of what is near in the tiles that a part of the picture touches. */
function rangeIn(
  heap: Heap,
  tiles: Rows,
  left: number,
  right: number,
  top: number,
  bottom: number,
): [number, number] {
  const first = (at: number): number => Math.max(0, Math.floor(at / TILE));
  const last = (at: number, count: number): number => Math.min(count - 1, Math.floor(at / TILE));
  const from = first(left);
  const count = last(right, tiles.width / 2) - from + 1;
  let [least, most] = [Infinity, 0];
  for (let row = first(top); row <= last(bottom, tiles.count); row++) {
    const ranges = heap.floatsAt(sampleAddress(rowAddress(tiles, row), 2 * from), Math.max(0, 2 * count));
    for (let i = 0; i < ranges.length; i += 2) {
      least = Math.min(least, ranges[i]!);
      most = Math.max(most, ranges[i + 1]!);
    }
  }
  return [least, most];
}
