import { Injectable, inject } from '@angular/core';
import { type LayerImage, NO_METADATA, type Primaries, layerBytes } from '@hazy-lens/core';
import { Assets } from './assets';
import { decodeFile, encodePixels } from './codecs/codec';
import type { DecodedPicture } from './codecs/messages';
import { Rasters } from './rasters';
import { Recent } from './recent';

/** What decoded pictures of elements may take: those of one project, and some that a step back brings again. */
const MAX_BYTES = 400_000_000;
/** Kinds that recipes may name, and what their files end on. */
const KEPT = { png: 'png', webp: 'webp', tiff: 'tif' } as const;
const START = 'element-';

/** True for the name that recipes have for the picture of an element. */
export const isElementFile = (name: string): boolean => name.startsWith(START);

/** The pictures of elements; the last that were used are kept decoded. */
@Injectable({ providedIn: 'root' })
export class LayerImages {
  private readonly assets = inject(Assets);
  private readonly rasters = inject(Rasters);
  private readonly known = new Recent<string, LayerImage>({ mostBytes: MAX_BYTES, bytesOf: layerBytes });

  /** The picture of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<LayerImage> {
    return this.known.get(name, async () =>
      this.made(name, await decodeFile(await this.assets.file(name), name)),
    );
  }

  /** Those of several names. @throws as `get`. */
  async all(names: readonly string[]): Promise<Map<string, LayerImage>> {
    const images = new Map<string, LayerImage>();
    for (const name of new Set(names)) images.set(name, await this.get(name));
    return images;
  }

  /** True for a picture of a kind that recipes may name, and with transparent places. */
  async isCutOut(file: File): Promise<boolean> {
    if (!/\.(png|webp|tiff?)$/i.test(file.name) && !/^image\/(png|webp|tiff)$/.test(file.type)) return false;
    // What cannot be read is told by who opens it.
    const decoded = await decodeFile(file, file.name).catch(() => null);
    return decoded !== null && decoded.parts !== null;
  }

  /** Reads a picture and keeps it. @returns the name that recipes have for it. @throws Error with a sentence that names the file. */
  async keep(file: Blob, fileName: string): Promise<string> {
    const decoded = await decodeFile(file, fileName);
    const kind = KEPT[decoded.about.type as keyof typeof KEPT] as string | undefined;
    const name = `${START}${crypto.randomUUID()}.${kind ?? 'png'}`;
    const image = await this.made(name, decoded);
    await this.assets.put(name, kind ? file : await asPng(decoded));
    this.known.put(name, Promise.resolve(image));
    return name;
  }

  /** Keeps straight RGBA of 8 bits as a PNG. @returns the name that recipes have for it. */
  async keepPixels(
    rgba: Uint8Array,
    size: { width: number; height: number },
    space: Primaries,
  ): Promise<string> {
    const name = `${START}${crypto.randomUUID()}.png`;
    await this.assets.put(name, await pngOf(rgba, size, space, true));
    return name;
  }

  private made(name: string, { pixels, format, parts, width, height }: DecodedPicture): Promise<LayerImage> {
    return this.rasters.remote.layer(name, { width, height }, { pixels, format, parts });
  }
}

function asPng({ pixels, format, width, height }: DecodedPicture): Promise<Blob> {
  const bytes = new Uint8Array(pixels);
  const samples = format.bytes === 1 ? bytes : bytes.filter((_, i) => i % 2 === 1);
  return pngOf(samples, { width, height }, 'srgb', false);
}

function pngOf(
  rgba: Uint8Array,
  { width, height }: { width: number; height: number },
  space: Primaries,
  isTransparent: boolean,
): Promise<Blob> {
  return encodePixels(rgba, {
    width,
    height,
    type: 'image/png',
    quality: 1,
    space,
    format: { channels: 4, bytes: 1 },
    isTransparent,
    notes: { of: NO_METADATA, choice: 'none' },
  });
}
