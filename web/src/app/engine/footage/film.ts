import {
  type ClipTimes,
  type Companions,
  type FrameFormat,
  type LitShares,
  type Recipe,
  SharedRenderer,
  type Size,
  type Timeline,
  type YuvFormat,
  isWhole,
  isYuv,
  litShares,
  recipeAt,
  sheetOf,
  strongestBlur,
  tidiedLook,
  wholeView,
} from '@hazy-lens/core';
import { onSheet } from '../cut-picture';
import { FreePixels } from '../free-pixels';
import type { Loan, Material } from '../material';
import { measuresOf } from '../measures-of';
import type { RenderPool } from '../pool';
import { blendedPicture } from './blended';
import type { Sound } from './sound';
import { AdvisedError } from '../../model/causes';

/** All that a film is made of; nothing of it changes while it is made. */
export interface FilmSource {
  material: Material;
  /** With its keys. */
  recipe: Recipe;
  /** When its frames are shown. */
  times: ClipTimes;
  timeline: Timeline;
  /** What the files are that the recipe names. */
  companions: Companions;
  /** What the light of each frame of the source is multiplied by; null where it stays. */
  lights: number[] | null;
  /** The frame before takes the place of one that cannot be read; else that ends the film. */
  repeatsUnread: boolean;
  /** The clip's sound, where the pace leaves it as it is. */
  sound: Sound | null;
}

/** The pixels of a picture of the film, good until the next one is asked for. */
export interface FilmedPicture {
  index: number;
  bytes: Uint8Array;
}

/** Lets work wait while it is paused. */
export interface Gate {
  passed(): Promise<void>;
}

/**
 * Renders the pictures of a film in order. While one is rendered the next is decoded; what is done with the last goes on
 * beside both.
 * @param output how the pixels are wanted. @param from the first picture that is wanted. @throws the signal's reason.
 */
export async function* filmed(
  source: FilmSource,
  size: Size,
  output: FrameFormat,
  pool: RenderPool,
  signal: AbortSignal,
  gate: Gate,
  from = 0,
): AsyncGenerator<FilmedPicture, void> {
  const { material, recipe, times, timeline, companions } = source;
  const blends = recipe.pace.on && recipe.pace.blend > 0;
  const lit = (index: number): LitShares => litShares(timeline.sharesOf(index), source.lights);
  const free = new FreePixels();
  const borrow = (index: number): Promise<Loan> =>
    blendedPicture(material, lit(index).shares, pool, free, blends);
  const first = await borrow(from);
  const sheet = sheetOf(recipe, material);
  const isAsItCame = isWhole(sheet) && size.width === material.width && size.height === material.height;
  const input = isAsItCame ? first.picture.format : first.picture.cutFormat;
  const renderer = new SharedRenderer(pool);
  const scale = size.width / sheet.width;
  const strongest = tidiedLook({ ...recipe, blur: strongestBlur(recipe) }, material, companions);
  const view = wholeView(size, strongest, { input, output }, scale);
  try {
    await renderer.open({ ...view, slots: 2 });
    let next = Promise.resolve(first);
    for (let index = from; index < timeline.frames; index++) {
      await gate.passed();
      signal.throwIfAborted();
      const { picture, giveBack } = await next;
      checkRead(source, index);
      if (index + 1 < timeline.frames) {
        next = borrow(index + 1);
        next.catch(() => undefined);
      }
      const slot = index % 2;
      if (isAsItCame) renderer.input(slot).set(new Uint8Array(picture.pixelsAsTheyLie));
      else await onSheet(picture, sheet).cut(pool, view.region, renderer.input(slot));
      const frame = timeline.frameOf(index);
      const now = recipeAt(recipe, times.starts[frame]!);
      const measures = measuresOf(picture, now);
      const look = tidiedLook(now, material, companions, lit(index).light, measures);
      const bytes = await renderer.render(
        { slot, source: picture.id, look, content: 'picture', frame },
        { signal },
      );
      giveBack();
      yield { index, bytes };
    }
  } finally {
    await renderer.close();
  }
}

/** @throws Error with a sentence where a frame of a picture could not be read, and that is not to be repeated. */
function checkRead({ material, timeline, repeatsUnread }: FilmSource, index: number): void {
  if (repeatsUnread) return;
  const reason = timeline
    .sharesOf(index)
    .map(({ frame }) => material.unread.get(frame))
    .find(Boolean);
  if (reason)
    throw new AdvisedError(
      `${reason.replace(/\.$/, '')}: trim that part away, or tick “Repeat the frame before” in Output`,
    );
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
  const names = runs.map(([from, to]) => (from === to ? `${from + 1}` : `${from + 1} to ${to + 1}`));
  return `Could not read frames ${names.join(', ')}: each repeats the frame before it.`;
}

/** How planes of luma and chroma are wanted by an encoder: as the source has them, else as high definition does. */
export function encodedFormat({ footage }: Material): YuvFormat {
  const format = footage?.format;
  return format && isYuv(format) && format.range === 'limited' && format.matrix !== 'bt2020'
    ? format
    : { matrix: 'bt709', range: 'limited' };
}
