import { encodeOnCanvas } from '../../canvas-encoder';
import { animationFrame, animationHead } from '../webp-animation';
import { type FilmOptions, type FilmWriter, RGBA } from './clip-writer';

/** A WebP that moves, of pictures that the browser writes; a part is a run of its frames. */
export class WebpWriter implements FilmWriter {
  readonly format = RGBA;
  readonly hasAlpha = false;
  readonly partLength = 20;
  private frames: Promise<Blob>[] = [];

  constructor(private readonly options: FilmOptions) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { fps, quality } = this.options;
    const ms = (i: number): number => Math.round((i * 1000) / fps);
    const frame = async (): Promise<Blob> => {
      const file = await encodeOnCanvas('image/webp', bytes, this.options, quality);
      const picture = new Uint8Array(await file.arrayBuffer());
      return new Blob([animationFrame(picture, this.options, ms(index + 1) - ms(index))]);
    };
    // The next is rendered while this one is written.
    const last = this.frames.at(-1);
    this.frames.push(frame());
    this.frames.at(-1)!.catch(() => undefined);
    await last;
  }

  async endPart(): Promise<Blob> {
    return new Blob(await Promise.all(this.frames.splice(0)));
  }

  async join(parts: readonly Blob[]): Promise<Blob> {
    const bytes = parts.reduce((sum, { size }) => sum + size, 0);
    return new Blob([animationHead(this.options, bytes), ...parts], { type: 'image/webp' });
  }

  async cancel(): Promise<void> {
    this.frames.length = 0;
  }
}
