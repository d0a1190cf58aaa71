import { WorkerClient } from '../../worker-client';
import type { GifWorker } from '../gif.worker';
import { type FilmOptions, type FilmWriter, RGBA } from './clip-writer';

/** What ends a GIF (GIF89a, section 27). */
const TRAILER = new Uint8Array([0x3b]);

/** An animated GIF; a part is a run of its frames, the first with the file's head. */
export class GifWriter implements FilmWriter {
  readonly format = RGBA;
  readonly hasAlpha = false;
  readonly partLength = 20;
  private readonly worker = new WorkerClient<GifWorker>(
    () => new Worker(new URL('../gif.worker', import.meta.url), { type: 'module' }),
  );
  private written: Promise<void> = Promise.resolve();

  constructor(private readonly options: FilmOptions) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { width, height, fps } = this.options;
    // Delays are hundredths of a second: what one is rounded by, the next makes good.
    const hundredths = (i: number): number => Math.round((i * 100) / fps);
    const delay = hundredths(index + 1) - hundredths(index);
    // The next is rendered while this one is written.
    const last = this.written;
    this.written = this.worker.call.add(new Uint8Array(bytes), { width, height }, delay, index === 0);
    this.written.catch(() => undefined);
    await last;
  }

  async endPart(): Promise<Blob> {
    const taken = this.worker.call.take();
    await this.written;
    return new Blob([await taken]);
  }

  async join(parts: readonly Blob[]): Promise<Blob> {
    this.worker.end();
    return new Blob([...parts, TRAILER], { type: 'image/gif' });
  }

  async cancel(): Promise<void> {
    this.worker.end();
  }
}
