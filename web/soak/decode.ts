// A process that reads files as the application does, one after the other.
import { createRequire } from 'node:module';
import { type HeifLibrary, readRecipe } from '@hazy-lens/core';
import Vips from 'wasm-vips';
import { type Libraries, decodeFile, decodeGreyFile } from '../src/app/engine/codecs/decode';
import type { Library } from '../src/app/engine/codecs/vips';
import { unzip } from '../src/app/engine/codecs/zip';

console.log = console.warn = console.error = () => undefined;
const config = { dynamicLibraries: ['vips-heif.wasm'], printErr: () => undefined };
const vips = (await Vips(config as object)) as unknown as Library;
const libraries: Libraries = {
  vips: async () => vips,
  heif: async () => createRequire(import.meta.url)('libheif-js/wasm-bundle') as HeifLibrary,
};
const progress = (): void => undefined;

/** What became of a file: the kind of thing that was in it, or a sentence. */
async function read(name: string, bytes: Uint8Array): Promise<string> {
  try {
    if (name.endsWith('.json')) readRecipe(new TextDecoder().decode(bytes));
    else if (name.endsWith('.zip')) {
      const recipe = unzip(bytes, { mostBytes: 600_000_000, tooMuch: 'It is too much.' }, progress).get(
        'recipe.json',
      );
      if (!recipe) return 'The zip holds no recipe.json.';
      readRecipe(new TextDecoder().decode(recipe));
    } else if (name.startsWith('depth')) await decodeGreyFile(libraries, bytes, name, progress);
    else await decodeFile(libraries, bytes, name, progress);
    return 'read';
  } catch (error) {
    const { name: kind, message } = error as Error;
    if (kind === 'FileError' || kind === 'RecipeError') return message;
    return `unexpected: ${kind} ${message}`;
  }
}

process.on('message', async ({ name, bytes }: { name: string; bytes: Uint8Array }) =>
  process.send!(await read(name, bytes)),
);
process.send!('ready');
