import * as z from 'zod';
import { type Size, scaledSize } from '../geometry/size';
import { RecipeError } from '../recipe/parse';
import { foreignText } from '../recipe/foreign-text';
import type { MetadataChoice } from './exif';
import { CLIP_FORMATS, type ClipFormatId } from './clip-formats';
import { STILL_FORMATS, type StillFormatId } from './still-formats';

const ids = STILL_FORMATS.map(({ id }) => id) as [StillFormatId, ...StillFormatId[]];
const METADATA = ['all', 'without-place', 'none'] as const satisfies readonly MetadataChoice[];
/** Most presets in a file. */
const MAX_PRESETS = 100;
const MAX_PX = 100_000;

const exportSizeSchema = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('full') }),
  z.strictObject({ by: z.literal('long-edge'), px: z.int().min(16).max(MAX_PX) }),
  z.strictObject({ by: z.literal('short-edge'), px: z.int().min(16).max(MAX_PX) }),
  z.strictObject({ by: z.literal('megapixels'), mp: z.number().min(0.01).max(1000) }),
  z.strictObject({ by: z.literal('percent'), percent: z.number().min(1).max(100) }),
]);

/** How large a picture is written: never larger than it is. */
export type ExportSize = z.infer<typeof exportSizeSchema>;

/** How a picture is written, without a name. */
export const exportSettingsSchema = z.strictObject({
  kind: z.enum(ids),
  /** 1..100, for kinds that lose something. */
  quality: z.number().min(1).max(100).default(92),
  /** Bits a channel, where the kind can have 16; null for as many as the source has. */
  bits: z
    .union([z.literal(8), z.literal(16)])
    .nullable()
    .default(null),
  /** How finely a JPEG keeps colour beside brightness. */
  chroma: z.enum(['420', '444']).default('420'),
  /** Primaries of the file, which its profile says. */
  space: z.enum(['srgb', 'display-p3']).default('srgb'),
  size: exportSizeSchema.default({ by: 'full' }),
  /** Sharpening for output, 0..1, see `sharpenForOutput`. */
  sharpening: z.number().min(0).max(1).default(0),
  /** What of the source's goes along. */
  metadata: z.enum(METADATA).default('without-place'),
  /** How files are named, see `namesByPattern`. */
  pattern: z.string().max(120).default('{name}'),
});

export type ExportSettings = z.infer<typeof exportSettingsSchema>;

const clipIds = CLIP_FORMATS.map(({ id }) => id) as [ClipFormatId, ...ClipFormatId[]];

/** How footage is written. */
export const clipSettingsSchema = z.strictObject({
  kind: z.enum(clipIds).default('mp4'),
  /** What an encoder holds to. */
  holds: z.enum(['quality', 'bitrate']).default('quality'),
  /** 1..100 */
  quality: z.number().min(1).max(100).default(80),
  /** Millions of bits a second. */
  rate: z.number().min(0.1).max(200).default(12),
});

export type ClipSettings = z.infer<typeof clipSettingsSchema>;

export const exportPresetSchema = exportSettingsSchema.extend({
  name: z.string().trim().min(1).max(80),
  /** How footage is written with it; null where it is for pictures alone. */
  clip: clipSettingsSchema.nullable().default(null),
});

/** Export settings that were kept under a name. */
export type ExportPreset = z.infer<typeof exportPresetSchema>;

const fileSchema = z.strictObject({
  format: z.literal('hazy-lens-presets'),
  version: z.literal(1),
  presets: z.array(exportPresetSchema).min(1).max(MAX_PRESETS),
});

/** Export settings where nothing is said: a JPEG of the full size. */
export const defaultExportSettings = (): ExportSettings => exportSettingsSchema.parse({ kind: 'jpeg' });

/** Presets as the text of a file. */
export const presetsText = (presets: readonly ExportPreset[]): string =>
  `${JSON.stringify({ format: 'hazy-lens-presets', version: 1, presets }, null, 2)}\n`;

/** The presets in a file's text. @throws RecipeError that says which field is wrong, and how. */
export function parsePresets(text: string): ExportPreset[] {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new RecipeError('the presets are no valid JSON');
  }
  const { version } = (json ?? {}) as { version?: unknown };
  if (typeof version === 'number' && version > 1)
    throw new RecipeError(`version: these presets are of version ${version}. Update Hazy Lens.`);
  const read = fileSchema.safeParse(json);
  if (read.success) return read.data.presets;
  const { path, message } = read.error.issues[0]!;
  throw new RecipeError(foreignText([path.join('.'), message].filter(Boolean).join(': ')));
}

/** The size in pixels that a picture is written at. @param picture what a crop leaves of it. */
export function exportSize(picture: Size, size: ExportSize): Size {
  const { width, height } = picture;
  const by = (scale: number): Size => scaledSize(picture, Math.min(1, scale));
  switch (size.by) {
    case 'full':
      return by(1);
    case 'long-edge':
      return by(size.px / Math.max(width, height));
    case 'short-edge':
      return by(size.px / Math.min(width, height));
    case 'megapixels':
      return by(Math.sqrt((size.mp * 1e6) / (width * height)));
    case 'percent':
      return by(size.percent / 100);
  }
}
