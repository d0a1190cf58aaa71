import { z } from 'zod';
import { type ClipTimes, type FrameFormat, type Size, type YuvFormat, sizeProblem } from '@hazy-lens/core';
import { InputError } from '../render/picture';
import { readsClip, start } from './ffmpeg';

/** What a clip's file says of it. */
export interface ClipFacts extends Size {
  /** How its frames are read. */
  format: FrameFormat;
  /** ffmpeg's name for that. */
  pixelFormat: string;
  times: ClipTimes;
  /** When each frame begins, by the file's own clock in seconds, and when that starts. */
  stamps: Float64Array;
  startTime: number;
  /** What its sound is coded as; null where it has none. */
  sound: string | null;
}

const number = z.coerce.number();
const STREAM = z.object({
  codec_type: z.string(),
  codec_name: z.string().optional(),
  width: z.number().int().positive().optional(),
  height: z.number().int().positive().optional(),
  pix_fmt: z.string().optional(),
  color_space: z.string().optional(),
  color_range: z.string().optional(),
  color_transfer: z.string().optional(),
  nb_frames: number.optional(),
  disposition: z.object({ attached_pic: z.number() }).optional(),
  side_data_list: z.array(z.object({ rotation: z.number().optional() })).optional(),
});
const PROBE = z.object({
  streams: z.array(STREAM),
  format: z.object({ start_time: number.optional() }),
});
const PACKETS = z.object({
  packets: z.array(
    z.object({ pts_time: number.optional(), duration_time: number.optional(), flags: z.string() }),
  ),
});

const MATRICES: Partial<Record<string, YuvFormat['matrix']>> = {
  bt709: 'bt709',
  smpte170m: 'bt601',
  bt470bg: 'bt601',
  bt2020nc: 'bt2020',
};

export const isClipName = (path: string): boolean => /\.(mp4|mov|m4v|webm|mkv|gif)$/i.test(path);

/** Planes as they are where they can be taken so, else red, green and blue. */
function formatOf(stream: z.infer<typeof STREAM>): Pick<ClipFacts, 'format' | 'pixelFormat'> {
  const {
    pix_fmt: pixels = '',
    color_space: matrix = '',
    color_range: range,
    color_transfer: curve,
  } = stream;
  const isHdr = curve === 'smpte2084' || curve === 'arib-std-b67';
  if (!/^(yuv|nv12|p010)/.test(pixels) || isHdr || matrix === 'gbr')
    return { format: { channels: 3, bytes: 1 }, pixelFormat: 'rgb24' };
  const isFull = range === 'pc' || pixels.startsWith('yuvj');
  // Where a file does not say, size decides, as displays do.
  const isSmall = stream.width! < 1280 && stream.height! <= 576;
  return {
    format: { matrix: MATRICES[matrix] ?? (isSmall ? 'bt601' : 'bt709'), range: isFull ? 'full' : 'limited' },
    // The same planes under another name, so that nothing is scaled to another range.
    pixelFormat: pixels.startsWith('yuvj') ? 'yuvj420p' : 'yuv420p',
  };
}

function parsed<T>(schema: z.ZodType<T>, text: string, path: string): T {
  try {
    return schema.parse(JSON.parse(text));
  } catch {
    throw new InputError(`${path}: can’t be read as a clip (it doesn’t say what is in it).`);
  }
}

/** @throws InputError that names the file. */
export async function probeClip(path: string): Promise<ClipFacts> {
  const what = `${path}: can’t be read as a clip`;
  const about = ['-show_streams', '-show_format', '-of', 'json', ...readsClip(path)];
  const { streams, format: container } = parsed(PROBE, await start('ffprobe', about).text(what), path);
  const stream = streams.find(
    ({ codec_type: type, disposition }) => type === 'video' && disposition?.attached_pic !== 1,
  );
  if (!stream?.width || !stream.height) throw new InputError(`${path}: no video found in it.`);
  const turn = stream.side_data_list?.find(({ rotation }) => rotation !== undefined)?.rotation ?? 0;
  const isTurned = Math.abs(turn) % 180 === 90;
  const size = isTurned
    ? { width: stream.height, height: stream.width }
    : { width: stream.width, height: stream.height };
  const problem = sizeProblem(size);
  if (problem) throw new InputError(`${path}: ${problem}`);
  const listing = ['-select_streams', 'v:0', '-show_packets', '-show_entries'];
  const entries = 'packet=pts_time,duration_time,flags';
  const list = await start('ffprobe', [...listing, entries, '-of', 'json', ...readsClip(path)]).text(what);
  const { packets } = parsed(PACKETS, list, path);
  if (packets.length < (stream.nb_frames ?? 0))
    throw new InputError(
      `${path}: ends after frame ${packets.length} of ${stream.nb_frames}. The file is incomplete.`,
    );
  const shown = packets
    .filter(({ pts_time: at, flags }) => at !== undefined && !flags.includes('D'))
    .sort((a, b) => a.pts_time! - b.pts_time!);
  if (shown.length === 0) throw new InputError(`${path}: no frames found in it.`);
  const stamps = Float64Array.from(shown, ({ pts_time: at }) => at!);
  const starts = stamps.map((at) => at - stamps[0]!);
  const last = shown.at(-1)!.duration_time ?? 0;
  const even = starts.length > 1 ? starts.at(-1)! / (starts.length - 1) : 1 / 30;
  return {
    ...size,
    ...formatOf(stream),
    times: { starts, end: starts.at(-1)! + (last > 0 ? last : even) },
    stamps,
    startTime: container.start_time ?? 0,
    sound: streams.find(({ codec_type: type }) => type === 'audio')?.codec_name ?? null,
  };
}
