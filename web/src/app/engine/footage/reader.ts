import type { ClipTimes, FrameFormat, AlphaSplit, Size } from '@hazy-lens/core';

/** What is known of footage when it is opened. */
export interface FootageMetadata extends Size {
  /** How the pixels of its frames lie. */
  format: FrameFormat;
  times: ClipTimes;
  /** As people call it: "H.264", "JPEG", "GIF". */
  codec: string;
  /** Codec of the sound, or null where there is none. */
  sound: string | null;
  /** Some of its frames may have transparent places: they are given on white. */
  isTransparent: boolean;
  /** The first of the frames to its end that the file lacks, which is cut short; null where all are there. */
  missingFrom: number | null;
  /** Sentences about what was found odd. */
  notes: string[];
}

/** Reads frames of footage; lives in a worker. */
export interface FrameReader {
  open(): Promise<FootageMetadata>;
  /**
   * The pixels of a frame in the format of the facts.
   * @param free memory of just its size, which a reader may write it to. @throws Error with a sentence.
   */
  read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer>;
  /** A frame with its transparent places, each part in `PART_FORMAT`; null where it has none. */
  parts?(index: number): Promise<AlphaSplit<SharedArrayBuffer> | null>;
}

/** What a reader is made of. */
export type FootageSource =
  | { kind: 'clip'; file: Blob; name: string }
  | { kind: 'animation'; file: Blob; name: string; type: string }
  | { kind: 'stills'; files: readonly { name: string; file: Blob }[]; fps: number };
