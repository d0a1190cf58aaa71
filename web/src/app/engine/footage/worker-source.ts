import { PART_FORMAT, type AlphaSplit, frameBytes } from '@hazy-lens/core';
import { LRUCache } from 'lru-cache';
import { BufferPool } from '../buffer-pool';
import { type Loan, type MediaSource, onLoan } from '../media-source';
import { Picture } from '../picture';
import { LostError, onceMore } from '../watch';
import { WorkerClient } from '../worker-client';
import type { FootageWorker } from './footage.worker';
import { builtFiles } from '../built-files';
import type { FootageMetadata, FootageSource } from './reader';
import { sentenceOf } from '../../model/causes';
import { filesWords } from '../../words/files';

/** Decoded frames that are kept, in bytes: around the playhead one goes back and forth. */
const KEPT_BYTES = 160_000_000;
const MIN_KEPT = 4;
/** Seconds in which a reader may answer nothing though it is asked; pictures are read by codecs, which have their own. */
const PATIENCE = { clip: 12, animation: 12, stills: 24 };

/** Opens footage. @throws Error with a sentence that names the file. */
export async function openFootage(source: FootageSource): Promise<MediaSource> {
  const name = source.kind === 'stills' ? (source.files[0]?.name ?? filesWords.thePictures) : source.name;
  const reader = new RemoteReader(source, name);
  try {
    return new WorkerSource(await reader.open(), reader, name);
  } catch (error) {
    reader.close();
    throw error;
  }
}

/** The reader of one file in a worker of its own; where that is lost, another opens the file again. */
class RemoteReader {
  private readonly worker: WorkerClient<FootageWorker>;
  private opened: Promise<FootageMetadata> | null = null;
  private isClosed = false;

  constructor(
    private readonly source: FootageSource,
    private readonly name: string,
  ) {
    this.worker = new WorkerClient<FootageWorker>(
      () => new Worker(new URL('./footage.worker', import.meta.url), { type: 'module' }),
      { patience: PATIENCE[source.kind] },
    );
  }

  open(): Promise<FootageMetadata> {
    return this.told(() => this.openNow());
  }

  /** @param free memory of the size of a frame that it may be written to. */
  read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    return this.told(async () => {
      const opened = this.openNow();
      await opened;
      try {
        return await this.worker.call.read(index, free);
      } catch (error) {
        if (error instanceof LostError && this.opened === opened) this.opened = null;
        throw error;
      }
    });
  }

  /** See `FrameReader`. */
  parts(index: number): Promise<AlphaSplit<SharedArrayBuffer> | null> {
    return this.told(async () => {
      await this.openNow();
      return this.worker.call.parts(index);
    });
  }

  close(): void {
    this.isClosed = true;
    this.worker.end(closed(this.name));
  }

  private openNow(): Promise<FootageMetadata> {
    if (this.isClosed) return Promise.reject(closed(this.name));
    if (!this.opened) {
      const opened = this.worker.call.open(this.source, builtFiles());
      this.opened = opened;
      opened.catch(() => {
        if (this.opened === opened) this.opened = null;
      });
    }
    return this.opened;
  }

  /** Asks; once more where the worker is lost. @throws LostError with a sentence that names the file. */
  private async told<T>(ask: () => Promise<T>): Promise<T> {
    try {
      return await onceMore(ask);
    } catch (error) {
      if (!(error instanceof LostError)) throw error;
      throw new LostError(`Reading “${this.name}” stalled; the file may be damaged.`);
    }
  }
}

/** Who asks a clip that was closed is no longer interested: nobody needs to hear of it. */
const closed = (name: string): DOMException => new DOMException(`“${name}” was closed.`, 'AbortError');

/** False where the reader was lost, or closed: that says nothing of a single frame. */
const isOfFrame = (error: unknown): boolean =>
  !(error instanceof LostError) && (error as Error).name !== 'AbortError';

let count = 0;

/** A decoded frame, and who may read it. */
interface Frame {
  picture: Promise<Picture>;
  loans: number;
  /** It is at hand for who asks next. */
  isKept: boolean;
  /** Somebody has it for good: its memory is never used again. */
  isGivenAway: boolean;
}

class WorkerSource implements MediaSource {
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly unread = new Map<number, string>();
  private readonly id = `footage-${++count}`;
  private readonly kept: LRUCache<number, Frame>;
  private readonly free = new BufferPool();
  readonly keeps: number;
  private holders = 0;

  constructor(
    readonly footage: FootageMetadata,
    private readonly reader: RemoteReader,
    private readonly name: string,
  ) {
    this.width = footage.width;
    this.height = footage.height;
    this.frames = footage.times.starts.length;
    this.keeps = Math.max(MIN_KEPT, Math.floor(KEPT_BYTES / frameBytes(footage.format, this)));
    this.kept = new LRUCache({
      max: this.keeps,
      dispose: (frame) => {
        frame.isKept = false;
        this.useAgain(frame);
      },
    });
  }

  async frame(index: number): Promise<Picture> {
    const frame = this.at(index);
    frame.isGivenAway = true;
    return frame.picture;
  }

  async borrow(index: number): Promise<Loan> {
    const frame = this.at(index);
    frame.loans++;
    return onLoan(await frame.picture, () => {
      frame.loans--;
      this.useAgain(frame);
    });
  }

  async parts(index: number): Promise<AlphaSplit<Picture> | null> {
    if (!this.footage.isTransparent) return null;
    // In place of one that cannot be read stands the one before it, here as in `frame`.
    const parts = await this.reader.parts(this.unread.has(index) ? await this.readableBefore(index) : index);
    const { width, height } = this;
    const picture = (which: keyof AlphaSplit<unknown>, pixels: SharedArrayBuffer): Picture =>
      Picture.ofFrame({ pixels, width, height, format: PART_FORMAT }, `${this.id} ${index} ${which}`);
    return (
      parts && {
        premultiplied: picture('premultiplied', parts.premultiplied),
        alpha: picture('alpha', parts.alpha),
      }
    );
  }

  /** @throws RangeError for a frame that there is not. */
  private at(index: number): Frame {
    if (!(index >= 0 && index < this.frames))
      throw new RangeError(filesWords.thereIsNoFrame(this.frames, index));
    const known = this.kept.get(index);
    if (known) return known;
    const frame: Frame = { picture: this.read(index), loans: 0, isKept: true, isGivenAway: false };
    this.kept.set(index, frame);
    // What failed is tried again.
    frame.picture.catch(() => {
      if (this.kept.peek(index) === frame) this.kept.delete(index);
    });
    return frame;
  }

  /** Lets another frame have the memory of one that nobody reads any more. */
  private useAgain(frame: Frame): void {
    if (frame.loans > 0 || frame.isKept || frame.isGivenAway) return;
    frame.picture.then(
      (picture) => picture.releaseTo(this.free),
      () => undefined,
    );
  }

  private async read(index: number): Promise<Picture> {
    try {
      return await this.decode(index);
    } catch (error) {
      if (!isOfFrame(error)) throw error;
      // Only what is in the file says this; the frame before stands in for it.
      this.unread.set(index, sentenceOf(error));
      return this.decode(await this.readableBefore(index));
    }
  }

  private async decode(index: number): Promise<Picture> {
    const { format, width, height } = this.footage;
    const free = this.free.takeIfAny(frameBytes(format, this));
    const pixels = await this.reader.read(index, free);
    return Picture.ofFrame({ pixels, width, height, format }, `${this.id} ${index}`);
  }

  /** The nearest frame before one that can be read: a file that is cut short lacks a great many. */
  private async readableBefore(index: number): Promise<number> {
    const isGood = async (i: number): Promise<boolean> => {
      try {
        await this.decode(i);
        return true;
      } catch (error) {
        if (isOfFrame(error)) return false;
        throw error;
      }
    };
    let [good, bad] = [index - 1, index];
    for (let step = 1; !(good >= 0 && (await isGood(good))); step *= 2) {
      if (good <= 0) throw new Error(filesWords.noFrameOfCan(this.name));
      bad = good;
      good = Math.max(0, good - 2 * step);
    }
    while (bad - good > 1) {
      const middle = (good + bad) >> 1;
      if (await isGood(middle)) good = middle;
      else bad = middle;
    }
    return good;
  }

  hold(): () => void {
    this.holders++;
    let isHeld = true;
    return () => {
      if (!isHeld) return;
      isHeld = false;
      if (--this.holders > 0) return;
      this.kept.clear();
      this.reader.close();
    };
  }
}
