import type { FrameFormat, Size } from '@hazy-lens/core';
import type { Sound } from '../sound';

export interface FilmOptions extends Size {
  fps: number;
  frames: number;
  /** Bits a second, for kinds that an encoder writes. */
  bitrate: number;
  /** What an encoder holds to: an even quality, where it can, or the bits a second. */
  holds: 'quality' | 'bitrate';
  /** 0..1, for pictures that lose something. */
  quality: number;
  /** Begins the names of single pictures. */
  name: string;
  /** Its pictures have transparent places, which are kept where the kind of file can hold them. */
  isTransparent: boolean;
  /** Goes along, where the kind of file can hold one; null for none. */
  sound: Sound | null;
}

/** Writes a film part by part: parts can be kept as they come, and the film is its parts in order. */
export interface FilmWriter {
  /** How the pixels are wanted, see `FilmFormat`. */
  readonly format: FrameFormat;
  readonly hasAlpha: boolean;
  /** Pictures of one part; the last may have fewer. */
  readonly partLength: number;
  /** Takes the next picture of a part; its bytes are free again when this ends. */
  add(bytes: Uint8Array, index: number): Promise<void>;
  /** Ends a part. The next may be begun before this one is there. */
  endPart(): Promise<Blob>;
  /** Bytes that a film of so many pictures may have, as far as what was written tells; without it they grow evenly. */
  expectedBytes?(pictures: number): number;
  /** The film of the parts from the first on: of all of them, or of those that there are. */
  join(parts: readonly Blob[]): Promise<Blob>;
  /** Lets go of everything where no part is wanted any more. */
  cancel(): Promise<void>;
}

export const RGBA: FrameFormat = { channels: 4, bytes: 1 };
