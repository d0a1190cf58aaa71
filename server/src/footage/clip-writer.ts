import { rename, rm, writeFile } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import {
  type ClipSettings,
  type FrameFormat,
  type Size,
  clipFormatOf,
  isYuv,
  quantizerFor,
} from '@hazy-lens/core';
import { InputError } from '../render/picture';
import { readsClip, start } from './ffmpeg';

/** How a kind of clip is written. */
export interface ClipKind {
  /** What its parts are coded as, and their ending. */
  video: readonly string[];
  part: string;
  /** Bits of a level where they are not 8. */
  bits?: 10;
  /** Width and height must be even. */
  isEven: boolean;
  /** What sound is coded as where it can’t be taken along as it is. */
  sound: readonly string[];
  /** Sound that it takes as it is. */
  takes: readonly string[];
  /** What it is told when parts are put together. */
  join: readonly string[];
}

const MP4: ClipKind = {
  isEven: true,
  video: ['-c:v', 'libx264', '-preset', 'medium', '-crf', '17', '-pix_fmt', 'yuv420p'],
  part: '.mp4',
  sound: ['-c:a', 'aac', '-b:a', '192k'],
  takes: ['aac', 'mp3', 'alac'],
  join: ['-c:v', 'copy', '-movflags', '+faststart'],
};
const WEBM: ClipKind = {
  isEven: true,
  video: ['-c:v', 'libvpx-vp9', '-crf', '22', '-b:v', '0', '-row-mt', '1', '-cpu-used', '3'],
  part: '.webm',
  sound: ['-c:a', 'libopus', '-b:a', '160k'],
  takes: ['opus', 'vorbis'],
  join: ['-c:v', 'copy'],
};
/** Parts lose nothing, where only the whole can be coded. */
const IN_ONE_GO = {
  isEven: false,
  video: ['-c:v', 'ffv1', '-level', '3'],
  part: '.mkv',
  sound: [],
  takes: [],
};
const GIF: ClipKind = {
  ...IN_ONE_GO,
  join: ['-vf', 'split[a][b];[a]palettegen[p];[b][p]paletteuse=dither=sierra2_4a', '-loop', '0'],
};
const CLIP_KINDS: Readonly<Record<string, ClipKind>> = {
  '.mp4': MP4,
  '.mov': MP4,
  '.m4v': MP4,
  '.mkv': { ...MP4, part: '.mkv', takes: ['aac', 'mp3', 'opus', 'vorbis', 'flac'], join: ['-c:v', 'copy'] },
  '.webm': WEBM,
  '.gif': GIF,
};

/** How a name says that a clip is written. @throws InputError for a name that none is written for. */
export function clipKind(path: string): ClipKind {
  const kind = CLIP_KINDS[extname(path).toLowerCase()];
  if (!kind)
    throw new InputError(`${path}: the name must end in ${Object.keys(CLIP_KINDS).join(', ')} for a clip.`);
  return kind;
}

const ENCODERS = {
  avc: ['libx264', '-preset', 'medium'],
  vp9: ['libvpx-vp9', '-row-mt', '1', '-cpu-used', '3'],
  av1: ['libaom-av1', '-row-mt', '1', '-cpu-used', '6'],
} as const;

/** How a clip is written by the settings of a preset; null for numbered pictures. */
export function clipKindBy({ kind, holds, quality, rate }: ClipSettings): ClipKind | null {
  const { writer } = clipFormatOf(kind);
  if (writer.by === 'frames') return null;
  if (writer.by === 'gif') return GIF;
  if (writer.by !== 'encoder')
    return { ...IN_ONE_GO, join: ['-c:v', 'libwebp_anim', '-q:v', `${quality}`, '-loop', '0'] };
  const { codec, container, bits } = writer;
  const isRated = holds === 'bitrate';
  const rated = ['-b:v', `${Math.round(rate * 1e6)}`];
  // Without a rate of 0 these two would hold to one.
  const free = codec === 'avc' ? [] : ['-b:v', '0'];
  const held = isRated ? rated : ['-crf', `${quantizerFor(quality, writer)}`, ...free];
  const pixels = bits ? 'yuv420p10le' : 'yuv420p';
  const video = ['-c:v', ...ENCODERS[codec], ...held, '-pix_fmt', pixels];
  return { ...(container === 'mp4' ? MP4 : WEBM), video, ...(bits && { bits }) };
}

/** A rate as a fraction where it is meant as one. */
function rateText(fps: number): string {
  const whole = Math.round(fps * 1.001);
  return Math.abs(fps - (whole * 1000) / 1001) < 1e-6 ? `${whole * 1000}/1001` : `${fps}`;
}

/** How the planes of a clip are marked. */
function marks(format: FrameFormat): string[] {
  if (!isYuv(format)) return [];
  const name = { bt601: 'smpte170m', bt709: 'bt709', bt2020: 'bt2020nc' }[format.matrix];
  const primaries = format.matrix === 'bt2020' ? 'bt2020' : name;
  const curve = format.matrix === 'bt2020' ? 'bt709' : name;
  return [
    ...['-color_range', format.range === 'full' ? 'pc' : 'tv', '-colorspace', name],
    ...['-color_primaries', primaries, '-color_trc', curve],
  ];
}

/** Writes a part of a clip whole or not at all. @param path where it goes; its name ends as `clipKind` says. */
export async function writeClipPart(
  path: string,
  kind: ClipKind,
  { width, height, format, fps }: Size & { format: FrameFormat; fps: number },
  frames: AsyncIterable<{ data: Uint8Array }>,
): Promise<void> {
  const part = `${path}.part-${process.pid}${kind.part}`;
  const pixels = isYuv(format) ? (format.bits === 10 ? 'yuv420p10le' : 'yuv420p') : 'rgb24';
  const raw = ['-f', 'rawvideo', '-pix_fmt', pixels, '-s', `${width}x${height}`, '-r', rateText(fps)];
  const running = start(
    'ffmpeg',
    ['-y', ...raw, ...marks(format), '-i', 'pipe:0', ...kind.video, ...marks(format), `file:${part}`],
    true,
  );
  try {
    // The renderer writes over its bytes when the next frame is asked for.
    for await (const { data } of frames) await running.write(Buffer.from(data));
    running.child.stdin!.end();
    await running.finish(`${path}: can’t be written`);
    await rename(part, path);
  } catch (error) {
    running.stop();
    await running.ended;
    await rm(part, { force: true });
    throw error;
  }
}

/** The sound that goes along: from which clip, and which of its seconds. */
export interface SoundOf {
  path: string;
  codec: string;
  from: number;
  to: number;
  /** How much faster it is heard, at its own pitch. */
  speed: number;
  /** All of it is taken. */
  isWhole: boolean;
}

/** How ffmpeg changes the speed of sound at its own pitch. Above twice as fast one step would skip some of it. */
function stretching(speed: number): string[] {
  if (speed === 1) return [];
  const steps = Math.ceil(Math.abs(Math.log2(speed)) - 1e-9);
  const each = `atempo=${(speed ** (1 / steps)).toFixed(9)}`;
  return ['-af', Array.from({ length: steps }, () => each).join(',')];
}

/** Puts parts together to a clip, whole or not at all. */
export async function joinClip(
  path: string,
  kind: ClipKind,
  parts: readonly string[],
  sound: SoundOf | null,
): Promise<void> {
  const list = join(dirname(parts[0]!), `parts-${process.pid}.txt`);
  const part = `${path}.part-${process.pid}${extname(path)}`;
  const takesSound = sound && kind.sound.length > 0;
  const args = ['-f', 'concat', '-safe', '0', '-i', `file:${list}`];
  if (takesSound) {
    if (!sound.isWhole) args.push('-ss', sound.from.toFixed(6), '-to', sound.to.toFixed(6));
    const isTaken = sound.isWhole && sound.speed === 1 && kind.takes.includes(sound.codec);
    args.push(...readsClip(sound.path), '-map', '0:v:0', '-map', '1:a:0');
    args.push(...(isTaken ? ['-c:a', 'copy'] : [...stretching(sound.speed), ...kind.sound]));
  }
  try {
    await writeFile(list, parts.map((one) => `file '${one.replaceAll("'", "'\\''")}'\n`).join(''));
    await start('ffmpeg', ['-y', ...args, ...kind.join, `file:${part}`]).finish(
      `${path}: can’t be put together`,
    );
    await rename(part, path);
  } finally {
    await rm(list, { force: true });
    await rm(part, { force: true });
  }
}
