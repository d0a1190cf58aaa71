import type { Pixels, Region, ScaleTask, Size, Window } from '@hazy-lens/core';
import type { DecodedPicture } from './codec';
import type { RenderPool } from './pool';

interface Level extends Size {
  pixels: SharedArrayBuffer;
}

const SMALLEST = 1400;

/** A decoded picture and its halvings, from which any part can be had at any smaller size quickly. */
export class Picture implements Size {
  readonly width: number;
  readonly height: number;
  private readonly levels: Level[];

  private constructor(full: DecodedPicture) {
    this.width = full.width;
    this.height = full.height;
    this.levels = [full];
  }

  static async from(full: DecodedPicture, pool: RenderPool): Promise<Picture> {
    const picture = new Picture(full);
    for (let last: Level = full; Math.max(last.width, last.height) > SMALLEST;) {
      const size = { width: Math.ceil(last.width / 2), height: Math.ceil(last.height / 2) };
      const next: Level = { ...size, pixels: new SharedArrayBuffer(size.width * size.height * 4) };
      await scale(pool, last, { x: 0, y: 0, ...size, picture: size }, next.pixels, 0);
      picture.levels.push(next);
      last = next;
    }
    return picture;
  }

  /** A window of the picture as pixels, at most `longEdge` long, never larger than it is. */
  async pixels(pool: RenderPool, window: Window, longEdge: number): Promise<Pixels> {
    const own = { width: window.width * this.width, height: window.height * this.height };
    const scale = Math.min(1, longEdge / Math.max(own.width, own.height));
    const size = {
      width: Math.max(1, Math.round(this.width * scale)),
      height: Math.max(1, Math.round(this.height * scale)),
    };
    const x = Math.floor(window.x * size.width);
    const y = Math.floor(window.y * size.height);
    const width = Math.max(1, Math.min(size.width - x, Math.round(window.width * size.width)));
    const height = Math.max(1, Math.min(size.height - y, Math.round(window.height * size.height)));
    const buffer = new SharedArrayBuffer(width * height * 4);
    await this.cut(pool, { x, y, width, height, picture: size }, buffer, 0);
    return { width, height, data: new Uint8Array(buffer) };
  }

  /** Writes a region of the picture, scaled to `region.picture`, into a memory from a byte offset on. */
  async cut(pool: RenderPool, region: Region, target: SharedArrayBuffer, offset: number): Promise<void> {
    const enough = this.levels.filter(
      (level) => level.width >= region.picture.width && level.height >= region.picture.height,
    );
    await scale(pool, enough.at(-1) ?? this.levels[0]!, region, target, offset);
  }
}

async function scale(
  pool: RenderPool,
  from: Level,
  region: Region,
  target: SharedArrayBuffer,
  offset: number,
): Promise<void> {
  const module = await pool.module;
  const { runners } = pool;
  const sourceSize = { width: from.width, height: from.height };
  const bounds = runners.map((_, i) => Math.round((region.height * i) / runners.length));
  await Promise.all(
    runners.map((run, i) => {
      const task: ScaleTask = {
        source: from.pixels,
        sourceSize,
        region,
        target,
        offset,
        from: bounds[i]!,
        to: bounds[i + 1] ?? region.height,
      };
      return task.from < task.to ? run({ kind: 'scale', module, scale: task }) : Promise.resolve();
    }),
  );
}
