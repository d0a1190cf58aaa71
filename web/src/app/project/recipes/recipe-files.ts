import { type Recipe, RecipeError, readRecipe, textOf, referencedFiles } from '@hazy-lens/core';
import { zipSync } from 'fflate';
import { readRecipeFile, unzipFile } from '../../engine/codecs/codec';
import type { UnzipOptions } from '../../engine/codecs/messages';
import { zipHolds } from '../../engine/zip-names';
import { projectWords } from '../../words/project';

/** A recipe as it lies in files: itself, and the pictures that it names. */
export interface RecipeFiles {
  recipe: Recipe;
  pictures: Map<string, Blob>;
}

const RECIPE_NAME = 'recipe.json';
/** What a zip may unpack to: far more than maps and mattes need, far less than would hurt. */
const IN_ZIP: UnzipOptions = {
  mostBytes: 600_000_000,
  tooMuch: projectWords.theZipHoldsFarMore,
};
/** A recipe with every stroke it may hold is smaller. */
const MAX_TEXT_BYTES = 200_000_000;
/** Takes longer than a page may stand still. */
const LONG_TEXT_BYTES = 200_000;

/** A recipe as one file: plain JSON, or a zip of it and its pictures where it names some. */
export async function packRecipe(
  recipe: Recipe,
  fileOf: (name: string) => Promise<Blob>,
): Promise<{ file: Blob; extension: '.recipe.json' | '.recipe.zip' }> {
  const text = JSON.stringify(recipe, null, 2);
  const names = [...new Set(referencedFiles(recipe))];
  if (names.length === 0)
    return { file: new Blob([text], { type: 'application/json' }), extension: '.recipe.json' };
  const entries: Record<string, [Uint8Array, { level: 0 | 6 }]> = {
    [RECIPE_NAME]: [new TextEncoder().encode(text), { level: 6 }],
  };
  // PNGs are compressed already.
  for (const name of names)
    entries[name] = [new Uint8Array(await (await fileOf(name)).arrayBuffer()), { level: 0 }];
  const zip = zipSync(entries) as Uint8Array<ArrayBuffer>;
  return { file: new Blob([zip], { type: 'application/zip' }), extension: '.recipe.zip' };
}

export function isRecipeFile(file: File): boolean {
  return /\.(json|zip)$/i.test(file.name) || ['application/json', 'application/zip'].includes(file.type);
}

/** True where files that were brought in are a recipe: one of JSON, or a zip that holds one. */
export async function isRecipe(files: readonly File[]): Promise<boolean> {
  const main = files.find(isRecipeFile);
  if (!main) return false;
  return !/\.zip$/i.test(main.name) || zipHolds(main, RECIPE_NAME);
}

/**
 * Reads a recipe from the files that were chosen: a zip, or a JSON file with its pictures beside it.
 * @throws RecipeError, or an Error with a sentence.
 */
export async function unpackRecipe(
  files: readonly File[],
  unzip: (file: File, options: UnzipOptions) => Promise<Map<string, Blob>> = unzipFile,
): Promise<RecipeFiles> {
  const main = files.find(isRecipeFile);
  if (!main) throw new RecipeError(projectWords.thereIsNoRecipeAmong);
  const start = new Uint8Array(await main.slice(0, 2).arrayBuffer());
  if (start[0] !== 0x50 || start[1] !== 0x4b) {
    const pictures = new Map(files.filter((file) => file !== main).map((file) => [file.name, file]));
    return { recipe: await recipeIn(main, main.name), pictures };
  }
  const pictures = await unzip(main, IN_ZIP);
  const recipe = pictures.get(RECIPE_NAME);
  if (!recipe) throw new RecipeError(projectWords.theZipHoldsNo(RECIPE_NAME));
  pictures.delete(RECIPE_NAME);
  return { recipe: await recipeIn(recipe, main.name), pictures };
}

/** The recipe in a file of JSON; a long one is read in a worker. @throws RecipeError, or an Error with a sentence. */
export async function recipeIn(file: Blob, name: string): Promise<Recipe> {
  if (file.size > MAX_TEXT_BYTES) throw new RecipeError(projectWords.theFileIsTooLarge);
  if (file.size > LONG_TEXT_BYTES) return readRecipeFile(file, name);
  return readRecipe(textOf(new Uint8Array(await file.arrayBuffer())));
}
