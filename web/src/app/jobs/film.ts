import {
  CLIP_FORMATS,
  type ClipFormat,
  type ClipSettings,
  type Size,
  bitrateFor,
  clipFormatOf,
} from '@hazy-lens/core';
import type { FilmSource } from '../engine/footage/render-frames';
import type { FilmOptions } from '../engine/footage/writers';
import type { StoredFilm } from '../storage/clip-repository';
import { queueWords } from '../words/queue';

export interface FilmWish extends Omit<FilmOptions, 'frames' | 'fps' | 'name' | 'sound' | 'isTransparent'> {
  kind: ClipFormat;
  fileName: string;
  /** The frame before takes the place of one that cannot be read; else that ends the film. */
  repeatsUnread: boolean;
}

/** A film as it is wanted, whatever it is called. */
export type NamelessWish = Omit<FilmWish, 'fileName'>;

/** A film by settings, at a size and frames a second. */
export function filmWish(
  { kind: id, holds, quality, rate }: ClipSettings,
  size: Size,
  fps: number,
  repeatsUnread: boolean,
): NamelessWish {
  const kind = clipFormatOf(id);
  const { writer } = kind;
  const isRated = writer.by === 'encoder' && holds === 'bitrate';
  const codec = writer.by === 'encoder' ? writer.codec : 'avc';
  return {
    ...size,
    kind,
    bitrate: isRated ? Math.round(rate * 1e6) : bitrateFor(quality, size, fps, codec),
    holds,
    quality: quality / 100,
    repeatsUnread,
  };
}

/** What a film is made of, and the project that it is of: null for one that is not kept. */
export interface FilmInput {
  source: FilmSource;
  projectId: string | null;
  /** Frames a second of numbered pictures; null for other footage. */
  rate: number | null;
}

/** A film as it is kept, whatever project it is of. */
export type Film = Omit<StoredFilm, 'projectId'>;

/** What a film is made of, as it is wanted. */
export function wished(input: FilmInput, { repeatsUnread }: FilmWish): FilmInput {
  return { ...input, source: { ...input.source, repeatsUnread } };
}

/** What a film is, as it is kept. */
export function filmRow(
  id: string,
  { kind, fileName, width, height, bitrate, holds, quality, repeatsUnread }: FilmWish,
  { recipe, lights, timeline: { frames, fps } }: FilmSource,
  rate: number | null,
): Film {
  return {
    id,
    fileName,
    kind: kind.id,
    recipe,
    rate,
    lights,
    width,
    height,
    bitrate,
    holds,
    quality,
    repeatsUnread,
    frames,
    fps,
  };
}

/** @throws Error for a kind that there is no more. */
export function kindOf({ kind }: { kind: string }): ClipFormat {
  const found = CLIP_FORMATS.find(({ id }) => id === kind);
  if (!found) throw new Error(queueWords.thisClipFormatIsNo);
  return found;
}
