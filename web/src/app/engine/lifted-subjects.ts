import { Injectable, inject } from '@angular/core';
import { type KeepMask, type LiftedSubject, type Matte, isYuv, liftedBytes } from '@hazy-lens/core';
import type { MendWorker } from './mend.worker';
import type { Picture } from './picture';
import { RenderPool } from './pool';
import { Recent } from './recent';
import { WorkerClient } from './worker-client';

/** What lifted subjects may take: those of one large picture, and some that a step back brings again. */
const MAX_BYTES = 600_000_000;

/** Subjects that were taken out of stills, each with the ground that was made up behind it; the last are kept. */
@Injectable({ providedIn: 'root' })
export class LiftedSubjects {
  private readonly pool = inject(RenderPool);
  private readonly worker = new WorkerClient<MendWorker>(
    () => new Worker(new URL('./mend.worker', import.meta.url), { type: 'module' }),
    { isStateless: true },
  );
  private readonly known = new Recent<string, LiftedSubject | null>({
    mostBytes: MAX_BYTES,
    bytesOf: (one) => (one ? liftedBytes(one) : 0),
  });

  /**
   * Those of all mattes that lift their subject off a picture, by the mattes' ids.
   * @param keep what the mattes keep clear, at full size. @param picture with its mends; null for footage, which keeps all.
   * @throws Error with a sentence.
   */
  async of(
    mattes: readonly Matte[],
    keep: readonly KeepMask[],
    picture: Picture | null,
  ): Promise<Map<string, LiftedSubject>> {
    const lifted = new Map<string, LiftedSubject>();
    if (!picture) return lifted;
    for (const { id } of mattes.filter((one) => one.on && one.lifted && one.combine === 'add')) {
      const raster = keep.find(({ matte }) => matte === id)?.raster;
      const made =
        raster && (await this.known.get(`${picture.id} ${raster.id}`, () => this.make(picture, raster)));
      if (made) lifted.set(id, made);
    }
    return lifted;
  }

  private async make(picture: Picture, raster: KeepMask['raster']): Promise<LiftedSubject | null> {
    const { format, parts, width, height, rawPixels } = picture;
    // There is no ground behind what has none.
    if (parts || isYuv(format)) return null;
    const id = `${picture.id} ${raster.id}`;
    const module = await this.pool.module;
    return this.worker.call.lift(module, rawPixels, format, { width, height }, raster, id);
  }
}
