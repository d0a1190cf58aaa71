import { createHash } from 'node:crypto';
import { access, mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import {
  ALL_PARTS,
  type ExportSize,
  type MetadataChoice,
  NO_METADATA,
  type PixelFormat,
  type Recipe,
  type RecipePart,
  type Threads,
  type Timeline,
  isYuv,
  soundSpeed,
  neutralRecipe,
  stillFormatFor,
  withParts,
} from '@hazy-lens/core';
import type { Inputs } from '../render/inputs';
import { type Encoding, InputError, bytesFor, writePicture } from '../render/picture';
import { ClipFrames } from './clip-frames';
import { type ClipFacts, isClipName } from './clip-probe';
import { type ClipKind, type SoundOf, clipKind, joinClip, writeClipPart } from './clip-writer';
import { FootageRenderer, RGB, planesFor } from './footage-renderer';
import { PictureFrames } from './picture-frames';

/** Footage to be rendered, and how. */
export interface FootageJob {
  recipe: Recipe;
  /** Path of the recipe’s file: what it names lies beside it. */
  recipePath: string;
  /** A clip’s path, or numbered pictures. */
  input: string | Inputs;
  /** Frames a second of numbered pictures; null where nothing is said. */
  fps: number | null;
  /** A clip, coded as its name says or by a preset; or pictures, as the source’s are where nothing is said. */
  output: { clip: string; kind?: ClipKind } | { ending: '.png' | '.jpg' | null };
  /** How large it is; all of it where nothing is said. */
  size?: ExportSize;
  metadata: MetadataChoice;
  encoding: Encoding;
}

const kindOf = ({ clip, kind = clipKind(clip) }: { clip: string; kind?: ClipKind }): ClipKind => kind;

/** The parts of a recipe that are used. */
export function partsOf(recipe: Recipe, parts: ReadonlySet<RecipePart> | null): Recipe {
  return withParts(neutralRecipe(), recipe, parts ?? ALL_PARTS);
}

/** What a picture of a number is called. */
const frameName = (index: number, ending: string): string =>
  `frame-${String(index).padStart(5, '0')}${ending}`;

/** Footage that is open for rendering; its parts may be rendered in any order, and on other machines. */
export class OpenFootage {
  private constructor(
    private readonly job: FootageJob,
    private readonly renderer: FootageRenderer,
    /** Ending of the files that a part is rendered to. */
    readonly ending: string,
    private readonly clip: ClipFrames | null,
  ) {}

  /** @param heard hears of each frame that is measured. @throws InputError that names the file. */
  static async open(job: FootageJob, threads: Threads, heard?: () => void): Promise<OpenFootage> {
    const { input, recipe, recipePath, output } = job;
    const isClip = typeof input === 'string';
    const source = isClip ? await ClipFrames.open(input) : await PictureFrames.open(input.pictures, job.fps);
    try {
      const samples = isYuv(source.format) ? RGB : source.format;
      const ending =
        'clip' in output
          ? kindOf(output).part
          : (output.ending ?? (isClip ? '.png' : endingFor(input.pictures[0]!.name, samples, job.encoding)));
      const format =
        'clip' in output
          ? planesFor(source.format, kindOf(output).bits)
          : { ...samples, bytes: bytesFor(`x${ending}`, samples, job.encoding) };
      const wish = {
        format,
        size: job.size ?? { by: 'full' },
        isEven: 'clip' in output && kindOf(output).isEven,
      };
      const renderer = await FootageRenderer.open(source, recipe, recipePath, threads, wish, heard);
      return new OpenFootage(job, renderer, ending, isClip ? (source as ClipFrames) : null);
    } catch (error) {
      await source.close();
      throw error;
    }
  }

  get frames(): number {
    return this.renderer.timeline.frames;
  }

  get fps(): number {
    return this.renderer.timeline.fps;
  }

  get width(): number {
    return this.renderer.size.width;
  }

  get height(): number {
    return this.renderer.size.height;
  }

  /**
   * Renders frames from..to, both included, into a folder.
   * @param onFrame hears of each that is rendered. @returns names of the files.
   */
  async renderPart(
    folder: string,
    from: number,
    to: number,
    onFrame: (index: number) => void = () => undefined,
  ): Promise<string[]> {
    const { job, renderer, ending } = this;
    const { format, size } = renderer;
    const frames = told(renderer.frames(from, to), onFrame);
    if ('clip' in job.output) {
      const name = `part-${String(from).padStart(7, '0')}${ending}`;
      const how = { ...size, format, fps: this.fps };
      await writeClipPart(join(folder, name), kindOf(job.output), how, frames);
      return [name];
    }
    if (isYuv(format)) throw new TypeError('Pictures have no planes.');
    const names: string[] = [];
    for await (const { index, data } of frames) {
      const name = frameName(index, ending);
      const bytes = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
      const { width, height } = size;
      const picture = {
        width,
        height,
        format,
        data: bytes,
        primaries: 'srgb',
        gain: 1,
        metadata: NO_METADATA,
      } as const;
      await writePicture(join(folder, name), picture, job.metadata, job.encoding);
      names.push(name);
    }
    return names;
  }

  /** The sound that goes along. */
  get sound(): SoundOf | null {
    const { clip, job, renderer } = this;
    return clip && soundOf(job, clip.facts, renderer.timeline);
  }

  close(): Promise<void> {
    return this.renderer.close();
  }
}

/** The sound of a clip, where it goes along with the pace. */
export function soundOf(
  { input, recipe }: Pick<FootageJob, 'input' | 'recipe'>,
  { sound, times }: ClipFacts,
  { from, to }: Pick<Timeline, 'from' | 'to'>,
): SoundOf | null {
  const speed = soundSpeed(recipe.pace);
  if (typeof input !== 'string' || sound === null || speed === null) return null;
  return { path: input, codec: sound, from, to, speed, isWhole: from <= 0 && to >= times.end - 1e-6 };
}

async function* told<T extends { index: number }>(
  frames: AsyncIterable<T>,
  onFrame: (index: number) => void,
): AsyncGenerator<T, void> {
  for await (const frame of frames) {
    onFrame(frame.index);
    yield frame;
  }
}

/** Writes as the input was, where that can hold it; PNG otherwise. */
export function endingFor(name: string, { bytes }: PixelFormat, { bits }: Encoding): string {
  const isDeep = (bits ?? 8 * bytes) === 16;
  const own = /\.[^.]+$/.exec(name)?.[0].toLowerCase() ?? '';
  const isDeepKind = ['.png', '.tif', '.tiff'].includes(own);
  const isWritten = isDeepKind || ['.jpg', '.jpeg', '.webp', '.avif'].includes(own);
  return !isWritten || (isDeep && !isDeepKind) ? '.png' : own;
}

/** Where frames or parts of them are written to. */
export async function makeFolder(path: string): Promise<void> {
  try {
    await mkdir(path, { recursive: true });
  } catch (error) {
    throw new InputError(`${path}: can’t write to this folder (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** Frames of a part that is finished, and can be gone on from after a crash. */
const PART_FRAMES = 120;

/**
 * Renders frames from..to of a clip by parts, beside where it goes: those that are there from a run before that was cut
 * short are used again, if all else is the same.
 */
export async function renderClipInParts(
  open: OpenFootage,
  { clip: out, kind = clipKind(out) }: { clip: string; kind?: ClipKind },
  [from, to]: readonly [number, number],
  key: string,
  sound: SoundOf | null,
  onFrame: (done: number, of: number) => void,
): Promise<void> {
  const folder = `${resolve(out)}.parts`;
  await makeFolder(folder);
  const keyFile = join(folder, 'made-of.txt');
  const before = await readFile(keyFile, 'utf8').catch(() => null);
  if (before !== key) {
    await rm(folder, { recursive: true, force: true });
    await makeFolder(folder);
    await writeFile(keyFile, key);
  }
  const parts: string[] = [];
  for (let at = from; at <= to; at += PART_FRAMES) {
    const end = Math.min(to, at + PART_FRAMES - 1);
    const path = join(folder, `part-${String(at).padStart(7, '0')}${open.ending}`);
    const isThere = await access(path).then(
      () => true,
      () => false,
    );
    if (!isThere) await open.renderPart(folder, at, end, (index) => onFrame(index - from + 1, to - from + 1));
    onFrame(end - from + 1, to - from + 1);
    parts.push(path);
  }
  await joinClip(out, kind, parts, sound);
  await rm(folder, { recursive: true, force: true });
}

/** Says what a rendering is made of: the same text for the same files, settings and frames. */
export async function keyOf(files: readonly string[], settings: unknown): Promise<string> {
  const hash = createHash('sha256');
  for (const path of files) {
    const { size, mtimeMs } = await stat(path);
    hash.update(`${resolve(path)} ${size} ${mtimeMs}\n`);
  }
  return hash.update(JSON.stringify(settings)).digest('hex');
}

/** @throws InputError where a name says neither a clip nor pictures that are written. */
export function outputOf(path: string): FootageJob['output'] {
  if (stillFormatFor(path))
    throw new InputError(`${path}: footage is rendered to a clip, or to a folder of pictures.`);
  if (isClipName(path)) {
    clipKind(path);
    return { clip: path };
  }
  return { ending: null };
}
