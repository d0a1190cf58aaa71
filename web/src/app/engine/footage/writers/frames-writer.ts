import { encodePixels } from '../../codecs/codec';
import { zipOf } from '../../zip-of';
import { type FilmOptions, type FilmWriter, RGBA, drawnAs } from './film-writer';

/** Numbered pictures in a zip; each is a part. */
export class FramesWriter implements FilmWriter {
  readonly format = RGBA;
  readonly partLength = 1;
  private picture: Promise<Blob> | null = null;

  constructor(
    private readonly type: 'image/jpeg' | 'image/png',
    private readonly options: FilmOptions,
  ) {}

  async add(bytes: Uint8Array): Promise<void> {
    this.picture = this.encode(bytes);
    await this.picture;
  }

  /** The browser's own JPEG is quick; PNG is written as for stills, so that its bytes are the same. */
  private encode(bytes: Uint8Array): Promise<Blob> {
    const { width, height, quality } = this.options;
    if (this.type === 'image/jpeg') return drawnAs(this.type, bytes, { width, height }, quality);
    return encodePixels(bytes, {
      width,
      height,
      quality,
      type: this.type,
      format: { channels: 4, bytes: 1 },
      isTransparent: false,
      exif: null,
    });
  }

  endPart(): Promise<Blob> {
    return this.picture!;
  }

  join(parts: readonly Blob[]): Promise<Blob> {
    const { name, frames } = this.options;
    const digits = Math.max(4, String(frames).length);
    const ending = this.type === 'image/png' ? '.png' : '.jpg';
    return zipOf(
      parts.map((file, i) => ({ name: `${name}-${String(i + 1).padStart(digits, '0')}${ending}`, file })),
    );
  }

  async cancel(): Promise<void> {
    this.picture = null;
  }
}
