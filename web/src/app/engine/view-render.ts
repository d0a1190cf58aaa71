import {
  type Look,
  type Region,
  type Render,
  type StripContent,
  buildOctaves,
  createMemory,
  fullSigma,
  openRender,
  planRender,
  renderStrips,
  sharedBuffer,
} from '@hazy-lens/core';
import type { Picture } from './picture';
import type { RenderPool } from './pool';

const RGBA = { channels: 4, bytes: 1 } as const;
/** Blur that is prepared for in advance, as a multiple of the recipe's: so that exaggerating only mixes anew. */
const HEADROOM = 4;
const LEAST_SIGMA = 4;

/**
 * A part of a picture at one scale, with its blur levels kept by the workers: preparing costs as much as a whole
 * render, drawing another focus or colour after that only mixes.
 */
export class ViewRender {
  private render: Render | null = null;
  private maxSigma = 0;
  private picture: Picture | null = null;
  private region: Region | null = null;

  constructor(
    private readonly pool: RenderPool,
    private readonly slot: string,
  ) {}

  /** True if `draw` can go ahead for this view and blur. */
  private isReady(picture: Picture, region: Region, sigma: number): boolean {
    return (
      this.render !== null &&
      this.picture === picture &&
      sameRegion(this.region!, region) &&
      sigma <= this.maxSigma
    );
  }

  /** Makes the view ready for `draw`; true if it was already. */
  async prepare(picture: Picture, region: Region, look: Look): Promise<boolean> {
    const sigma = fullSigma(look.blur, region.picture);
    if (this.isReady(picture, region, sigma)) return true;
    const { pool } = this;
    this.maxSigma = Math.max(LEAST_SIGMA, sigma * HEADROOM);
    const plan = planRender({
      region,
      format: RGBA,
      maxSigma: this.maxSigma,
      workers: pool.runners.length,
      stripRows: Math.ceil(region.height / pool.runners.length),
    });
    const old = this.render?.memory;
    const memory = old && old.buffer.byteLength >= plan.bytes ? old : createMemory(plan.bytes * 1.2);
    this.render = { slot: this.slot, plan, memory, runners: pool.runners };
    this.picture = picture;
    this.region = region;
    await picture.cut(pool, region, sharedBuffer(memory), plan.source);
    await openRender(await pool.module, this.render);
    await buildOctaves(this.render);
    return false;
  }

  /** Draws the prepared view; the pixels stay valid until the next call. */
  async draw(look: Look, content: StripContent): Promise<Uint8Array> {
    const { memory, plan, runners } = this.render!;
    const finished = new Int32Array(memory.buffer, plan.finished, 1);
    Atomics.store(finished, 0, 0);
    const answered = renderStrips(this.render!, look, content);
    answered.catch(() => undefined);
    await Promise.race([answered, nextFrameIf(() => Atomics.load(finished, 0) === runners.length)]);
    return this.pixels('output');
  }

  /** The view's picture as it came. */
  pixels(which: 'source' | 'output'): Uint8Array {
    const { plan, memory } = this.render!;
    return new Uint8Array(memory.buffer, plan[which], plan.region.width * plan.region.height * 4);
  }
}

/**
 * Ends at the start of the next frame if `isDone` then: the workers' answers may be waiting behind that frame, and the
 * picture would miss it.
 */
function nextFrameIf(isDone: () => boolean): Promise<void> {
  return new Promise((resolve) => requestAnimationFrame(() => isDone() && resolve()));
}

export function sameRegion(a: Region, b: Region): boolean {
  return (
    a.x === b.x &&
    a.y === b.y &&
    a.width === b.width &&
    a.height === b.height &&
    a.picture.width === b.picture.width &&
    a.picture.height === b.picture.height
  );
}
