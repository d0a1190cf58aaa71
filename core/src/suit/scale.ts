import type { FieldFunction } from '../focus/field-function';
import { type Size, diagonal } from '../geometry/size';

/*
 * Of level ground seen from above, one over the distance falls evenly from row to row and is nothing at the horizon. A lens
 * of aperture A that is focused at a distance d draws what lies at z as a disc of the angle A |1 / d - 1 / z|: on level
 * ground it grows evenly with the rows from the one in focus. So a field and a blur say what A / d would draw them, and an
 * ordinary lens has that A / d only close by: at a model (R. T. Held et al., "Using blur to affect perceived distance and
 * size", ACM TOG 29, 2010).
 */

/** Diagonal of the sensor that focal lengths are said for, in millimetres. */
const SENSOR = Math.hypot(36, 24);
/** The strongest blur that a recipe has, in diagonals. */
const MAX_RADIUS = 0.1;
/** Haze below which a row tells nothing, and above which it may have come to its end. */
const [MIN_HAZE, MAX_HAZE] = [0.03, 0.97];
/** Fewer rows than this say nothing. */
const MIN_ROWS = 6;
const ROWS = 200;

/** Sizes of models that people build, as one over them. */
export const MODEL_SCALES = [24, 43, 87, 160, 220] as const;
/** What a gauge shows. */
export const SCALE_RANGE = [5, 2000] as const;

/** What is assumed of the view and of who looks at the model. */
export interface ScaleView {
  /** Where the horizon is, as a fraction of the height from the top; above the picture it is negative. */
  horizon: number;
  /** How far away in the world is what is in focus, in metres. */
  distance: number;
  /** The lens that looks at the model: focal length in millimetres, and f-number. */
  focal: number;
  fNumber: number;
}

/** What a field and a blur speak of. */
export interface ScaleReading {
  /** A model of 1 : `scale`. */
  scale: number;
  /** Aperture in metres of the lens that would blur the real scene so. */
  aperture: number;
  /** The row in focus, as a fraction of the height. */
  row: number;
}

/** Half an angle of view's width in diagonals of the picture: how long the focal length is in them. */
const focalInDiagonals = ({ focal }: ScaleView): number => focal / SENSOR;
const apertureOf = ({ focal, fNumber }: ScaleView): number => focal / 1000 / fNumber;

/**
 * Reads the scale of the model that a field, down the middle of a picture, and a blur speak of.
 * @param field haze at a point in pixels. @param radius of the blur where haze is 1, in diagonals.
 * @returns null where nothing is blurred, or what is in focus lies above the horizon.
 */
export function readScale(
  field: FieldFunction,
  size: Size,
  radius: number,
  view: ScaleView,
): ScaleReading | null {
  const hazeAt = (y: number): number => field(size.width / 2, y * size.height);
  const rows = Array.from({ length: ROWS }, (_, i) => (i + 0.5) / ROWS).filter((y) => y > view.horizon);
  const hazes = rows.map(hazeAt);
  const least = hazes.reduce((a, b) => Math.min(a, b), 1);
  const clear = rows.filter((_, i) => hazes[i]! <= least + 0.01);
  const row = clear.reduce((sum, y) => sum + y, 0) / Math.max(1, clear.length);
  if (clear.length === 0 || radius <= 0 || row - view.horizon < 0.02) return null;
  let [both, far, count] = [0, 0, 0];
  rows.forEach((y, i) => {
    const haze = hazes[i]!;
    if (haze < MIN_HAZE || haze > MAX_HAZE) return;
    const off = Math.abs(row - y) / (row - view.horizon);
    both += haze * off;
    far += off * off;
    count++;
  });
  if (count < MIN_ROWS || far === 0) return null;
  // A disc's diameter as an angle, for each 1 that one over the distance is off.
  const perOff = ((both / far) * 2 * radius) / focalInDiagonals(view);
  const aperture = perOff * view.distance;
  return { scale: aperture / apertureOf(view), aperture, row };
}

/** What a planar band and a blur must be for a scale. */
export interface ScaledBlur {
  /** In diagonals. */
  radius: number;
  /** Of both sides, from the row in focus to haze 1, in diagonals; haze grows evenly. */
  falloff: number;
  /** The blur would be stronger than a recipe can have it: it ends before the edge of the picture. */
  isHeld: boolean;
}

/** The blur that speaks of a model of 1 : `scale`, in focus at a row. @throws RangeError where that lies above the horizon. */
export function blurForScale(scale: number, row: number, size: Size, view: ScaleView): ScaledBlur {
  const below = row - view.horizon;
  if (below <= 0) throw new RangeError('What is in focus lies above the horizon.');
  const perOff = (scale * apertureOf(view)) / view.distance;
  const farthest = Math.max((row - Math.max(0, view.horizon)) / below, (1 - row) / below);
  const wanted = (perOff * farthest * focalInDiagonals(view)) / 2;
  const radius = Math.min(MAX_RADIUS, wanted);
  const perRow = size.height / diagonal(size);
  return { radius, falloff: farthest * below * perRow * (radius / wanted), isHeld: wanted > MAX_RADIUS };
}
