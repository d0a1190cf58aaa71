import { type Crop, type Size, insideCrop } from '@hazy-lens/core';

/** Which way a tab pulls, in the crop's own directions: −1, 0 or 1 across and down. */
export type CropHandle = readonly [number, number];

/** The least that a hand leaves of a side, in pixels of the picture. */
const MIN_PX = 16;

/** Width and height of a crop in pixels of its picture, not rounded. */
function sidesOf({ size }: Crop, { width, height }: Size): [number, number] {
  return [size[0] * width, size[1] * height];
}

/** Cosine and sine of a crop's turn. */
function direction({ turn }: Crop): [number, number] {
  const a = (turn * Math.PI) / 180;
  return [Math.cos(a), Math.sin(a)];
}

/** A crop with a middle and sides in pixels. */
function made(
  crop: Crop,
  [x, y]: readonly [number, number],
  [w, h]: readonly [number, number],
  picture: Size,
): Crop {
  const { width, height } = picture;
  return { ...crop, centre: [x / width, y / height], size: [w / width, h / height] };
}

/** Its four corners in pixels of the picture, in order round it. */
export function cornersOf(crop: Crop, picture: Size): [number, number][] {
  const [cos, sin] = direction(crop);
  const [w, h] = sidesOf(crop, picture);
  const [x, y] = [crop.centre[0] * picture.width, crop.centre[1] * picture.height];
  return ([[-1, -1], [1, -1], [1, 1], [-1, 1]] as const).map(([i, j]) => {
    const [u, v] = [(i * w) / 2, (j * h) / 2];
    return [x + u * cos - v * sin, y + u * sin + v * cos];
  }); // prettier-ignore
}

/** The nearest crop to a wanted one, on the straight way from a good one, that lies inside the picture. */
function asFarAsItGoes(from: Crop, to: Crop, picture: Size): Crop {
  const [start, end] = [cornersOf(from, picture), cornersOf(to, picture)];
  let share = 1;
  for (const [i, p] of start.entries())
    for (const [axis, most] of [picture.width, picture.height].entries()) {
      const by = end[i]![axis]! - p[axis]!;
      const room = by > 0 ? most - p[axis]! : p[axis]!;
      if (Math.abs(by) * share > room) share = Math.max(0, room / Math.abs(by));
    }
  if (share === 1) return to;
  const mix = (a: number, b: number): number => a + (b - a) * share;
  return {
    ...to,
    centre: [mix(from.centre[0], to.centre[0]), mix(from.centre[1], to.centre[1])],
    size: [mix(from.size[0], to.size[0]), mix(from.size[1], to.size[1])],
  };
}

/** A crop moved by pixels of the picture. */
export function moveCrop(crop: Crop, picture: Size, dx: number, dy: number): Crop {
  const [x, y] = crop.centre;
  return insideCrop({ ...crop, centre: [x + dx / picture.width, y + dy / picture.height] }, picture);
}

/**
 * A crop whose edge or corner was pulled by pixels of the picture; the other side stays where it is.
 * @param ratio width to height that is kept, or null.
 */
export function resizeCrop(
  start: Crop,
  picture: Size,
  pull: CropHandle,
  dx: number,
  dy: number,
  ratio: number | null,
): Crop {
  const [cos, sin] = direction(start);
  const along = dx * cos + dy * sin;
  const across = dy * cos - dx * sin;
  const [w, h] = sidesOf(start, picture);
  const sized = (from: Crop, width: number, height: number): Crop => {
    const [w0, h0] = sidesOf(from, picture);
    const [u, v] = [(pull[0] * (width - w0)) / 2, (pull[1] * (height - h0)) / 2];
    const [x, y] = [from.centre[0] * picture.width, from.centre[1] * picture.height];
    const wanted = made(from, [x + u * cos - v * sin, y + u * sin + v * cos], [width, height], picture);
    return asFarAsItGoes(from, wanted, picture);
  };
  const wide = Math.max(MIN_PX, w + pull[0] * along);
  const high = Math.max(MIN_PX, h + pull[1] * across);
  if (ratio !== null) {
    // What the hand pulled farther decides.
    const byWidth = pull[1] === 0 || (pull[0] !== 0 && wide / w > high / h);
    return byWidth ? sized(start, wide, wide / ratio) : sized(start, high * ratio, high);
  }
  // One after the other: where one direction has no room left, the other still goes.
  const widened = sized(start, wide, h);
  return sized(widened, sidesOf(widened, picture)[0], high);
}

/** A crop turned about its middle to an angle in degrees; made smaller where it would reach out of the picture. */
export function rotateCrop(crop: Crop, picture: Size, turn: number): Crop {
  return insideCrop({ ...crop, turn }, picture);
}

/** A crop turned by a quarter, clockwise: what lay along its width lies along its height. */
export function quarterTurned(crop: Crop, picture: Size): Crop {
  const [w, h] = sidesOf(crop, picture);
  const [x, y] = [crop.centre[0] * picture.width, crop.centre[1] * picture.height];
  const turn = crop.turn > 90 ? crop.turn - 270 : crop.turn + 90;
  return made({ ...crop, turn }, [x, y], [h, w], picture);
}

/** A crop of another form about the same middle, as large as it was, or as fits. @param ratio width to height. */
export function setCropAspect(crop: Crop, picture: Size, ratio: number): Crop {
  const [w, h] = sidesOf(crop, picture);
  const [x, y] = [crop.centre[0] * picture.width, crop.centre[1] * picture.height];
  const width = Math.sqrt(w * h * ratio);
  return insideCrop(made(crop, [x, y], [width, width / ratio], picture), picture);
}

/** The turn that makes a line of the picture level or upright, whichever is nearer. @param line its two ends in pixels. */
export function levelTurn([ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): number {
  const angle = (Math.atan2(by - ay, bx - ax) * 180) / Math.PI;
  const turn = angle - 90 * Math.round(angle / 90);
  return Object.is(turn, -0) ? 0 : turn;
}
