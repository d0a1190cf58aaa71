import { Injectable, inject, signal } from '@angular/core';
import type { PlacedPatch, Mend, MendPatch } from '@hazy-lens/core';
import type { MendWorker } from '../mend.worker';
import type { MediaSource } from '../media-source';
import { Picture } from '../picture';
import { RenderPool } from '../pool';
import { Recent } from '../recent';
import { WorkerClient } from '../worker-client';

/** Patches that stay, of one clip: a recipe's own, and those that a step back brings again. */
const KEPT = 300;

const newWorker = (): WorkerClient<MendWorker> =>
  new WorkerClient(() => new Worker(new URL('../mend.worker', import.meta.url), { type: 'module' }), {
    isStateless: true,
  });

/** Mends on frames of footage, in workers of their own: each is made once, and laid on every frame. */
@Injectable({ providedIn: 'root' })
export class FrameMender {
  private readonly pool = inject(RenderPool);
  private readonly maker = newWorker();
  /** Frames of films go on where a patch is given up. */
  private readonly layer = newWorker();
  private readonly made = new WeakMap<MediaSource, Recent<string, MendPatch | null>>();
  /** Patches that are being made just now. */
  readonly making = signal(0);

  /** A mend as it is made on a frame of its own; the same is made once. @param key names what lies on that frame before. */
  patch(
    material: MediaSource,
    home: number,
    mend: Mend,
    key: string,
    before: readonly PlacedPatch[],
  ): Promise<MendPatch | null> {
    const own = this.made.get(material) ?? new Recent<string, MendPatch | null>({ most: KEPT });
    this.made.set(material, own);
    const { id, kind, radius, softness, points, from } = mend;
    const name = JSON.stringify([home, id, kind, radius, softness, points, from, key]);
    return own.get(name, () => this.make(material, home, mend, before));
  }

  /** Gives up the patches that are being made: who waits for them hears an AbortError. */
  stop(): void {
    this.maker.end();
  }

  private async make(
    material: MediaSource,
    home: number,
    mend: Mend,
    before: readonly PlacedPatch[],
  ): Promise<MendPatch | null> {
    this.making.update((count) => count + 1);
    try {
      const frame = await this.lay(await material.frame(home), before, 'home');
      const { rawPixels, format, width, height } = frame;
      return await this.maker.call.patch(await this.pool.module, rawPixels, format, { width, height }, mend);
    } finally {
      this.making.update((count) => count - 1);
    }
  }

  /** A frame with patches on it. @param name of what is laid. */
  async lay(frame: Picture, laid: readonly PlacedPatch[], name: string): Promise<Picture> {
    if (laid.length === 0) return frame;
    const { format, width, height } = frame;
    const pixels = await this.layer.call.lay(frame.rawPixels, format, { width, height }, laid);
    return Picture.ofFrame({ pixels, width, height, format }, `${frame.id} ${name}`);
  }
}
