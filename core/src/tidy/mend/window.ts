import type { Size } from '../../geometry/size';
import type { AlphaSplit } from '../../pixels/alpha-split';
import { strokeCoverage, packStroke } from '../../focus/strokes';
import type { Mend } from '../../recipe/tidy-schema';

/** A part of a picture that a mend looks at, as floats: coded values 0..1, three a pixel. */
export interface MendWindow extends Size {
  /** Its place in the picture. */
  x: number;
  y: number;
  colours: Float32Array;
  /** How much of the mend lies on each pixel, 0..1. */
  cover: Float32Array;
}

/** Samples of a whole picture, row by row; transparent places on white. */
export interface Samples extends Size {
  data: Uint8Array | Uint16Array;
  channels: number;
  /** The same with its transparent places, where it has some. */
  parts?: AlphaSplit<Uint16Array> | null;
}

/** The highest value of a sample. */
export function whiteOf({ data }: Samples): number {
  return data instanceof Uint16Array ? 65535 : 255;
}

/** What is looked at around a mend, as a share of its own size, and in pixels at least and at most. */
const AROUND = { share: 0.8, least: 40, most: 480 } as const;

/** The box of pixels that a mend reaches, in whole pixels inside the picture; null where it lies outside. */
function boxOf(
  { points, radius }: Mend,
  size: Size,
): { x: number; y: number; right: number; bottom: number } | null {
  const reach = radius * Math.hypot(size.width, size.height);
  const span = (axis: 0 | 1, most: number): [number, number] => {
    const at = points.map((point) => point[axis] * most);
    return [
      Math.max(0, Math.floor(at.reduce((a, b) => Math.min(a, b)) - reach)),
      Math.min(most, Math.ceil(at.reduce((a, b) => Math.max(a, b)) + reach)),
    ];
  };
  const [x, right] = span(0, size.width);
  const [y, bottom] = span(1, size.height);
  return right > x && bottom > y ? { x, y, right, bottom } : null;
}

/** Reads what a mend looks at out of a picture; null where it lies outside. */
export function mendWindow(samples: Samples, mend: Mend): MendWindow | null {
  const box = boxOf(mend, samples);
  if (!box) return null;
  const around = Math.round(
    Math.min(
      AROUND.most,
      Math.max(AROUND.least, AROUND.share * Math.max(box.right - box.x, box.bottom - box.y)),
    ),
  );
  const x = Math.max(0, box.x - around);
  const y = Math.max(0, box.y - around);
  const width = Math.min(samples.width, box.right + around) - x;
  const height = Math.min(samples.height, box.bottom + around) - y;
  const colours = new Float32Array(width * height * 3);
  const cover = new Float32Array(width * height);
  const white = whiteOf(samples);
  const coverage = strokeCoverage(
    packStroke({ ...mend, mode: 'haze', strength: 1, pressure: 'none' }, ''),
    samples,
  );
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const from = ((y + j) * samples.width + x + i) * samples.channels;
      const to = (j * width + i) * 3;
      for (let c = 0; c < 3; c++) colours[to + c] = samples.data[from + c]! / white;
      const isInside = x + i >= box.x && x + i < box.right && y + j >= box.y && y + j < box.bottom;
      if (isInside) cover[j * width + i] = coverage(x + i + 0.5, y + j + 0.5);
    }
  return { x, y, width, height, colours, cover };
}

/** Which pixels of a window a mend reaches, as 1. `TypedArray.from` with a function takes a hundred times as long. */
export function holeOf(share: Float32Array): Uint8Array {
  const hole = new Uint8Array(share.length);
  for (let at = 0; at < share.length; at++) if (share[at]! > 0) hole[at] = 1;
  return hole;
}

/** Writes what a mend made of its window: as much of it as lies on each pixel. @param share see `MendWindow.cover`. */
export function putWindow(
  samples: Samples,
  window: MendWindow,
  made: Float32Array,
  share: Float32Array,
): void {
  const { x, y, width, height, colours } = window;
  const white = whiteOf(samples);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i;
      const alpha = share[at]!;
      if (alpha === 0) continue;
      const to = ((y + j) * samples.width + x + i) * samples.channels;
      for (let c = 0; c < 3; c++) {
        const was = colours[at * 3 + c]!;
        const value = was + (made[at * 3 + c]! - was) * alpha;
        samples.data[to + c] = Math.round(white * Math.min(1, Math.max(0, value)));
      }
    }
}
