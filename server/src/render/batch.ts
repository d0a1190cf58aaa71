import { join } from 'node:path';
import {
  LOOK_PARTS,
  type Recipe,
  distinctNames,
  foreignText,
  messageLine,
  resolveTidiedRecipe,
} from '@hazy-lens/core';
import {
  OpenFootage,
  endingFor,
  keyOf,
  makeFolder,
  outputOf,
  partsOf,
  renderClipInParts,
} from '../footage/job';
import { renderStill } from './still';
import { liftedOff, loadCompanions } from './companions';
import { type Inputs, stemOf } from './inputs';
import { measuresOf } from './measures';
import type { Options } from './options';
import { InputError, bytesFor, decodeBytes, writePicture } from './picture';
import { printLine, tellProgress } from './report';
import { startThreads } from './threads';
import { cropped, mend } from './tidy';

/** Some pictures could not be read; the others are there. */
const SOME_FAILED = 3;
const spentNothing = () => ({ decode: 0, render: 0, encode: 0 });

async function timed<K extends string, T>(
  spent: Record<K, number>,
  part: K,
  work: () => Promise<T>,
): Promise<T> {
  const start = performance.now();
  const result = await work();
  spent[part] += performance.now() - start;
  return result;
}

function tellLeftOut({ leftOut }: Inputs): void {
  for (const name of leftOut) process.stderr.write(`${foreignText(name)}: left out, it is no picture.\n`);
}

/**
 * Renders each picture by itself; the good ones are written, the bad ones named. What belongs to the picture that a recipe
 * was made on is used only where it is asked for.
 */
export async function renderBatch(options: Options, whole: Recipe, inputs: Inputs): Promise<number> {
  const recipe = partsOf(whole, options.parts ?? LOOK_PARTS);
  const { pictures } = inputs;
  const { encoding } = options;
  if (options.frames)
    throw new InputError('--frames: is for footage; give --fps, or a recipe with a pace or keys.');
  await makeFolder(options.out);
  tellLeftOut(inputs);
  const stems = distinctNames(pictures.map(({ name }) => stemOf(name)));
  const threads = await startThreads(options.workers);
  let failed = 0;
  for (const [i, picture] of pictures.entries()) {
    const spent = spentNothing();
    try {
      const decoded = await timed(spent, 'decode', async () =>
        decodeBytes(await picture.bytes(), foreignText(picture.name)),
      );
      const companions = await loadCompanions(recipe, options.recipe, decoded);
      const name = `${stems[i]!}${endingFor(picture.name, decoded.format, encoding)}`;
      const started = performance.now();
      await mend(decoded, recipe, threads);
      const lifted = await liftedOff(decoded, recipe, companions.keep, threads);
      const above = { ...companions, lifted };
      const look = resolveTidiedRecipe(recipe, decoded, above, 1, measuresOf(decoded, recipe));
      const sheet = await cropped(decoded, recipe, threads);
      const bytes = bytesFor(name, decoded.format, encoding);
      await renderStill(sheet, look, threads, name, bytes, 1, async (rendered) => {
        spent.render += performance.now() - started;
        await timed(spent, 'encode', () =>
          writePicture(join(options.out, name), rendered, options.metadata, encoding),
        );
      });
      printLine(sheet, spent, { name });
    } catch (error) {
      if (!(error instanceof InputError || error instanceof RangeError)) throw error;
      process.stderr.write(`${messageLine(error.message)}\n`);
      failed++;
    }
    tellProgress(i + 1, pictures.length);
  }
  await threads.close();
  return failed > 0 ? SOME_FAILED : 0;
}

/** Renders footage, a clip or numbered pictures, at the recipe's pace, with its keys: to a clip, or to pictures. */
export async function renderFootage(
  options: Options,
  whole: Recipe,
  input: string | Inputs,
): Promise<number> {
  const recipe = partsOf(whole, options.parts);
  const output = outputOf(options.out);
  if (typeof input !== 'string') tellLeftOut(input);
  const threads = await startThreads(options.workers);
  const { recipe: recipePath, fps, metadata, encoding } = options;
  try {
    const open = await OpenFootage.open(
      { recipe, recipePath, input, fps, output, metadata, encoding },
      threads,
    );
    const spent = { render: 0 };
    try {
      const [from, to] = options.frames ?? [0, open.frames - 1];
      if (to >= open.frames)
        throw new InputError(`--frames: the clip has ${open.frames} frames; the last is ${open.frames - 1}.`);
      await timed(spent, 'render', async () => {
        if ('clip' in output) {
          const files = [options.in, recipePath];
          const key = await keyOf(files, [recipe, fps, from, to]);
          const sound = options.frames ? null : open.sound;
          await renderClipInParts(open, options.out, [from, to], key, sound, tellProgress);
        } else {
          await makeFolder(options.out);
          await open.renderPart(options.out, from, to, (i) => tellProgress(i - from + 1, to - from + 1));
        }
      });
      printLine(open, spent, { frames: to - from + 1, fps: open.fps });
    } finally {
      await open.close();
    }
  } finally {
    await threads.close();
  }
  return 0;
}
