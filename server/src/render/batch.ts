import { basename, dirname, join, relative, resolve } from 'node:path';
import {
  type ExportPreset,
  LOOK_PARTS,
  NO_ASSETS,
  type Recipe,
  type Threads,
  cropOf,
  distinctNames,
  foreignText,
  messageLine,
  resolveTidiedRecipe,
  sharpenForOutput,
  sharpeningAt,
  stillFormatFor,
} from '@hazy-lens/core';
import { isClipName } from '../footage/clip-probe';
import {
  OpenFootage,
  endingFor,
  keyOf,
  makeFolder,
  outputOf,
  partsOf,
  renderClipInParts,
} from '../footage/job';
import { hazeOf, renderStill } from './still';
import { liftedOff, loadCompanions } from './companions';
import { type InputPicture, type Inputs, stemOf } from './inputs';
import { measuresOf } from './measures';
import type { Options } from './options';
import { InputError, bytesFor, decodeBytes, readInputFile, samplesOf, writePicture } from './picture';
import { type FootageOutput, type Output, footageOutputs, loadPresets, outputsOfPresets } from './presets';
import { printLine, tellProgress } from './report';
import { startThreads } from './threads';
import { SizedPicture, mend } from './tidy';

/** Some pictures could not be read; the others are there. */
const SOME_FAILED = 3;

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
  const { encoding, metadata } = options;
  if (options.frames)
    throw new InputError('--frames: is for footage; give --fps, or a recipe with a pace or keys.');
  tellLeftOut(inputs);
  const stems = distinctNames(inputs.pictures.map(({ name }) => stemOf(name)));
  const output: Output = {
    path: (index, ending) => join(options.out, stems[index]! + ending),
    encoding,
    metadata,
    size: { by: 'full' },
    sharpening: 0,
  };
  const recipe = partsOf(whole, options.parts ?? LOOK_PARTS);
  return renderPictures(options, recipe, inputs.pictures, [output]);
}

/** Renders a picture, or each of many, once with each preset of a file. */
export async function renderByPresets(
  options: Options,
  whole: Recipe,
  inputs: Inputs | null,
): Promise<number> {
  const presets = await presetsOf(options);
  if (options.frames) throw new InputError('--frames: is for footage.');
  if (inputs) tellLeftOut(inputs);
  const { in: path, out, recipe: recipePath } = options;
  const pictures = inputs?.pictures ?? [{ name: basename(path), bytes: () => readInputFile(path) }];
  const names = pictures.map(({ name }) => name);
  const recipe = partsOf(whole, options.parts ?? (inputs ? LOOK_PARTS : null));
  return renderPictures(options, recipe, pictures, outputsOfPresets(presets, out, names, recipePath));
}

/** Renders footage once with each preset of a file that is for footage. */
export async function renderFootageByPresets(
  options: Options,
  whole: Recipe,
  input: string | Inputs,
): Promise<number> {
  const { in: path, out, recipe } = options;
  const outputs = footageOutputs(await presetsOf(options), out, basename(resolve(path)), recipe);
  return renderFootageTo(options, whole, input, outputs);
}

async function presetsOf({ presets, out }: Options): Promise<ExportPreset[]> {
  const all = await loadPresets(presets!);
  if (stillFormatFor(out) || isClipName(out))
    throw new InputError(`${out}: --out must be a folder where --presets are given.`);
  return all;
}

async function renderPictures(
  options: Options,
  recipe: Recipe,
  pictures: readonly InputPicture[],
  outputs: readonly Output[],
): Promise<number> {
  for (const output of outputs) await makeFolder(dirname(output.path(0, '')));
  const threads = await startThreads(options.workers);
  let failed = 0;
  for (const [i, picture] of pictures.entries()) {
    try {
      await renderPicture(options, recipe, picture, outputs, i, threads);
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

/** Decodes a picture once, and writes it to each output. */
async function renderPicture(
  options: Options,
  recipe: Recipe,
  picture: InputPicture,
  outputs: readonly Output[],
  index: number,
  threads: Threads,
): Promise<void> {
  const spent = { decode: 0, render: 0, encode: 0 };
  const decoded = await timed(spent, 'decode', async () =>
    decodeBytes(await picture.bytes(), foreignText(picture.name), 'own'),
  );
  const companions = await loadCompanions(recipe, options.recipe, decoded);
  await mend(decoded, recipe, threads);
  const lifted = await liftedOff(decoded, recipe, companions.keep, threads);
  const measures = measuresOf(decoded, recipe);
  const look = resolveTidiedRecipe(recipe, decoded, { ...companions, lifted }, decoded.gain, measures);
  const sized = new SizedPicture(decoded, recipe, threads);
  const sheet = cropOf(recipe, decoded);
  for (const { path, encoding, metadata, size, sharpening } of outputs) {
    const started = performance.now();
    const file = path(index, endingFor(picture.name, decoded.format, encoding));
    const cut = await sized.at(size);
    // What is rendered lets go of its pixels: the next output may want them again.
    const source = outputs.length > 1 ? { ...cut } : cut;
    const scale = source.width / sheet.width;
    const amount = sharpeningAt(sharpening, scale);
    const flat = { ...companions, lifted: NO_ASSETS.lifted };
    const haze =
      amount > 0 ? await hazeOf(source, resolveTidiedRecipe(recipe, decoded, flat), threads) : null;
    const bytes = bytesFor(file, decoded.format, encoding);
    const primaries = { source: decoded.primaries, output: encoding.space };
    await renderStill(source, { ...look, primaries }, threads, file, bytes, scale, async (rendered) => {
      const { data, format } = rendered;
      if (haze) sharpenForOutput(samplesOf(data, format), format, rendered, haze, amount);
      spent.render += performance.now() - started;
      await timed(spent, 'encode', () => writePicture(file, rendered, metadata, encoding));
    });
    printLine(source, spent, { name: relative(options.out, file) });
  }
}

/** Renders footage, a clip or numbered pictures, at the recipe's pace, with its keys: to a clip, or to pictures. */
export async function renderFootage(
  options: Options,
  whole: Recipe,
  input: string | Inputs,
): Promise<number> {
  const { out, encoding, metadata } = options;
  return renderFootageTo(options, whole, input, [
    { out, output: outputOf(out), size: { by: 'full' }, encoding, metadata },
  ]);
}

async function renderFootageTo(
  options: Options,
  whole: Recipe,
  input: string | Inputs,
  outputs: readonly FootageOutput[],
): Promise<number> {
  const recipe = partsOf(whole, options.parts);
  if (typeof input !== 'string') tellLeftOut(input);
  const threads = await startThreads(options.workers);
  const { recipe: recipePath, fps } = options;
  try {
    for (const { out, ...how } of outputs) {
      const open = await OpenFootage.open({ recipe, recipePath, input, fps, ...how }, threads);
      const spent = { render: 0 };
      try {
        const [from, to] = options.frames ?? [0, open.frames - 1];
        if (to >= open.frames)
          throw new InputError(
            `--frames: the clip has ${open.frames} frames; the last is ${open.frames - 1}.`,
          );
        await timed(spent, 'render', async () => {
          if ('clip' in how.output) {
            const files = [options.in, recipePath];
            const key = await keyOf(files, [recipe, fps, from, to, how]);
            const sound = options.frames ? null : open.sound;
            await makeFolder(dirname(out));
            await renderClipInParts(open, how.output, [from, to], key, sound, tellProgress);
          } else {
            await makeFolder(out);
            await open.renderPart(out, from, to, (i) => tellProgress(i - from + 1, to - from + 1));
          }
        });
        const named = options.presets === null ? {} : { name: relative(options.out, out) };
        printLine(open, spent, { frames: to - from + 1, fps: open.fps, ...named });
      } finally {
        await open.close();
      }
    }
  } finally {
    await threads.close();
  }
  return 0;
}
