import { Injectable, inject } from '@angular/core';
import {
  type ColourLut,
  NO_ASSETS,
  NO_METADATA,
  type PixelFormat,
  type Primaries,
  type RasterLevel,
  type Recipe,
  type RecipeAssets,
  type RenderSettings,
  SharedRenderer,
  type Size,
  type View,
  identityLut,
  neutralRecipe,
  renderTransparent,
  resolveRecipe,
  resolveTidiedRecipe,
  sharedSamples,
  sharpeningAt,
  stillFormatOf,
  wholeView,
  withLayerSheet,
} from '@hazy-lens/core';
import { encodePixels } from './codecs/codec';
import type { EncodeOptions } from './codecs/messages';
import { tidied } from './region-reader';
import { ResourcePool } from './resource-pool';
import { measuresOf } from './measures-of';
import type { Picture } from './picture';
import { RenderPool } from './pool';
import { Rasters } from './rasters';

export interface ExportOptions extends Omit<
  EncodeOptions,
  'format' | 'isTransparent' | 'sharpening' | 'space'
> {
  /** Primaries of the file. */
  space: Primaries;
  /** Sharpening for output, 0..1, see `sharpeningAt`. */
  sharpening: number;
  /** Bits a channel of the file, where its kind can have 16; null for as many as the picture has. */
  bits: 8 | 16 | null;
}

/** All that a file is made of; nothing of it changes while the file is made. */
export interface ExportSource {
  picture: Picture;
  recipe: Recipe;
  /** What the files are that the recipe names, at full size. */
  companions: RecipeAssets;
}

export interface ExportProgress {
  /** 0..1 of the stage. */
  done: number;
  stage: 'reading' | 'rendering' | 'writing';
}

const RGBA: PixelFormat = { channels: 4, bytes: 1 };
const DEEP: PixelFormat = { channels: 4, bytes: 2 };

/** Renders a picture at its export size and writes it as a file; no two calls at once have the same renderer. */
@Injectable({ providedIn: 'root' })
export class Exporter {
  private readonly pool = inject(RenderPool);
  private readonly rasters = inject(Rasters);
  /**
   * They keep their memory for the next picture: shared memory does not count for a browser's garbage collector, which
   * leaves it lying for hundreds of pictures.
   */
  private readonly idle = new ResourcePool(
    () => new SharedRenderer(this.pool),
    (renderer) => void renderer.close(),
  );

  /** The haze field of a recipe at a size: 65535 is haze 1. */
  hazeMap({ picture, recipe, companions }: ExportSource, { width, height }: Size): Promise<RasterLevel> {
    // What is lifted has its own haze where it lies.
    const look = resolveTidiedRecipe(recipe, picture, { ...companions, lifted: NO_ASSETS.lifted });
    const view = { ...wholeView({ width, height }, look, { input: RGBA, output: RGBA }), most: 0 };
    return this.with(view, async (renderer) => {
      const bytes = await renderer.render({ slot: 0, source: '', look, content: 'haze16' });
      const samples = sharedSamples(width * height);
      samples.set(new Uint16Array(bytes.buffer, bytes.byteOffset, samples.length));
      return { width, height, samples };
    });
  }

  /** What colours make of every colour of a table's grid, 16 bits a channel; clarity has no place in a table. */
  async table(colour: Recipe['colour'], ownTable: ColourLut | null, size: number): Promise<Uint16Array> {
    const { width, height, samples } = identityLut(size);
    const format: PixelFormat = { channels: 3, bytes: 2 };
    const recipe = { ...neutralRecipe(), colour: { ...colour, on: true, clarity: 0 } };
    const look = resolveRecipe(recipe, { width, height }, { table: ownTable });
    return this.with(
      wholeView({ width, height }, look, { input: format, output: format }),
      async (renderer) => {
        renderer.input(0).set(new Uint8Array(samples.buffer));
        const bytes = await renderer.render({ slot: 0, source: 'table', look, content: 'picture' });
        return new Uint16Array(bytes.slice().buffer);
      },
    );
  }

  /** The finished picture at a size, 8 bits a channel, for showing. */
  async pixels(source: ExportSource, size: Size): Promise<ImageData> {
    const { recipe, companions } = source;
    const [only] = await this.variants(source, size, [{ colour: recipe.colour, table: companions.table }]);
    return only!;
  }

  /** The finished picture at a size under each of several colours, for showing. */
  variants(
    source: ExportSource,
    size: Size,
    colours: readonly Pick<RenderSettings, 'colour' | 'table'>[],
  ): Promise<ImageData[]> {
    const picture = tidied(source.picture, source.recipe);
    const look = lookOf(source, 'srgb');
    const view = wholeView(
      size,
      look,
      { input: picture.readFormat, output: RGBA },
      size.width / picture.width,
    );
    return this.with(view, async (renderer) => {
      await picture.readRegion(this.pool, view.region, renderer.input(0));
      const made: ImageData[] = [];
      for (const own of colours) {
        const job = { slot: 0, source: picture.id, look: { ...look, ...own }, content: 'picture' } as const;
        made.push(new ImageData(Uint8ClampedArray.from(await renderer.render(job)), size.width, size.height));
      }
      return made;
    });
  }

  /** @throws the signal's reason where the person cancels; RangeError where memory runs out. */
  async export(
    source: ExportSource,
    options: ExportOptions,
    onProgress: (progress: ExportProgress) => void,
    signal: AbortSignal,
  ): Promise<Blob> {
    const picture = tidied(source.picture, source.recipe);
    const size: Size = { width: options.width, height: options.height };
    const bits = options.bits ?? 8 * picture.readFormat.bytes;
    const isDeep = bits === 16 && stillFormatOf(options.type).has16Bit;
    const output: PixelFormat = { channels: 4, bytes: isDeep ? 2 : 1 };
    const look = lookOf(source, options.space);
    const scale = size.width / picture.width;
    const watched = { signal, onProgress: (done: number) => onProgress({ done, stage: 'rendering' }) };
    onProgress({ done: 0, stage: 'reading' });
    const amount = sharpeningAt(options.sharpening, scale);
    const haze = amount > 0 ? (await this.hazeMap(source, size)).samples : null;
    signal.throwIfAborted();
    const { parts } = picture;
    const isTransparent = parts !== null && stillFormatOf(options.type).keepsAlpha;
    const whole = { x: 0, y: 0, ...size, picture: size };
    const encode = (pixels: Uint8Array): Promise<Blob> => {
      // Kinds that are pressed hard take most of the time: what is left is reckoned from writing alone.
      const writing = (done: number): void => onProgress({ done, stage: 'writing' });
      writing(0);
      const sharpening = haze && { amount, haze };
      return encodePixels(pixels, { ...options, format: output, isTransparent, sharpening }, signal, writing);
    };
    if (isTransparent) {
      const fill = (part: keyof typeof parts, target: Uint8Array) =>
        parts[part].readRegion(this.pool, whole, target);
      const how = { ...watched, bytes: output.bytes, scale };
      return encode(await renderTransparent(this.pool, size, look, how, fill));
    }
    return this.with(
      wholeView(size, look, { input: picture.readFormat, output }, scale),
      async (renderer) => {
        await picture.readRegion(this.pool, whole, renderer.input(0));
        signal.throwIfAborted();
        const job = { slot: 0, source: picture.id, look, content: 'picture' } as const;
        return encode(await renderer.render(job, watched));
      },
    );
  }

  /**
   * What a picture is made of, before its colours: itself, filled behind what is lifted off it, and each layer over it, in
   * their order, as TIFFs of 16 bits in linear light, premultiplied.
   * @returns of each the id of its layer; null for the picture. @throws as `export`.
   */
  async layers(
    source: ExportSource,
    size: Size,
    signal: AbortSignal,
    onProgress: (done: number) => void,
  ): Promise<{ id: string | null; file: Blob }[]> {
    const { finish } = neutralRecipe();
    const full = lookOf(source, 'srgb');
    const look = { ...full, colour: { ...full.colour, on: false }, finish };
    const { picture } = source;
    const scale = size.width / tidied(picture, source.recipe).width;
    const encode = (samples: Uint16Array<SharedArrayBuffer>): Promise<Blob> => {
      const pixels = new Uint8Array(samples.buffer);
      const notes = { of: NO_METADATA, choice: 'none' } as const;
      const how = { ...size, type: 'image/tiff', quality: 1, space: 'linear', isTransparent: true } as const;
      return encodePixels(pixels, { ...how, format: DEEP, notes }, signal);
    };
    const made: { id: string | null; file: Blob }[] = [];
    const steps = look.layers.length + 1;
    const add = (id: string | null, file: Blob): void => {
      made.push({ id, file });
      onProgress(made.length / steps);
      signal.throwIfAborted();
    };
    const base = await this.deepPixels(source, size, { ...look, layers: [], showsGround: true }, signal);
    add(null, await encode(new Uint16Array(await this.rasters.remote.linearise(base.buffer))));
    for (const layer of look.layers) {
      const samples = await withLayerSheet(this.pool, size, look, layer, scale, (sheet) =>
        this.rasters.remote.layerSamples(sheet, size, { primaries: picture.primaries, gain: picture.gain }),
      );
      if (samples) add(layer.id, await encode(samples));
    }
    return made;
  }

  /** A finished picture at a size, straight RGBA of 16 bits. */
  private async deepPixels(
    { picture: whole, recipe }: ExportSource,
    size: Size,
    look: RenderSettings,
    signal: AbortSignal,
  ): Promise<Uint16Array<SharedArrayBuffer>> {
    const picture = tidied(whole, recipe);
    const scale = size.width / picture.width;
    const region = { x: 0, y: 0, ...size, picture: size };
    const samples = new Uint16Array(new SharedArrayBuffer(8 * size.width * size.height));
    const keep = (bytes: Uint8Array): void => new Uint8Array(samples.buffer).set(bytes);
    const { parts } = picture;
    if (parts) {
      const fill = (part: keyof typeof parts, target: Uint8Array) =>
        parts[part].readRegion(this.pool, region, target);
      keep(await renderTransparent(this.pool, size, look, { bytes: 2, scale, signal }, fill));
    } else
      await this.with(
        wholeView(size, look, { input: picture.readFormat, output: DEEP }, scale),
        async (renderer) => {
          await picture.readRegion(this.pool, region, renderer.input(0));
          const job = { slot: 0, source: picture.id, look, content: 'picture' } as const;
          keep(await renderer.render(job, { signal }));
        },
      );
    return samples;
  }

  /** Works with a renderer of a view, which nobody else has for that long. */
  private async with<T>(view: View, work: (renderer: SharedRenderer) => Promise<T>): Promise<T> {
    const renderer = this.idle.acquire();
    try {
      await renderer.open(view);
      return await work(renderer);
    } finally {
      this.idle.release(renderer);
    }
  }
}

function lookOf({ picture, recipe, companions }: ExportSource, output: Primaries): RenderSettings {
  const look = resolveTidiedRecipe(recipe, picture, companions, picture.gain, measuresOf(picture, recipe));
  return { ...look, primaries: { source: picture.primaries, output } };
}
