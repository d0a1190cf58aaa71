import {
  type AlphaSplit,
  type PixelFormat,
  type Primaries,
  type RgbaImage,
  type Recipe,
  type Region,
  type CropGeometry,
  type Size,
  type Threads,
  type CutRegion,
  renderCrop,
  shownBytes,
  isUncropped,
  scaledSize,
  cropKey,
  cropOf,
} from '@hazy-lens/core';
import type { Picture } from './picture';

/** A picture that any part can be cut out of, at its own size or smaller. */
export abstract class RegionReader implements Size {
  /** The same for the same pixels. */
  abstract readonly id: string;
  abstract readonly width: number;
  abstract readonly height: number;
  /** How the pixels lie that are cut out of it. */
  abstract readonly readFormat: PixelFormat;
  /** What its light is made of. */
  abstract readonly primaries: Primaries;
  /** Times how much light its samples are. */
  abstract readonly gain: number;
  /** The same with its transparent places, for files that keep them; null where it has none. */
  abstract readonly parts: AlphaSplit<RegionReader> | null;

  /** Writes a region of the picture, scaled to `region.picture`, into shared memory, as `readFormat`. */
  abstract readRegion(threads: Threads, region: Region, target: Uint8Array): Promise<void>;

  /** Pixels that were cut out of it as 8 bits each, as they are shown. */
  shown(pixels: Uint8Array): Uint8Array {
    if (this.readFormat.bytes === 1) return pixels;
    return shownBytes(new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2), this.gain);
  }

  /** A window of the picture as 8-bit pixels, at most `longEdge` long, never larger than it is. */
  async pixels(threads: Threads, window: CutRegion, longEdge: number): Promise<RgbaImage> {
    const own = { width: window.width * this.width, height: window.height * this.height };
    const scale = Math.min(1, longEdge / Math.max(own.width, own.height));
    const size = scaledSize(this, scale);
    const x = Math.floor(window.x * size.width);
    const y = Math.floor(window.y * size.height);
    const width = Math.max(1, Math.min(size.width - x, Math.round(window.width * size.width)));
    const height = Math.max(1, Math.min(size.height - y, Math.round(window.height * size.height)));
    const { channels, bytes } = this.readFormat;
    const data = new Uint8Array(new SharedArrayBuffer(width * height * channels * bytes));
    await this.readRegion(threads, { x, y, width, height, picture: size }, data);
    return { width, height, data: this.shown(data) };
  }
}

/** What a crop leaves of a picture. */
class SheetPicture extends RegionReader {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly readFormat: PixelFormat;
  readonly primaries: Primaries;
  readonly gain: number;
  readonly parts: AlphaSplit<RegionReader> | null;

  constructor(
    private readonly picture: Picture,
    private readonly sheet: CropGeometry,
  ) {
    super();
    this.id = `${picture.id} ${cropKey(sheet)}`;
    this.width = sheet.width;
    this.height = sheet.height;
    this.readFormat = picture.readFormat;
    this.primaries = picture.primaries;
    this.gain = picture.gain;
    const { parts } = picture;
    this.parts = parts && {
      premultiplied: new SheetPicture(parts.premultiplied, sheet),
      alpha: new SheetPicture(parts.alpha, sheet),
    };
  }

  readRegion(threads: Threads, region: Region, target: Uint8Array): Promise<void> {
    const { picture, sheet, readFormat } = this;
    const scale = region.picture.width / sheet.width;
    const size = { width: picture.width * scale, height: picture.height * scale };
    return picture.cutting(size, (level) => renderCrop(threads, level, sheet, region, readFormat, target));
  }
}

const known = new WeakMap<Picture, SheetPicture>();

/** What a sheet leaves of a picture: the picture itself where that is all of it; the same object for the same sheet. */
export function onSheet(picture: Picture, sheet: CropGeometry): RegionReader {
  if (isUncropped(sheet)) return picture;
  const last = known.get(picture);
  const cut = new SheetPicture(picture, sheet);
  if (last?.id === cut.id) return last;
  known.set(picture, cut);
  return cut;
}

/** What a recipe leaves of a picture. */
export function tidied(picture: Picture, recipe: Pick<Recipe, 'tidy'>): RegionReader {
  return onSheet(picture, cropOf(recipe, picture));
}
