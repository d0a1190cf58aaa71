import { Injectable, inject } from '@angular/core';
import { type Mend, isYuv } from '@hazy-lens/core';
import { proxy } from 'comlink';
import type { MendWorker } from './mend.worker';
import type { Picture } from './picture';
import { RenderPool } from './pool';
import { onceMore } from './watch';
import { WorkerClient } from './worker-client';

const sameMends = (a: readonly Mend[], b: readonly Mend[]): boolean =>
  a.length === b.length && a.every((one, i) => one === b[i]);

/** Pictures with the mends of recipes carried out, in a worker of their own. */
@Injectable({ providedIn: 'root' })
export class StillMender {
  private readonly pool = inject(RenderPool);
  private readonly worker = new WorkerClient<MendWorker>(
    () => new Worker(new URL('./mend.worker', import.meta.url), { type: 'module' }),
  );
  /** The last that was made: mends that come after those are carried out on it. */
  private last: { of: Picture; mends: readonly Mend[]; made: Picture } | null = null;
  private turn: Promise<unknown> = Promise.resolve();

  /**
   * A picture with its mends; the picture itself where there are none, or where it is a frame of planes. `told` hears how
   * far they are, 0..1, `drafted` how a large one will look.
   * @throws the signal's reason.
   */
  of(
    picture: Picture,
    mends: readonly Mend[],
    signal: AbortSignal,
    told: (done: number) => void = () => undefined,
    drafted: (picture: Picture) => void = () => undefined,
  ): Promise<Picture> {
    if (mends.length === 0 || isYuv(picture.format)) return Promise.resolve(picture);
    const made = this.turn.then(() => this.make(picture, mends, signal, told, drafted));
    this.turn = made.catch(() => undefined);
    return made;
  }

  private async make(
    picture: Picture,
    mends: readonly Mend[],
    signal: AbortSignal,
    told: (done: number) => void,
    drafted: (picture: Picture) => void,
  ): Promise<Picture> {
    signal.throwIfAborted();
    const { last } = this;
    const goesOn = last?.of === picture && sameMends(last.mends, mends.slice(0, last.mends.length));
    if (goesOn && last.mends.length === mends.length) return last.made;
    const start = goesOn ? last.made : picture;
    const more = goesOn ? mends.slice(last.mends.length) : mends;
    const module = await this.pool.module;
    signal.throwIfAborted();
    // What is no longer wanted must not hold up what is.
    const stop = (): void => this.worker.end(signal.reason);
    signal.addEventListener('abort', stop);
    // Progress can arrive after the result; ignore it then.
    let isMade = false;
    const report = (done: number): void => {
      if (!isMade) told(done);
    };
    const showDraft = async (draft: SharedArrayBuffer): Promise<void> => {
      const seen = await picture.withPixels(draft, null, this.pool);
      if (!isMade && !signal.aborted) drafted(seen);
    };
    const mended = async () => {
      const pixels = copyOf(start);
      const parts = start.parts && {
        premultiplied: copyOf(start.parts.premultiplied),
        alpha: copyOf(start.parts.alpha),
      };
      const { readFormat, width, height } = start;
      return this.worker.call.mend(
        module,
        pixels,
        parts,
        readFormat,
        { width, height },
        more,
        proxy(report),
        proxy(showDraft),
      );
    };
    // The worker goes on to what comes next: a signal that comes late must not end that.
    const { pixels, parts } = await onceMore(mended).finally(() => {
      isMade = true;
      signal.removeEventListener('abort', stop);
    });
    const made = await picture.withPixels(pixels, parts, this.pool);
    this.last = { of: picture, mends, made };
    return made;
  }
}

/** The pixels of a picture, to be changed. */
function copyOf({ rawPixels }: Picture): SharedArrayBuffer {
  const pixels = new SharedArrayBuffer(rawPixels.byteLength);
  new Uint8Array(pixels).set(new Uint8Array(rawPixels));
  return pixels;
}
