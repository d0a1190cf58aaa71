import { NO_METADATA, holdsAlpha } from '@hazy-lens/core';
import { encodePixels } from '../../codecs/codec';
import { zipOf } from '../../zip-of';
import { encodeOnCanvas } from '../../canvas-encoder';
import { type FilmOptions, type FilmWriter, RGBA } from './clip-writer';

/** What picture i is called, from 1 on: as many digits as the last one has. */
export function pictureName(
  { name, frames }: Pick<FilmOptions, 'name' | 'frames'>,
  type: 'image/jpeg' | 'image/png',
  i: number,
): string {
  const digits = Math.max(4, String(frames).length);
  return `${name}-${String(i + 1).padStart(digits, '0')}${type === 'image/png' ? '.png' : '.jpg'}`;
}

/** Numbered pictures in a zip; each is a part. */
export class FramesWriter implements FilmWriter {
  readonly format = RGBA;
  readonly hasAlpha: boolean;
  readonly partLength = 1;
  private picture: Promise<Blob> | null = null;

  constructor(
    private readonly type: 'image/jpeg' | 'image/png',
    private readonly options: FilmOptions,
  ) {
    this.hasAlpha = options.isTransparent && holdsAlpha({ writer: { by: 'frames', type } });
  }

  async add(bytes: Uint8Array): Promise<void> {
    // The next is rendered meanwhile; who takes the part waits for it.
    this.picture = this.encode(bytes);
    this.picture.catch(() => undefined);
  }

  /** The browser's own JPEG is quick; PNG is written as for stills, so that its bytes are the same. */
  private encode(bytes: Uint8Array): Promise<Blob> {
    const { width, height, quality } = this.options;
    if (this.type === 'image/jpeg') return encodeOnCanvas(this.type, bytes, { width, height }, quality);
    return encodePixels(new Uint8Array(bytes), {
      width,
      height,
      quality,
      type: this.type,
      format: { channels: 4, bytes: 1 },
      space: 'srgb',
      isTransparent: this.hasAlpha,
      notes: { of: NO_METADATA, choice: 'none' },
    });
  }

  endPart(): Promise<Blob> {
    return this.picture!;
  }

  join(parts: readonly Blob[]): Promise<Blob> {
    return zipOf(parts.map((file, i) => ({ name: pictureName(this.options, this.type, i), file })));
  }

  async cancel(): Promise<void> {
    this.picture = null;
  }
}
