import { type Region, type Size, scaledSize } from '../geometry/size';
import { type FrameFormat, type PixelFormat, frameBytes } from '../pixels/format';
import type { ScaleTask } from '../pixels/scale';
import type { Threads } from './renderer';
import { type CropGeometry, both, isPixelAligned } from '../tidy/crop';
import type { TurnTask } from '../tidy/rotate';

/** Pixels of a whole picture, at its own size or smaller, in shared memory. */
export interface SharedImage extends Size {
  pixels: SharedArrayBuffer;
  format: FrameFormat;
}

/** Samples beyond a turned part that are read with it. */
const RIM = 4;

/** Calls for each thread with its share of so many rows, and waits for all. */
function shared(
  threads: Threads,
  rows: number,
  run: (i: number, from: number, to: number) => Promise<void>,
): Promise<unknown> {
  const count = threads.runners.length;
  const bound = (i: number): number => Math.round((rows * i) / count);
  return Promise.all(
    threads.runners.map((_, i) => (bound(i) < bound(i + 1) ? run(i, bound(i), bound(i + 1)) : null)),
  );
}

/**
 * Writes a region of a picture into shared memory, scaled to `region.picture`.
 * @param part what of the source that spans, in its pixels; all of it where nothing is said.
 */
export async function renderScaled(
  threads: Threads,
  source: SharedImage,
  region: Region,
  to: PixelFormat,
  target: Uint8Array,
  part?: ScaleTask['part'],
): Promise<void> {
  const module = await threads.module;
  await shared(threads, region.height, (i, from, end) => {
    const scale: ScaleTask = {
      from: source.format,
      to,
      source: source.pixels,
      sourceSize: { width: source.width, height: source.height },
      ...(part && { part }),
      region,
      target: target.buffer as SharedArrayBuffer,
      offset: target.byteOffset,
      rows: [from, end],
    };
    return threads.runners[i]!({ kind: 'scale', module, scale });
  });
}

/**
 * Writes a region of a sheet into shared memory; `region.picture` is the size of the whole sheet in it.
 * @param source the picture at its own size, or at a smaller one that still has the wanted detail.
 */
export async function renderCrop(
  threads: Threads,
  source: SharedImage,
  sheet: CropGeometry,
  region: Region,
  to: PixelFormat,
  target: Uint8Array,
): Promise<void> {
  const { picture, corner, u, v } = sheet;
  if (isPixelAligned(sheet)) {
    const [x, y] = [source.width / picture.width, source.height / picture.height];
    const part = { x: corner[0] * x, y: corner[1] * y, width: sheet.width * x, height: sheet.height * y };
    return renderScaled(threads, source, region, to, target, part);
  }
  // The picture at the size that is wanted of it; only what lies under the region is made of it.
  const scale = region.picture.width / sheet.width;
  const size = scaledSize(picture, scale);
  const [x, y] = [size.width / picture.width, size.height / picture.height];
  const step = (by: readonly [number, number], pixels: number): [number, number] => [
    by[0] * pixels * x,
    by[1] * pixels * y,
  ];
  const column = step(u, sheet.width / region.picture.width);
  const row = step(v, sheet.height / region.picture.height);
  const origin = step(corner, 1);
  const start = both((i) => origin[i] + region.x * column[i] + region.y * row[i]);
  let image: SharedImage = source;
  const isSameSize = size.width === source.width && size.height === source.height;
  if (!isSameSize) {
    const ends = both((i) => region.width * column[i] + region.height * row[i]);
    const reach = (i: 0 | 1): [number, number, number] => [
      region.width * column[i],
      region.height * row[i],
      ends[i],
    ];
    const [left, top] = both((i) => Math.max(0, Math.floor(start[i] + Math.min(0, ...reach(i))) - RIM));
    const [right, bottom] = both((i) => Math.ceil(start[i] + Math.max(0, ...reach(i))) + RIM);
    const width = Math.max(1, Math.min(size.width, right) - left);
    const height = Math.max(1, Math.min(size.height, bottom) - top);
    const part = { x: left, y: top, width, height, picture: size };
    image = { width, height, format: to, pixels: new SharedArrayBuffer(frameBytes(to, { width, height })) };
    await renderScaled(threads, source, part, to, new Uint8Array(image.pixels));
    start[0] -= left;
    start[1] -= top;
  }
  const module = await threads.module;
  await shared(threads, region.height, (i, from, end) => {
    const turn: TurnTask = {
      from: image.format,
      to,
      source: image.pixels,
      sourceSize: { width: image.width, height: image.height },
      corner: start,
      u: column,
      v: row,
      size: { width: region.width, height: region.height },
      place: [region.x, region.y],
      target: target.buffer as SharedArrayBuffer,
      offset: target.byteOffset,
      rows: [from, end],
    };
    return threads.runners[i]!({ kind: 'turn', module, turn });
  });
}
