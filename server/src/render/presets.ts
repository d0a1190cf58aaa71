import { basename, join } from 'node:path';
import {
  type ExportPreset,
  type MetadataChoice,
  RecipeError,
  distinctNames,
  namesByPattern,
  parsePresets,
  safeName,
  stillFormatFor,
  textOf,
  withoutEnding,
} from '@hazy-lens/core';
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
  const recipe = basename(recipePath).replace(/(\.recipe)?\.json$/i, '');
  const sources = names.map((file) => ({ name: withoutEnding(file), file, recipe }));
  const day = new Date();
  const folders = distinctNames(presets.map(({ name }) => safeName(name)));
  return presets.map(({ pattern, kind, quality, bits, chroma, space, metadata, size, sharpening }, i) => {
    const stems = namesByPattern(pattern, sources, day);
    const place = presets.length > 1 ? join(folder, folders[i]!) : folder;
    const extension = stillFormatFor(`x.${kind}`)!.extension;
    return {
      path: (index) => join(place, stems[index]! + extension),
      encoding: { bits, chroma: chroma === '420' ? '4:2:0' : '4:4:4', quality, space },
      metadata,
      size,
      sharpening,
    };
  });
}
