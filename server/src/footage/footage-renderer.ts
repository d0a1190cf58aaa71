import {
  BLEND_FORMAT,
  FootageNoise,
  type CropGeometry,
  type ExportSize,
  type FrameFormat,
  NO_METADATA,
  type PixelFormat,
  type Recipe,
  type RecipeAssets,
  type Size,
  SharedRenderer,
  type Threads,
  type Timeline,
  brightnessOf,
  clipFormatOf,
  clipSize,
  exportSize,
  cropOf,
  flickerGains,
  frameLuma,
  isUncropped,
  isYuv,
  lightGrid,
  litWeights,
  measureNoise,
  needsNoise,
  neutralRecipe,
  recipeAt,
  resolveRecipe,
  resolveTidiedRecipe,
  strongestBlur,
  timelineOf,
  wholeView,
} from '@hazy-lens/core';
import { loadCompanions } from '../render/companions';
import { measuresOf } from '../render/measures';
import type { Rendered } from '../render/still';
import { MendedFrames, cropPixels } from '../render/tidy';
import { type Frame, type FrameSource, shared } from './frame';

/** A rendered frame; its bytes are good until the next one is asked for. */
export interface RenderedFrame {
  index: number;
  data: Uint8Array;
}

const RGBA: PixelFormat = { channels: 4, bytes: 1 };
export const RGB: PixelFormat = { channels: 3, bytes: 1 };

/** Renders frames of footage at a recipe's pace, with its keys, in any order. */
export class FootageRenderer {
  private readonly renderer: SharedRenderer;
  private readonly mended: MendedFrames;
  private gains: Float64Array | null = null;
  private readonly noise = new FootageNoise(async (index) => {
    const frame = await this.mended.at(index);
    return measureNoise(frame.data, frame.format, frame);
  });

  private constructor(
    private readonly source: FrameSource,
    private readonly recipe: Recipe,
    private readonly threads: Threads,
    private readonly companions: RecipeAssets,
    readonly timeline: Timeline,
    /** What the recipe leaves of a frame, and the size that is wanted of it. */
    private readonly sheet: CropGeometry,
    readonly size: Size,
    readonly format: FrameFormat,
    private readonly input: FrameFormat,
  ) {
    this.renderer = new SharedRenderer(threads);
    this.mended = new MendedFrames(source, recipe, source.times, threads);
  }

  /**
   * Reads what the recipe names, and measures what it wants to know of all frames.
   * @param path of the recipe's file.
   * @param heard hears of each frame that is measured.
   */
  static async open(
    source: FrameSource,
    recipe: Recipe,
    path: string,
    threads: Threads,
    { format, size: wanted, isEven }: FrameWish,
    heard: () => void = () => undefined,
  ): Promise<FootageRenderer> {
    const { pace } = recipe;
    const companions = await loadCompanions(recipe, path, await asPicture(await source.at(0), threads));
    const sheet = cropOf(recipe, source);
    const size = sizeOf(sheet, wanted, isEven);
    const blends = pace.on && pace.blend > 0;
    const read = isYuv(source.format) && !isAsItCame(sheet, size) ? RGBA : source.format;
    const made = new FootageRenderer(
      source,
      recipe,
      threads,
      companions,
      timelineOf(pace, source.times),
      sheet,
      size,
      format,
      blends ? BLEND_FORMAT : read,
    );
    await made.prepare(heard);
    return made;
  }

  private async prepare(heard: () => void): Promise<void> {
    const { recipe, source, companions, sheet, size, input, format } = this;
    const strongest = resolveTidiedRecipe({ ...recipe, blur: strongestBlur(recipe) }, source, companions);
    const scale = size.width / sheet.width;
    await this.renderer.open(wholeView(size, strongest, { input, output: format }, scale));
    const { on, deflicker } = recipe.pace;
    if (on && deflicker.amount > 0)
      this.gains = Float64Array.from(flickerGains(await this.brightness(heard), source.times, deflicker));
  }

  /** How bright each frame is; all of them are read. */
  private async brightness(heard: () => void): Promise<Float64Array> {
    const { source } = this;
    const grids: Float32Array[] = [];
    for (let i = 0; i < source.times.starts.length; i++) {
      const frame = await source.at(i);
      const { width, height, format } = frame;
      const isLimited = isYuv(format) && format.range === 'limited';
      grids.push(lightGrid(frameLuma(shared(frame), format, frame), width, height, isLimited));
      heard();
    }
    return brightnessOf(grids);
  }

  /** Renders frames from..to, both included. */
  async *frames(from: number, to: number): AsyncGenerator<RenderedFrame, void> {
    for (let index = from; index <= to; index++) yield { index, data: await this.frame(index) };
  }

  private async frame(index: number): Promise<Uint8Array> {
    const { source, recipe, threads, timeline, sheet, size, input, renderer, companions } = this;
    const shown = timeline.frameOf(index);
    const now = recipeAt(recipe, source.times.starts[shown]!);
    const { shares, light } = litWeights(timeline.sharesOf(index), this.gains);
    // Before its own frames: what it rests on lies before them.
    const noise = needsNoise(now) ? await this.noise.of(source.times, shown, shares) : undefined;
    const own = await Promise.all(
      shares.map(async ({ frame, share }) => ({ ...(await this.mended.at(frame)), share })),
    );
    const first = own[0]!;
    const frame: Frame =
      input === BLEND_FORMAT
        ? { ...first, format: BLEND_FORMAT, data: Buffer.from(await averaged(own, threads)) }
        : first;
    renderer
      .input(0)
      .set(
        isAsItCame(sheet, size)
          ? frame.data
          : await cropPixels(frame.data, source, frame.format, input as PixelFormat, recipe, threads, size),
      );
    const look = resolveTidiedRecipe(now, source, companions, light, measuresOf(frame, now, noise));
    return renderer.render({ slot: 0, source: `${index}`, look, content: 'picture', frame: shown });
  }

  async close(): Promise<void> {
    await this.renderer.close();
    await this.source.close();
  }
}

/** How frames are wanted. */
export interface FrameWish {
  format: FrameFormat;
  size: ExportSize;
  /** It becomes even, as encoders of 4:2:0 want it. */
  isEven: boolean;
}

function sizeOf(sheet: CropGeometry, wanted: ExportSize, isEven: boolean): Size {
  const { width, height } = exportSize(sheet, wanted);
  return isEven ? clipSize(sheet, clipFormatOf('mp4'), width) : { width, height };
}

/** True where all of a frame is used, and every pixel of it. */
const isAsItCame = (sheet: CropGeometry, size: Size): boolean =>
  isUncropped(sheet) && size.width === sheet.width && size.height === sheet.height;

/**
 * The planes that a clip is encoded from: as its source has them where encoders take that, else as high definition does.
 * @param bits of a level where they are not 8.
 */
export function planesFor(format: FrameFormat, bits?: 10): FrameFormat {
  const isTaken = isYuv(format) && format.range === 'limited' && format.matrix !== 'bt2020';
  const planes = isTaken ? format : ({ matrix: 'bt709', range: 'limited' } as const);
  return bits ? { ...planes, bits } : planes;
}

/** A frame as a picture of red, green and blue, for what is aligned to it. */
async function asPicture({ width, height, format, data }: Frame, threads: Threads): Promise<Rendered> {
  const size = { width, height };
  const rest = { ...size, primaries: 'srgb', gain: 1, metadata: NO_METADATA } as const;
  if (!isYuv(format)) return { ...rest, format, data };
  const renderer = new SharedRenderer(threads);
  const look = resolveRecipe(neutralRecipe(), size);
  try {
    await renderer.open({ ...wholeView(size, look, { input: format, output: RGB }), most: 0 });
    renderer.input(0).set(data);
    const bytes = await renderer.render({ slot: 0, source: 'first', look, content: 'picture' });
    return { ...rest, format: RGB, data: Buffer.from(bytes) };
  } finally {
    await renderer.close();
  }
}

async function averaged(
  frames: readonly (Frame & { share: number })[],
  { runners, module }: Threads,
): Promise<Uint8Array> {
  const { width, height, format } = frames[0]!;
  const sources = frames.map((frame) => ({ pixels: shared(frame), share: frame.share }));
  const target = new SharedArrayBuffer(width * height * BLEND_FORMAT.channels * BLEND_FORMAT.bytes);
  const blend = { format, size: { width, height }, sources, target, rows: [0, height] as const };
  await runners[0]!({ kind: 'blend', module: await module, blend });
  return new Uint8Array(target);
}
