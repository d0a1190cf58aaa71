import type { PixelFormat, Size } from '@hazy-lens/core';
import type { Picture } from './picture';

/**
 * What a project stands on, as the stage, small pictures and exports read it: frames in order, of which a still has one.
 * Whatever gives frames one day (a clip, a folder of numbered pictures) is another of these.
 */
export interface Material extends Size {
  /** How the pixels of its frames lie. */
  readonly format: PixelFormat;
  readonly frames: number;
  /** A frame, which may have to be decoded first. @throws RangeError for one that there is not. */
  frame(index: number): Promise<Picture>;
}

/** A still as material: it has one frame, which is there. */
export function still(picture: Picture): Material {
  const { width, height, format } = picture;
  return {
    width,
    height,
    format,
    frames: 1,
    async frame(index) {
      if (index !== 0) throw new RangeError(`A still has one frame, not a frame ${index}.`);
      return picture;
    },
  };
}
