import {
  type ClipTimes,
  type RecipeAssets,
  type FrameFormat,
  type LitWeights,
  type RenderSettings,
  type AlphaSplit,
  type FootageNoise,
  type Recipe,
  SharedRenderer,
  type CropGeometry,
  type Size,
  type Timeline,
  type YuvFormat,
  isUncropped,
  isYuv,
  litWeights,
  mendsIn,
  needsNoise,
  neutralRecipe,
  recipeAt,
  resolveRecipe,
  renderTransparent,
  cropOf,
  strongestBlur,
  resolveTidiedRecipe,
  wholeView,
} from '@hazy-lens/core';
import { onSheet } from '../region-reader';
import { BufferPool } from '../buffer-pool';
import type { Loan, MediaSource } from '../media-source';
import { measuresOf } from '../measures-of';
import type { Picture } from '../picture';
import type { RenderPool } from '../pool';
import { blendedPicture } from './blended';
import type { Sound } from './sound';
import { AdvisedError } from '../../model/causes';
import { filesWords } from '../../words/files';

/** All that a film is made of; nothing of it changes while it is made. */
export interface FilmSource {
  material: MediaSource;
  /** With its keys. */
  recipe: Recipe;
  /** When its frames are shown. */
  times: ClipTimes;
  timeline: Timeline;
  /** What the files are that the recipe names. */
  companions: RecipeAssets;
  /** What the light of each frame of the source is multiplied by; null where it stays. */
  lights: number[] | null;
  /** Of its frames. */
  noise: FootageNoise;
  /** The frame before takes the place of one that cannot be read; else that ends the film. */
  repeatsUnread: boolean;
  /** The clip's sound, where it goes along with the pace. */
  sound: Sound | null;
}

/** The pixels of a picture of the film, good until the next one is asked for. */
export interface FilmedPicture {
  index: number;
  bytes: Uint8Array;
}

/** Lets work wait while it is paused. */
export interface Gate {
  waitWhilePaused(): Promise<void>;
}

/** True where frames of a film keep their transparent places, in kinds that can hold them. */
export function isTransparent({ material, recipe }: Pick<FilmSource, 'material' | 'recipe'>): boolean {
  return !!material.footage?.isTransparent && !blends(recipe) && mendsIn(recipe).length === 0;
}

/** Pictures of a film may be averaged from several frames. */
const blends = ({ pace }: Recipe): boolean => pace.on && pace.blend > 0;

/** How the pixels of a film are wanted. */
export interface FilmFormat {
  format: FrameFormat;
  /** RGBA, or planes with one of coverage behind them. */
  hasAlpha: boolean;
}

/**
 * Renders the pictures of a film in order. While one is rendered the next is decoded; what is done with the last goes on
 * beside both.
 * @param from the first picture that is wanted. @throws the signal's reason.
 */
export async function* renderFrames(
  source: FilmSource,
  size: Size,
  { format: output, hasAlpha }: FilmFormat,
  pool: RenderPool,
  signal: AbortSignal,
  gate: Gate,
  from = 0,
): AsyncGenerator<FilmedPicture, void> {
  const { material, recipe, times, timeline, companions } = source;
  const lit = (index: number): LitWeights => litWeights(timeline.sharesOf(index), source.lights);
  const free = new BufferPool();
  const borrow = (index: number): Promise<Loan> =>
    blendedPicture(material, lit(index).shares, pool, free, blends(recipe));
  const first = await borrow(from);
  const sheet = cropOf(recipe, material);
  const isAsItCame = isUncropped(sheet) && size.width === material.width && size.height === material.height;
  const input = isAsItCame ? first.picture.format : first.picture.readFormat;
  const renderer = new SharedRenderer(pool);
  const scale = size.width / sheet.width;
  const strongest = resolveTidiedRecipe({ ...recipe, blur: strongestBlur(recipe) }, material, companions);
  const view = wholeView(size, strongest, { input, output }, scale);
  const transparent = hasAlpha ? new TransparentFrames(pool, size, output, scale) : null;
  try {
    await renderer.open({ ...view, slots: 2 });
    let next = Promise.resolve(first);
    for (let index = from; index < timeline.frames; index++) {
      await gate.waitWhilePaused();
      signal.throwIfAborted();
      const { picture, giveBack } = await next;
      checkRead(source, index);
      if (index + 1 < timeline.frames) {
        next = borrow(index + 1);
        next.catch(() => undefined);
      }
      const slot = index % 2;
      if (isAsItCame) renderer.input(slot).set(new Uint8Array(picture.rawPixels));
      else await onSheet(picture, sheet).readRegion(pool, view.region, renderer.input(slot));
      const frame = timeline.frameOf(index);
      const now = recipeAt(recipe, times.starts[frame]!);
      const noise = needsNoise(now) ? await source.noise.of(times, frame, lit(index).shares) : undefined;
      const measured = measuresOf(picture, now, noise);
      const look = resolveTidiedRecipe(now, material, companions, lit(index).light, measured);
      const job = { slot, source: picture.id, look, content: 'picture', frame } as const;
      const bytes = transparent
        ? await transparent.render(await material.parts(frame), sheet, look, signal, () =>
            renderer.render(job, { signal }),
          )
        : await renderer.render(job, { signal });
      giveBack();
      yield { index, bytes };
    }
  } finally {
    await renderer.close();
    await transparent?.close();
  }
}

/** Renders frames with their transparent places. */
class TransparentFrames {
  private planes: SharedRenderer | null = null;

  constructor(
    private readonly pool: RenderPool,
    private readonly size: Size,
    private readonly output: FrameFormat,
    private readonly scale: number,
  ) {}

  /** @param opaque renders a frame that has none. @returns RGBA, or planes with one of coverage behind them. */
  async render(
    parts: AlphaSplit<Picture> | null,
    sheet: CropGeometry,
    look: RenderSettings,
    signal: AbortSignal,
    opaque: () => Promise<Uint8Array>,
  ): Promise<Uint8Array> {
    const { pool, size, output, scale } = this;
    const area = size.width * size.height;
    if (!parts) {
      const bytes = await opaque();
      return isYuv(output) ? withPlane(bytes, new Uint8Array(area).fill(255)) : bytes;
    }
    const whole = { x: 0, y: 0, ...size, picture: size };
    const fill = (part: keyof typeof parts, target: Uint8Array): Promise<void> =>
      onSheet(parts[part], sheet).readRegion(pool, whole, target);
    const rgba = await renderTransparent(pool, size, look, { bytes: 1, scale, signal }, fill);
    if (!isYuv(output)) return rgba;
    const cover = new Uint8Array(area);
    for (let i = 0; i < area; i++) cover[i] = rgba[4 * i + 3]!;
    return withPlane(await this.asPlanes(rgba), cover);
  }

  private async asPlanes(rgba: Uint8Array): Promise<Uint8Array> {
    const look = resolveRecipe(neutralRecipe(), this.size);
    if (!this.planes) {
      this.planes = new SharedRenderer(this.pool);
      const formats = { input: { channels: 4, bytes: 1 } as const, output: this.output };
      await this.planes.open({ ...wholeView(this.size, look, formats), most: 0 });
    }
    this.planes.input(0).set(rgba);
    return this.planes.render({ slot: 0, source: crypto.randomUUID(), look, content: 'picture' });
  }

  async close(): Promise<void> {
    await this.planes?.close();
  }
}

function withPlane(planes: Uint8Array, plane: Uint8Array): Uint8Array {
  const both = new Uint8Array(planes.length + plane.length);
  both.set(planes);
  both.set(plane, planes.length);
  return both;
}

/** @throws Error with a sentence where a frame of a picture could not be read, and that is not to be repeated. */
function checkRead({ material, timeline, repeatsUnread }: FilmSource, index: number): void {
  if (repeatsUnread) return;
  const reason = timeline
    .sharesOf(index)
    .map(({ frame }) => material.unread.get(frame))
    .find(Boolean);
  if (reason) throw new AdvisedError(filesWords.trimThatPartAway(reason.replace(/\.$/, '')));
}

/** A sentence on the frames of a film that repeat the one before; empty where all could be read. */
export function unreadNote({ material, timeline }: FilmSource): string {
  const used = new Set<number>();
  for (let i = 0; i < timeline.frames; i++)
    for (const { frame } of timeline.sharesOf(i)) if (material.unread.has(frame)) used.add(frame);
  if (used.size === 0) return '';
  const list = [...used].sort((a, b) => a - b);
  const runs: [number, number][] = [];
  for (const frame of list) {
    const last = runs.at(-1);
    if (last && last[1] === frame - 1) last[1] = frame;
    else runs.push([frame, frame]);
  }
  const names = runs.map(([from, to]) => (from === to ? `${from + 1}` : filesWords.range(from + 1, to + 1)));
  return filesWords.couldntReadFrames(names.join(', '));
}

/** How planes of luma and chroma are wanted by an encoder: as the source has them, else as high definition does. */
export function encodedFormat({ footage }: MediaSource): YuvFormat {
  const format = footage?.format;
  return format && isYuv(format) && format.range === 'limited' && format.matrix !== 'bt2020'
    ? format
    : { matrix: 'bt709', range: 'limited' };
}
