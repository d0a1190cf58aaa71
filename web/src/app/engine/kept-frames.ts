/** What rendered frames of footage may take: the second round plays what the first has made. */
const MOST_BYTES = 600_000_000;

/** Rendered frames by what they were made of; the oldest go first. */
export class KeptFrames {
  constructor(private readonly most = MOST_BYTES) {}

  private readonly frames = new Map<string, Uint8Array>();
  private bytes = 0;

  get(key: string): Uint8Array | undefined {
    return this.frames.get(key);
  }

  /** Keeps a copy, and gives it. */
  put(key: string, pixels: Uint8Array): Uint8Array {
    const copy = new Uint8Array(pixels);
    this.frames.set(key, copy);
    this.bytes += copy.length;
    for (const [oldest, { length }] of this.frames) {
      if (this.bytes <= this.most) break;
      this.frames.delete(oldest);
      this.bytes -= length;
    }
    return copy;
  }

  clear(): void {
    this.frames.clear();
    this.bytes = 0;
  }
}
