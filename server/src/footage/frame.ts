import type { ClipTimes, FrameFormat, Size } from '@hazy-lens/core';

/** A frame as it was decoded: interleaved samples, or planes one behind the other. */
export interface Frame extends Size {
  format: FrameFormat;
  data: Buffer;
}

/** Footage that is read frame by frame, all of one size and kind. */
export interface FrameSource extends Size {
  readonly format: FrameFormat;
  readonly times: ClipTimes;
  /** @throws InputError that names the file, where it cannot be read. */
  at(index: number): Promise<Frame>;
  close(): Promise<void>;
}

/** Bytes in memory that workers share. */
export function shared({ data }: Frame): SharedArrayBuffer {
  const pixels = new SharedArrayBuffer(data.length);
  new Uint8Array(pixels).set(data);
  return pixels;
}
