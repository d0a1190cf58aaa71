import { frameBytes } from '@hazy-lens/core';
import type { Remote } from 'comlink';
import type { Material } from '../material';
import { Picture } from '../picture';
import { Recent } from '../recent';
import { remoteOf } from '../remote';
import type { FootageWorker } from './footage.worker';
import type { FootageFacts, FootageSource } from './reader';

/** Decoded frames that are kept, in bytes: around the playhead one goes back and forth. */
const KEPT_BYTES = 160_000_000;
const LEAST_KEPT = 4;
/** A reader that says nothing for so long is ended. */
const PATIENCE_MS = 15_000;

/** Opens footage. @throws Error with a sentence that names the file. */
export async function openFootage(source: FootageSource): Promise<Material> {
  const name = source.kind === 'stills' ? (source.files[0]?.name ?? 'the pictures') : source.name;
  const worker = new Worker(new URL('./footage.worker', import.meta.url), { type: 'module' });
  const remote = remoteOf<FootageWorker>(worker);
  try {
    const facts = await inTime(remote.open(source), name);
    return new Footage(facts, worker, remote, name);
  } catch (error) {
    worker.terminate();
    throw error;
  }
}

function inTime<T>(work: Promise<T>, name: string): Promise<T> {
  let timer = 0;
  const late = new Promise<never>((_, reject) => {
    timer = window.setTimeout(
      () => reject(new Error(`Reading “${name}” does not get on; the file may be damaged.`)),
      PATIENCE_MS,
    );
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}

let count = 0;

class Footage implements Material {
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly unread = new Map<number, string>();
  private readonly id = `footage-${++count}`;
  private readonly kept: Recent<number, Picture>;
  readonly keeps: number;
  private holders = 0;

  constructor(
    readonly footage: FootageFacts,
    private readonly worker: Worker,
    private readonly remote: Remote<FootageWorker>,
    private readonly name: string,
  ) {
    this.width = footage.width;
    this.height = footage.height;
    this.frames = footage.times.starts.length;
    this.keeps = Math.max(LEAST_KEPT, Math.floor(KEPT_BYTES / frameBytes(footage.format, this)));
    this.kept = new Recent(this.keeps);
  }

  frame(index: number): Promise<Picture> {
    if (!(index >= 0 && index < this.frames))
      return Promise.reject(new RangeError(`There are ${this.frames} frames, and none of number ${index}.`));
    return this.kept.get(index, () => this.read(index));
  }

  private async read(index: number): Promise<Picture> {
    try {
      return await this.decode(index);
    } catch (error) {
      // Only what is in the file says this; the frame before stands in for it.
      this.unread.set(index, (error as Error).message);
      return this.decode(await this.readableBefore(index));
    }
  }

  private async decode(index: number): Promise<Picture> {
    const { format, width, height } = this.footage;
    const pixels = await inTime(this.remote.read(index), this.name);
    return Picture.ofFrame({ pixels, width, height, format }, `${this.id} ${index}`);
  }

  /** The nearest frame before one that can be read: a file that is cut short lacks a great many. */
  private async readableBefore(index: number): Promise<number> {
    const isGood = (i: number): Promise<boolean> => this.decode(i).then(() => true, () => false); // prettier-ignore
    let [good, bad] = [index - 1, index];
    for (let step = 1; !(good >= 0 && (await isGood(good))); step *= 2) {
      if (good <= 0) throw new Error(`No frame of “${this.name}” can be read. It may be damaged.`);
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
      this.worker.terminate();
    };
  }
}
