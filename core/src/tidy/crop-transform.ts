import { diagonal } from '../geometry/size';
import type { Placement } from '../geometry/raster';
import { type CropGeometry, cropKey, toCrop } from './crop';

type Point = [number, number];

/** Takes points, lengths and directions of a picture to those of a crop of it. */
export interface CropTransform {
  key: string;
  point(at: readonly [number, number]): Point;
  /** What every length is multiplied by. */
  longer: number;
  /** The direction of a line that has an angle, where its two ends are alike. */
  line(deg: number): number;
  /** The direction of something with a head. */
  arrow(deg: number): number;
  placement: Placement;
  flip: boolean;
}

export function cropTransform(sheet: CropGeometry): CropTransform {
  const { picture, turn, flip, width, height, corner, u, v } = sheet;
  const along = (step: readonly [number, number], pixels: number): Point => [
    (step[0] * pixels) / picture.width,
    (step[1] * pixels) / picture.height,
  ];
  return {
    key: cropKey(sheet),
    point([x, y]) {
      const [sx, sy] = toCrop(sheet, [x * picture.width, y * picture.height]);
      return [sx / width, sy / height];
    },
    longer: diagonal(picture) / diagonal(sheet),
    line: (deg) => (flip ? turn - deg : deg - turn),
    arrow: (deg) => (flip ? 180 + turn - deg : deg - turn),
    placement: { corner: along(corner, 1), across: along(u, width), down: along(v, height) },
    flip,
  };
}
