import { mkdir } from 'node:fs/promises';
import { extname, join } from 'node:path';
import {
  BLEND_FORMAT,
  ALL_PARTS,
  LOOK_PARTS,
  NO_METADATA,
  type PixelFormat,
  type Recipe,
  type RecipePart,
  SharedRenderer,
  type Threads,
  brightnessOf,
  distinctNames,
  evenTimes,
  flickerGains,
  litWeights,
  meantRate,
  foreignText,
  frameLuma,
  isUncropped,
  lightGrid,
  messageLine,
  neutralRecipe,
  recipeAt,
  cropOf,
  strongestBlur,
  resolveTidiedRecipe,
  timelineOf,
  wholeView,
  withParts,
} from '@hazy-lens/core';
import { renderStill } from './still';
import { liftedOff, loadCompanions } from './companions';
import { type InputPicture, type Inputs, stemOf } from './inputs';
import { measuresOf } from './measures';
import type { Options } from './options';
import { type Decoded, InputError, decodeBytes, writePicture } from './picture';
import { type Spent, printLine, tellProgress } from './report';
import { startThreads } from './threads';
import { MendedFrames, cropped, mend, cropPixels } from './tidy';

/** Frames a second of numbered pictures where nothing is said. */
const DEFAULT_FPS = 30;
/** Some pictures could not be read; the others are there. */
const SOME_FAILED = 3;
/** Decoded frames that are kept: neighbours share them. */
const MAX_KEPT = 12;

const spentNothing = (): Spent => ({ decode: 0, render: 0, encode: 0 });

async function timed<T>(spent: Spent, part: keyof Spent, work: () => Promise<T>): Promise<T> {
  const start = performance.now();
  const result = await work();
  spent[part] += performance.now() - start;
  return result;
}

/** Writes as the input was, where that can hold it; PNG otherwise. */
function extensionFor(name: string, { bytes }: PixelFormat): string {
  const own = extname(name).toLowerCase();
  const isDeepKind = ['.png', '.tif', '.tiff'].includes(own);
  const isWritten = isDeepKind || ['.jpg', '.jpeg', '.webp', '.avif'].includes(own);
  return !isWritten || (bytes === 2 && !isDeepKind) ? '.png' : own;
}

/** The parts of a recipe that are used. */
export function partsOf(recipe: Recipe, parts: ReadonlySet<RecipePart>): Recipe {
  return withParts(neutralRecipe(), recipe, parts);
}

function tellLeftOut({ leftOut }: Inputs): void {
  for (const name of leftOut) process.stderr.write(`${foreignText(name)}: left out, it is no picture.\n`);
}

/**
 * Renders each picture by itself; the good ones are written, the bad ones named. What belongs to the picture that a recipe
 * was made on is used only where it is asked for.
 */
export async function renderBatch(options: Options, whole: Recipe, inputs: Inputs): Promise<number> {
  const recipe = partsOf(whole, options.parts ?? LOOK_PARTS);
  const { pictures } = inputs;
  if (options.frames)
    throw new InputError('--frames: is for footage; give --fps, or a recipe with a pace or keys.');
  await folder(options.out);
  tellLeftOut(inputs);
  const stems = distinctNames(pictures.map(({ name }) => stemOf(name)));
  const threads = await startThreads(options.workers);
  let failed = 0;
  for (const [i, picture] of pictures.entries()) {
    const spent = spentNothing();
    try {
      const decoded = await timed(spent, 'decode', async () =>
        decodeBytes(await picture.bytes(), foreignText(picture.name)),
      );
      const companions = await loadCompanions(recipe, options.recipe, decoded);
      const name = `${stems[i]!}${extensionFor(picture.name, decoded.format)}`;
      const started = performance.now();
      await mend(decoded, recipe, threads);
      const lifted = await liftedOff(decoded, recipe, companions.keep, threads);
      const above = { ...companions, lifted };
      const look = resolveTidiedRecipe(recipe, decoded, above, 1, measuresOf(decoded, recipe));
      const sheet = await cropped(decoded, recipe, threads);
      await renderStill(sheet, look, threads, name, 1, async (rendered) => {
        spent.render += performance.now() - started;
        await timed(spent, 'encode', () => writePicture(join(options.out, name), rendered, options.metadata));
      });
      printLine(sheet, spent, { name });
    } catch (error) {
      if (!(error instanceof InputError || error instanceof RangeError)) throw error;
      process.stderr.write(`${messageLine(error.message)}\n`);
      failed++;
    }
    tellProgress(i + 1, pictures.length);
  }
  await threads.close();
  return failed > 0 ? SOME_FAILED : 0;
}

/** Renders numbered pictures as footage: at the recipe's pace, with its keys. */
export async function renderFootage(options: Options, whole: Recipe, inputs: Inputs): Promise<number> {
  const recipe = partsOf(whole, options.parts ?? ALL_PARTS);
  const { pictures } = inputs;
  const times = evenTimes(pictures.length, meantRate(options.fps ?? DEFAULT_FPS));
  const timeline = timelineOf(recipe.pace, times);
  const [from, to] = options.frames ?? [0, timeline.frames - 1];
  if (to >= timeline.frames)
    throw new InputError(
      `--frames: the clip has ${timeline.frames} frames; the last is ${timeline.frames - 1}.`,
    );
  await folder(options.out);
  tellLeftOut(inputs);
  const spent = spentNothing();
  const frames = new Frames(pictures, spent);
  const first = await frames.at(0);
  const companions = await loadCompanions(recipe, options.recipe, first);
  const { deflicker, on } = recipe.pace;
  const gains = on && deflicker.amount > 0 ? flickerGains(await frames.brightness(), times, deflicker) : null;
  const threads = await startThreads(options.workers);
  const renderer = new SharedRenderer(threads);
  const mended = new MendedFrames(frames, recipe, times, threads);
  const blends = on && recipe.pace.blend > 0;
  const input = blends ? BLEND_FORMAT : first.format;
  const sheet = cropOf(recipe, first);
  const strongest = resolveTidiedRecipe({ ...recipe, blur: strongestBlur(recipe) }, first, companions);
  await renderer.open(wholeView(sheet, strongest, { input, output: first.format }));
  const extension = extensionFor(pictures[0]!.name, first.format);
  for (let i = from; i <= to; i++) {
    const shown = timeline.frameOf(i);
    const { shares, light } = litWeights(timeline.sharesOf(i), gains);
    const own = await Promise.all(
      shares.map(async ({ frame, share }) => ({ ...(await mended.at(frame)), share })),
    );
    const data = await timed(spent, 'render', async () => {
      const frame = blends ? await averaged(own, threads) : own[0]!.data;
      const isCut = !isUncropped(sheet);
      renderer.input(0).set(isCut ? await cropPixels(frame, first, input, input, recipe, threads) : frame);
      const now = recipeAt(recipe, times.starts[shown]!);
      const measures = measuresOf(
        { ...first, data: Buffer.from(frame.buffer, frame.byteOffset, frame.byteLength), format: input },
        now,
      );
      const look = resolveTidiedRecipe(now, first, companions, light, measures);
      return renderer.render({ slot: 0, source: `${i}`, look, content: 'picture', frame: shown });
    });
    const path = join(options.out, `frame-${String(i).padStart(5, '0')}${extension}`);
    const picture = {
      ...first,
      width: sheet.width,
      height: sheet.height,
      data: Buffer.from(data.buffer, data.byteOffset, data.byteLength),
      metadata: NO_METADATA,
    };
    await timed(spent, 'encode', () => writePicture(path, picture, options.metadata));
    tellProgress(i - from + 1, to - from + 1);
  }
  await threads.close();
  printLine(sheet, spent, { frames: to - from + 1, fps: timeline.fps });
  return 0;
}

/** Decoded frames, the last used ones kept. All are of the size and kind of the first. */
class Frames {
  private readonly kept = new Map<number, Promise<Decoded>>();

  constructor(
    private readonly pictures: readonly InputPicture[],
    private readonly spent: Spent,
  ) {}

  at(index: number): Promise<Decoded> {
    const frame = this.kept.get(index) ?? this.decode(index);
    this.kept.delete(index);
    this.kept.set(index, frame);
    if (this.kept.size > MAX_KEPT) this.kept.delete(this.kept.keys().next().value!);
    return frame;
  }

  private async decode(index: number): Promise<Decoded> {
    const { name, bytes } = this.pictures[index]!;
    const frame = await timed(this.spent, 'decode', async () =>
      decodeBytes(await bytes(), foreignText(name)),
    );
    if (index === 0) return frame;
    const first = await this.at(0);
    if (
      frame.width !== first.width ||
      frame.height !== first.height ||
      frame.format.bytes !== first.format.bytes
    )
      throw new InputError(
        `${name}: ${frame.width} x ${frame.height}, ${8 * frame.format.bytes}-bit, doesn’t match the first frame.`,
      );
    return frame;
  }

  /** How bright each frame is; all of them are read. */
  async brightness(): Promise<Float64Array> {
    const grids: Float32Array[] = [];
    for (let i = 0; i < this.pictures.length; i++) {
      const { data, format, width, height } = await this.at(i);
      const shared = new SharedArrayBuffer(data.length);
      new Uint8Array(shared).set(data);
      grids.push(lightGrid(frameLuma(shared, format, { width, height }), width, height, false));
    }
    return brightnessOf(grids);
  }
}

async function averaged(
  frames: readonly (Decoded & { share: number })[],
  { runners, module }: Threads,
): Promise<Uint8Array> {
  const { width, height, format } = frames[0]!;
  const sources = frames.map(({ data, share }) => {
    const pixels = new SharedArrayBuffer(data.length);
    new Uint8Array(pixels).set(data);
    return { pixels, share };
  });
  const target = new SharedArrayBuffer(width * height * BLEND_FORMAT.channels * BLEND_FORMAT.bytes);
  const blend = { format, size: { width, height }, sources, target, rows: [0, height] as const };
  await runners[0]!({ kind: 'blend', module: await module, blend });
  return new Uint8Array(target);
}

async function folder(path: string): Promise<void> {
  try {
    await mkdir(path, { recursive: true });
  } catch (error) {
    throw new InputError(`${path}: can’t write to this folder (${(error as NodeJS.ErrnoException).code}).`);
  }
}
