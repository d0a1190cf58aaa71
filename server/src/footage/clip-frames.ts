import type { ClipTimes, FrameFormat } from '@hazy-lens/core';
import { frameBytes } from '@hazy-lens/core';
import { InputError } from '../render/picture';
import { type ClipFacts, probeClip } from './clip-probe';
import { type Running, readsClip, start } from './ffmpeg';
import type { Frame, FrameSource } from './frame';

/** Decoded frames that are kept, at most, and how much they may take. */
const MAX_KEPT = 24;
const MAX_KEPT_BYTES = 600_000_000;

/** A clip's frames, decoded by ffmpeg: onwards in one run of it, from another place in a new one. */
export class ClipFrames implements FrameSource {
  private readonly kept = new Map<number, Buffer>();
  private readonly mostKept: number;
  private stream: { running: Running; chunks: AsyncIterator<Buffer>; next: number; rest: Buffer } | null =
    null;
  /** Frames are asked for side by side, and read one after the other. */
  private turn: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly path: string,
    readonly facts: ClipFacts,
  ) {
    this.mostKept = Math.max(4, Math.min(MAX_KEPT, Math.floor(MAX_KEPT_BYTES / this.bytes)));
  }

  /** @throws InputError that names the file. */
  static async open(path: string): Promise<ClipFrames> {
    return new ClipFrames(path, await probeClip(path));
  }

  get width(): number {
    return this.facts.width;
  }

  get height(): number {
    return this.facts.height;
  }

  get format(): FrameFormat {
    return this.facts.format;
  }

  get times(): ClipTimes {
    return this.facts.times;
  }

  private get bytes(): number {
    return frameBytes(this.format, this);
  }

  at(index: number): Promise<Frame> {
    const frame = this.turn.then(async () => {
      const { width, height, format } = this;
      return { width, height, format, data: this.kept.get(index) ?? (await this.read(index)) };
    });
    this.turn = frame.catch(() => undefined);
    return frame;
  }

  /** Reads on to a frame, or begins again near it; what is read on the way is kept. */
  private async read(index: number): Promise<Buffer> {
    const next = this.stream?.next ?? Infinity;
    if (index < next || index > next + this.mostKept) {
      // Who goes backwards will want those before it.
      const goesBack = this.kept.has(index + 1);
      this.startAt(goesBack ? Math.max(0, index + 1 - this.mostKept) : index);
    }
    for (;;) {
      const { next: at } = this.stream!;
      const frame = await this.readNext();
      this.kept.set(at, frame);
      if (this.kept.size > this.mostKept) this.kept.delete(this.kept.keys().next().value!);
      if (at === index) return frame;
    }
  }

  private startAt(index: number): void {
    this.stream?.running.stop();
    const { stamps, startTime, pixelFormat } = this.facts;
    const args: string[] = [];
    if (index > 0) {
      // Between the frame before and this one, so that no rounding leaves it out.
      const at = (stamps[index - 1]! + stamps[index]!) / 2 - startTime;
      args.push('-ss', at.toFixed(6));
    }
    args.push(...readsClip(this.path), '-map', '0:v:0', '-fps_mode', 'passthrough');
    args.push('-f', 'rawvideo', '-pix_fmt', pixelFormat, 'pipe:1');
    const running = start('ffmpeg', args);
    const chunks = (running.child.stdout! as AsyncIterable<Buffer>)[Symbol.asyncIterator]();
    this.stream = { running, chunks, next: index, rest: Buffer.alloc(0) };
  }

  private async readNext(): Promise<Buffer> {
    const stream = this.stream!;
    const frame = Buffer.alloc(this.bytes);
    let filled = 0;
    while (filled < frame.length) {
      if (stream.rest.length === 0) {
        const { done, value } = await stream.chunks.next();
        if (done) {
          await stream.running.finish(`${this.path}: frame ${stream.next + 1} can’t be read`);
          throw new InputError(
            `${this.path}: ends before frame ${stream.next + 1}. The file may be damaged.`,
          );
        }
        stream.rest = value;
      }
      const n = stream.rest.copy(frame, filled);
      filled += n;
      stream.rest = stream.rest.subarray(n);
    }
    stream.next++;
    return frame;
  }

  async close(): Promise<void> {
    await this.turn;
    this.stream?.running.stop();
    this.stream = null;
    this.kept.clear();
  }
}
