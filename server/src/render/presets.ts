import { basename, join } from 'node:path';
import {
  type ExportPreset,
  type MetadataChoice,
  RecipeError,
  clipFormatOf,
  distinctNames,
  namesByPattern,
  parsePresets,
  safeName,
  stillFormatFor,
  textOf,
  withoutEnding,
} from '@hazy-lens/core';
import { clipKindBy } from '../footage/clip-writer';
import type { FootageJob } from '../footage/job';
import { type Encoding, InputError, readInputFile } from './picture';

/** A file of presets is a few kilobytes. */
const MAX_BYTES = 1_000_000;

/** One of the files that each picture is written to. */
export interface Output {
  /** Where that of each picture is. @param ending of a file of its source’s kind. */
  path(index: number, ending: string): string;
  encoding: Encoding;
  metadata: MetadataChoice;
  size: ExportPreset['size'];
  sharpening: number;
}

/** @throws InputError that names the file. */
export async function loadPresets(path: string): Promise<ExportPreset[]> {
  try {
    return parsePresets(textOf(await readInputFile(path, MAX_BYTES)));
  } catch (error) {
    if (error instanceof RecipeError) throw new InputError(`${path}: ${error.message}`);
    throw error;
  }
}

/** What presets write into a folder: several of them each into a folder of its own. @param names of the pictures’ files. */
export function outputsOfPresets(
  presets: readonly ExportPreset[],
  folder: string,
  names: readonly string[],
  recipePath: string,
): Output[] {
  return placesOf(presets, folder, names, recipePath).map(({ preset, stems, place }) => {
    const { metadata, size, sharpening } = preset;
    const extension = stillFormatFor(`x.${preset.kind}`)!.extension;
    const path = (index: number): string => join(place, stems[index]! + extension);
    return { path, encoding: encodingOf(preset), metadata, size, sharpening };
  });
}

/** One of the files, or folders of frames, that footage is written to. */
export interface FootageOutput {
  out: string;
  output: FootageJob['output'];
  size: ExportPreset['size'];
  encoding: Encoding;
  metadata: MetadataChoice;
}

/**
 * What those presets that are for footage write into a folder. @param name of the footage’s file.
 * @throws InputError where there is none.
 */
export function footageOutputs(
  all: readonly ExportPreset[],
  folder: string,
  name: string,
  recipePath: string,
): FootageOutput[] {
  const presets = all.filter(({ clip }) => clip !== null);
  if (presets.length === 0)
    throw new InputError('--presets: none of them is for footage. Keep one while a clip is open.');
  return placesOf(presets, folder, [name], recipePath).map(({ preset, stems, place }) => {
    const settings = preset.clip!;
    const { extension, writer } = clipFormatOf(settings.kind);
    const kind = clipKindBy(settings);
    const { size, metadata } = preset;
    const encoding = { ...encodingOf(preset), quality: settings.quality, space: 'srgb' } as const;
    if (kind) {
      const clip = join(place, stems[0]! + extension);
      return { out: clip, output: { clip, kind }, size, encoding, metadata };
    }
    const ending = writer.by === 'frames' && writer.type === 'image/jpeg' ? '.jpg' : '.png';
    return { out: join(place, stems[0]!), output: { ending }, size, encoding, metadata };
  });
}

interface Place {
  preset: ExportPreset;
  /** Names of the files, without their endings. */
  stems: string[];
  place: string;
}

function placesOf(
  presets: readonly ExportPreset[],
  folder: string,
  names: readonly string[],
  recipePath: string,
): Place[] {
  const recipe = basename(recipePath).replace(/(\.recipe)?\.json$/i, '');
  const sources = names.map((file) => ({ name: withoutEnding(file), file, recipe }));
  const day = new Date();
  const folders = distinctNames(presets.map(({ name }) => safeName(name)));
  return presets.map((preset, i) => ({
    preset,
    stems: namesByPattern(preset.pattern, sources, day),
    place: presets.length > 1 ? join(folder, folders[i]!) : folder,
  }));
}

const encodingOf = ({ bits, chroma, quality, space }: ExportPreset): Encoding => ({
  bits,
  chroma: chroma === '420' ? '4:2:0' : '4:4:4',
  quality,
  space,
});
