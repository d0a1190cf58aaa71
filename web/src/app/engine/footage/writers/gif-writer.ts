import { wrap } from 'comlink';
import type { GifWorker } from '../gif.worker';
import { type FilmOptions, type FilmWriter, RGBA } from './film-writer';

/** What ends a GIF (GIF89a, section 27). */
const TRAILER = new Uint8Array([0x3b]);

/** An animated GIF; a part is a run of its frames, the first with the file's head. */
export class GifWriter implements FilmWriter {
  readonly format = RGBA;
  readonly partLength = 20;
  private readonly worker = new Worker(new URL('../gif.worker', import.meta.url), { type: 'module' });
  private readonly remote = wrap<GifWorker>(this.worker);

  constructor(private readonly options: FilmOptions) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { width, height, fps } = this.options;
    // Delays are hundredths of a second: what one is rounded by, the next makes good.
    const hundredths = (i: number): number => Math.round((i * 100) / fps);
    const delay = hundredths(index + 1) - hundredths(index);
    await this.remote.add(new Uint8Array(bytes), { width, height }, delay, index === 0);
  }

  async endPart(): Promise<Blob> {
    return new Blob([await this.remote.take()]);
  }

  async join(parts: readonly Blob[]): Promise<Blob> {
    this.worker.terminate();
    return new Blob([...parts, TRAILER], { type: 'image/gif' });
  }

  async cancel(): Promise<void> {
    this.worker.terminate();
  }
}
