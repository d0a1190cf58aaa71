import type { ResolvedFocus } from '../focus/field';
import { type Size, diagonal } from '../geometry/size';
import type { Matte } from '../recipe/focus-schema';
import { type Raster, mipLevelFor, sampleRaster, sharedSamples } from '../geometry/raster';
import type { Scratch } from '../memory';
import { toLinear } from '../pixels/transfer';
import { fillWindow } from '../tidy/mend';
import { type Samples, whiteOf } from '../tidy/mend/window';
import { groundDepth } from './ground-depth';
import { LIGHT_TOP, type LayerImage, layerBytes, lightImage, linearSamples } from './image';
import type { LayerLook } from './layer';
import type { Box, LayerPlace } from './placing';
import { softenInwards } from './soften-inwards';

/** A subject that was taken out of a picture, and the ground that was made up behind it; both lie at the same place. */
export interface LiftedSubject {
  subject: LayerImage;
  ground: LayerImage;
  place: LayerPlace;
}

/** The ground is made up at this size at most: the longer side of the picture in pixels. */
const GROUND_EDGE = 1600;
/** What is looked at around a subject, as a share of its size, and in pixels at least and at most. */
const AROUND = { share: 0.8, least: 16, most: 300 } as const;
/** From this share of a matte on only what was made up is ground: what shows there is stained by the subject. */
const STAINED_FROM = 1 / 8;
/** Less of a matte is nothing: one step of 8 bits is 1 / 255. */
const LEAST = 1 / 512;

/**
 * Takes a subject out of a picture. The ground behind it is filled in from around it; where the matte is m, its light p is
 * that of the subject over the ground b: p = m c + (1 − m) b, so m c = p − (1 − m) b.
 * @param scratch memory that filling may use. @param matte what is subject. @param id the same for the same of both.
 * @returns null where there is no subject, or a picture with transparent places, which has no ground.
 */
export async function liftSubject(
  scratch: Scratch,
  module: WebAssembly.Module,
  samples: Samples,
  matte: Raster,
  id: string,
  onProgress: (done: number) => void = () => undefined,
): Promise<LiftedSubject | null> {
  const { width, height, channels, data } = samples;
  const share = shareOf(matte, samples);
  const box = boxOf(share, samples);
  if (!box || samples.parts) return null;
  const behind = await groundBehind(scratch, module, samples, share, box, onProgress);
  const linear = linearSamples(whiteOf(samples) === 255 ? 255 : 65535);
  const light = [0, 0, 0];
  const count = box.width * box.height;
  const [subject, ground] = [sharedSamples(4 * count), sharedSamples(4 * count)];
  for (let y = box.y, to = 0; y < box.y + box.height; y++)
    for (let x = box.x; x < box.x + box.width; x++, to += 4) {
      const m = share(x, y);
      if (m < LEAST) continue;
      const from = (y * width + x) * channels;
      const stain = Math.min(1, m / STAINED_FROM);
      behind(x, y, light);
      for (let c = 0; c < 3; c++) {
        const p = linear[data[from + c]!]!;
        const b = light[c]! * LIGHT_TOP;
        ground[to + c] = stain * b + 0.5;
        const below = p + stain * (b - p);
        subject[to + c] = Math.min(m * LIGHT_TOP, Math.max(0, p - (1 - m) * below)) + 0.5;
      }
      ground[to + 3] = stain * LIGHT_TOP + 0.5;
      subject[to + 3] = m * LIGHT_TOP + 0.5;
    }
  return {
    subject: lightImage(`subject ${id}`, box, subject),
    ground: lightImage(`ground ${id}`, box, ground),
    place: {
      centre: [(box.x + box.width / 2) / width, (box.y + box.height / 2) / height],
      width: box.width / diagonal(samples),
      turn: 0,
      flip: false,
    },
  };
}

/** Bytes that it takes. */
export function liftedBytes({ subject, ground }: LiftedSubject): number {
  return layerBytes(subject) + layerBytes(ground);
}

/** How much of a pixel of a picture is subject. */
type Share = (x: number, y: number) => number;

function shareOf(matte: Raster, { width, height }: Size): Share {
  const level = mipLevelFor(matte, width);
  const { samples } = level;
  if (level.width === width && level.height === height) return (x, y) => samples[y * width + x]! / 65535;
  return (x, y) => sampleRaster(level, (x + 0.5) / width, (y + 0.5) / height);
}

/** The box around all that is subject; null where nothing is. */
function boxOf(share: Share, { width, height }: Size): Box | null {
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (share(x, y) < LEAST) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  return right < 0 ? null : { x: left, y: top, width: right + 1 - left, height: bottom + 1 - top };
}

/** Fills in the ground behind a subject. @returns what writes its linear light at a pixel of the picture. */
async function groundBehind(
  scratch: Scratch,
  module: WebAssembly.Module,
  { width, height, channels, data }: Samples,
  share: Share,
  box: Box,
  onProgress: (done: number) => void,
): Promise<(x: number, y: number, light: number[]) => void> {
  const white = whiteOf({ width, height, channels, data });
  const scale = Math.min(1, GROUND_EDGE / Math.max(width, height));
  const [wide, tall] = [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
  const [sx, sy] = [wide / width, tall / height];
  const around = Math.round(
    Math.min(AROUND.most, Math.max(AROUND.least, AROUND.share * scale * Math.max(box.width, box.height))),
  );
  const left = Math.max(0, Math.floor(box.x * sx) - around);
  const top = Math.max(0, Math.floor(box.y * sy) - around);
  const size = {
    width: Math.min(wide, Math.ceil((box.x + box.width) * sx) + around) - left,
    height: Math.min(tall, Math.ceil((box.y + box.height) * sy) + around) - top,
  };
  const colours = new Float32Array(size.width * size.height * 3);
  const cover = new Float32Array(size.width * size.height);
  for (let j = 0, at = 0; j < size.height; j++)
    for (let i = 0; i < size.width; i++, at++) {
      const [x0, x1] = cellOf(left + i, sx, width);
      const [y0, y1] = cellOf(top + j, sy, height);
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1 && cover[at] === 0; x++) {
          // What is stained by the subject says nothing of the ground.
          if (share(x, y) >= LEAST) cover[at] = 1;
          const from = (y * width + x) * channels;
          for (let c = 0; c < 3; c++) colours[at * 3 + c]! += data[from + c]!;
        }
      for (let c = 0; c < 3; c++) colours[at * 3 + c]! /= white * (x1 - x0) * (y1 - y0);
    }
  const window = { ...size, x: left, y: top, colours, cover };
  const filled = await fillWindow(scratch, module, window, onProgress);
  const light = filled.map((coded) => toLinear(Math.min(1, Math.max(0, coded))));
  softenInwards(light, 3, cover, size);
  const held = (value: number, most: number): number => Math.min(most, Math.max(0, value));
  return (x, y, out) => {
    const u = held((x + 0.5) * sx - 0.5 - left, size.width - 1);
    const v = held((y + 0.5) * sy - 0.5 - top, size.height - 1);
    const [i, j] = [Math.min(size.width - 2, Math.floor(u)), Math.min(size.height - 2, Math.floor(v))];
    // A window is as wide and high as what lies around a subject at least, but for a picture of one pixel.
    const first = 3 * (Math.max(0, j) * size.width + Math.max(0, i));
    const [right, below] = [size.width > 1 ? 3 : 0, size.height > 1 ? 3 * size.width : 0];
    const [tx, ty] = [u - Math.max(0, i), v - Math.max(0, j)];
    for (let c = 0; c < 3; c++) {
      const at = first + c;
      const upper = light[at]! + tx * (light[at + right]! - light[at]!);
      const lower = light[at + below]! + tx * (light[at + below + right]! - light[at + below]!);
      out[c] = upper + ty * (lower - upper);
    }
  };
}

/** The pixels that a sample of a smaller picture is made of. */
function cellOf(i: number, scale: number, most: number): [from: number, to: number] {
  const from = Math.min(most - 1, Math.round(i / scale));
  return [from, Math.max(from + 1, Math.min(most, Math.round((i + 1) / scale)))];
}

/**
 * What of a field is layers: subjects that are lifted get the haze that they have in it, all over; the ground behind them
 * has the haze that it would have without them. One that is not there yet stays in the picture.
 */
export function liftedLayers(
  field: ResolvedFocus,
  mattes: readonly Matte[],
  lifted: ReadonlyMap<string, LiftedSubject>,
): { field: ResolvedFocus; subjects: LayerLook[]; grounds: LayerLook[] } {
  const isLifted = ({ matte }: ResolvedFocus['keep'][number]): boolean =>
    mattes.some((one) => one.id === matte && one.lifted && lifted.has(one.id));
  const empty = { soundings: [], depth: null, bands: [], strokes: [], keep: [] };
  const layer = (id: string, image: LayerImage, place: LayerPlace, rest: number): LayerLook => ({
    id,
    image,
    opacity: 1,
    field: { ...empty, rest },
    ...place,
  });
  const all = field.keep.filter(isLifted);
  const withoutSubjects = ({ keep, depth }: ResolvedFocus): Partial<ResolvedFocus> => ({
    keep: keep.filter((one) => !all.includes(one)),
    depth: depth && {
      ...depth,
      map: groundDepth(
        depth.map,
        all.map(({ raster }) => raster),
      ),
    },
  });
  return {
    field: all.length === 0 ? field : { ...field, ...withoutSubjects(field) },
    subjects: all.map(({ matte = '', haze = 0 }) => {
      const { subject, place } = lifted.get(matte)!;
      return { ...layer(`subject ${matte}`, subject, place, haze), isOwn: true };
    }),
    grounds: all.map(({ matte = '' }) => {
      const { ground, place } = lifted.get(matte)!;
      return layer(`ground ${matte}`, ground, place, 0);
    }),
  };
}
