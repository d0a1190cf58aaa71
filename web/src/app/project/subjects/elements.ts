import { Injectable, inject, signal } from '@angular/core';
import {
  type Element,
  MAX_ELEMENTS,
  type Matte,
  type Point,
  type Raster,
  diagonal,
  rasterBounds,
  sampleRaster,
} from '@hazy-lens/core';
import { fileOpen } from 'browser-fs-access';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { LayerImages } from '../../engine/layer-images';
import { Rasters } from '../../engine/rasters';
import { sentenceOf } from '../../model/causes';
import { hasRoom, newElement } from '../../model/elements';
import { OpenProject } from '../session/open-project';
import { ProjectNotices } from '../session/project-notices';
import { projectWords } from '../../words/project';

/** A new element is at most as wide as this share of the picture. */
const WIDEST = 0.5;
/** How wide an element may be, in diagonals. */
const [MIN_WIDTH, MAX_WIDTH] = [0.01, 4];
const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** An element that was copied, for this project or another. */
@Injectable({ providedIn: 'root' })
export class CopiedElement {
  readonly now = signal<Element | null>(null);
}

/** Puts elements over the picture: from files, from a subject, or copied. */
@Injectable()
export class Elements {
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly images = inject(LayerImages);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(ProjectNotices);
  private readonly copied = inject(CopiedElement);

  /** Asks for a file. @returns the id of the new element; null where there is none. */
  async open(): Promise<string | null> {
    const file = await pickImage();
    return file && this.add(file, file.name);
  }

  /**
   * Adds a picture as the nearest element, at its own size where there is room for that.
   * @param at where its middle is to be. @returns its id; null where it cannot be used, which is told.
   */
  async add(file: Blob, fileName: string, at: Point = [0.5, 0.5]): Promise<string | null> {
    if (!this.mayAdd()) return null;
    try {
      const image = await this.images.keep(file, fileName);
      const { width } = (await this.images.get(image)).levels[0];
      const picture = this.project.size();
      const wide = Math.min(width, WIDEST * picture.width) / diagonal(picture);
      const name = fileName.replace(/\.[^.]*$/, '').slice(0, 80);
      return this.put(projectWords.newElement, {
        ...newElement(crypto.randomUUID(), image, name, held(wide)),
        centre: at,
      });
    } catch (error) {
      this.notices.error(sentenceOf(error));
      return null;
    }
  }

  /** Puts another picture in place of an element's own. */
  async replace(id: string): Promise<void> {
    const file = await pickImage();
    if (!file) return;
    try {
      const image = await this.images.keep(file, file.name);
      this.project.edit(projectWords.imageOfTheElement, ({ elements }) =>
        elements.filter((one) => one.id === id).forEach((one) => (one.image = image)),
      );
    } catch (error) {
      this.notices.error(sentenceOf(error));
    }
  }

  /** Makes an element of a subject that was cut out, where it stands. @returns its id; null where nothing is cut out. */
  async lift(matte: Matte, name: string): Promise<string | null> {
    const picture = this.renderLoop.picture();
    if (!picture || !this.mayAdd()) return null;
    try {
      const raster = await this.rasters.get(matte.image);
      const bounds = rasterBounds(raster);
      if (!bounds) throw new Error(projectWords.theSubjectIsntCutOut);
      const { pool } = this.renderLoop;
      const { width, height, data } = await picture.pixels(
        pool,
        WHOLE,
        Math.max(picture.width, picture.height),
      );
      const box = boxAround(bounds, { width, height });
      const rgba = cutFrom({ width, data }, { width, height }, raster, box);
      const image = await this.images.keepPixels(rgba, box, picture.primaries);
      const D = Math.hypot(width, height);
      const centre: Point = [(box.x + box.width / 2) / width, (box.y + box.height / 2) / height];
      const element = newElement(crypto.randomUUID(), image, name, held(box.width / D));
      return this.put(projectWords.elementFromASubject, { ...element, centre });
    } catch (error) {
      this.notices.error(sentenceOf(error));
      return null;
    }
  }

  copy(element: Element): void {
    this.copied.now.set(element);
  }

  /** Adds what was copied, as it was. */
  paste(): string | null {
    const element = this.copied.now();
    if (!element || !this.mayAdd()) return null;
    const bands = element.focus.bands.map((band) => ({ ...band, id: crypto.randomUUID() }));
    const focus = { ...element.focus, bands };
    return this.put(projectWords.pasteElement, { ...element, id: crypto.randomUUID(), focus });
  }

  private put(label: string, element: Element): string | null {
    if (this.project.isClosed()) return null;
    this.project.edit(label, ({ elements }) => void elements.push(element));
    return element.id;
  }

  private mayAdd(): boolean {
    if (hasRoom(this.project.recipe())) return true;
    this.notices.info(projectWords.aPictureCanHaveElements(MAX_ELEMENTS), 'elements');
    return false;
  }
}

const held = (width: number): number => Math.min(MAX_WIDTH, Math.max(MIN_WIDTH, width));

interface PixelBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The pixels of a picture within bounds, and a little around them for what is soft. */
function boxAround(
  { left, top, right, bottom }: NonNullable<ReturnType<typeof rasterBounds>>,
  { width, height }: { width: number; height: number },
): PixelBox {
  const margin = 0.01 * Math.max(width, height);
  const x = Math.max(0, Math.floor(left * width - margin));
  const y = Math.max(0, Math.floor(top * height - margin));
  return {
    x,
    y,
    width: Math.min(width, Math.ceil(right * width + margin)) - x,
    height: Math.min(height, Math.ceil(bottom * height + margin)) - y,
  };
}

/** A part of a picture as straight RGBA, as much of it there as a matte says. */
function cutFrom(
  { width, data }: { width: number; data: Uint8Array | Uint8ClampedArray },
  picture: { width: number; height: number },
  matte: Raster,
  box: PixelBox,
): Uint8Array {
  const rgba = new Uint8Array(new SharedArrayBuffer(4 * box.width * box.height));
  const [level] = matte.levels;
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const [px, py] = [box.x + x, box.y + y];
      const at = 4 * (y * box.width + x);
      const from = 4 * (py * width + px);
      for (let c = 0; c < 3; c++) rgba[at + c] = data[from + c]!;
      rgba[at + 3] = Math.round(
        255 * sampleRaster(level, (px + 0.5) / picture.width, (py + 0.5) / picture.height),
      );
    }
  return rgba;
}

function pickImage(): Promise<File | null> {
  return fileOpen({
    mimeTypes: ['image/png', 'image/webp', 'image/tiff', 'image/avif', 'image/jpeg'],
    extensions: ['.png', '.webp', '.tif', '.tiff', '.avif', '.jpg', '.jpeg'],
    description: projectWords.picturesBestWithTransparentPlaces,
  }).catch(() => null);
}
