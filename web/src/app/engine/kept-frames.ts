import { LRUCache } from 'lru-cache';

/** What rendered frames of footage may take: the second round plays what the first has made. */
const MAX_BYTES = 600_000_000;

/** Rendered frames by what they were made of; those that were not used for longest go first. */
export class KeptFrames {
  private readonly frames: LRUCache<string, Uint8Array>;

  constructor(most = MAX_BYTES) {
    this.frames = new LRUCache({ maxSize: most, sizeCalculation: ({ length }) => Math.max(1, length) });
  }

  get(key: string): Uint8Array | undefined {
    return this.frames.get(key);
  }

  /** Keeps a copy, and gives it. */
  put(key: string, pixels: Uint8Array): Uint8Array {
    const copy = new Uint8Array(pixels);
    this.frames.set(key, copy);
    return copy;
  }

  clear(): void {
    this.frames.clear();
  }
}
