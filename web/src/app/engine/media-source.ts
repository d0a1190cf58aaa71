import type { AlphaSplit, Size } from '@hazy-lens/core';
import type { FootageMetadata } from './footage/reader';
import type { Picture } from './picture';
import { filesWords } from '../words/files';

/** A picture that is given back after use, by who may read it until then. */
export interface Loan {
  picture: Picture;
  giveBack: () => void;
}

/** @param end is called once, when the picture is given back. */
export function onLoan(picture: Picture, end: () => void = () => undefined): Loan {
  let isOut = true;
  const giveBack = (): void => {
    if (isOut) end();
    isOut = false;
  };
  return { picture, giveBack };
}

/**
 * What a project stands on, as the stage, the reel, small pictures and exports read it: frames in order, of which a still
 * has one.
 */
export interface MediaSource extends Size {
  readonly frames: number;
  /** What is known of footage; null for a still. */
  readonly footage: FootageMetadata | null;
  /**
   * A frame, which may have to be decoded first. One that cannot be read is given as the one before it, see `unread`.
   * @throws RangeError for one that there is not; Error with a sentence where nothing can be read.
   */
  frame(index: number): Promise<Picture>;
  /**
   * A frame for a moment: once it is given back, its memory may serve another. To be used where one frame after the other
   * is gone through; rejects as `frame` does.
   */
  borrow(index: number): Promise<Loan>;
  /** A frame with its transparent places; null where it has none, or they cannot be had. */
  parts(index: number): Promise<AlphaSplit<Picture> | null>;
  /** Frames that stay decoded: so many can be gone back over without reading them again. */
  readonly keeps: number;
  /** Frames that could not be read, and why. */
  readonly unread: ReadonlyMap<number, string>;
  /** Says that it is in use until what this gives is called; the last to let go closes it for good. */
  hold(): () => void;
}

/** Has a frame read that is wanted soon. What fails is told to who asks for it then. */
export async function readAhead(material: MediaSource, index: number): Promise<void> {
  await material.borrow(index).then(
    ({ giveBack }) => giveBack(),
    () => undefined,
  );
}

/** A still as material: it has one frame, which is there. */
export function still(picture: Picture): MediaSource {
  const { width, height } = picture;
  return {
    width,
    height,
    frames: 1,
    keeps: 1,
    parts: async () => picture.parts,
    footage: null,
    unread: new Map(),
    async frame(index) {
      if (index !== 0) throw new RangeError(filesWords.aStillHasOneFrame(index));
      return picture;
    },
    async borrow(index) {
      return onLoan(await this.frame(index));
    },
    hold: () => () => undefined,
  };
}
