import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { ALL_PARTS, type MetadataChoice, RECIPE_PARTS, type RecipePart } from '@hazy-lens/core';
import { InputError } from './picture';

const USAGE =
  'usage: render --recipe R.json --in IN --out OUT [--map MAP.png] [--workers N] [--quality draft|fine] [--frames A-B] [--fps F] [--parts all|focus,blur,…] [--metadata all|without-place|none]';

export interface Options {
  recipe: string;
  in: string;
  out: string;
  map?: string | undefined;
  workers: number;
  quality: 'draft' | 'fine';
  /** The output frames that are wanted, both included; null for all. */
  frames: [number, number] | null;
  /** Frames a second of numbered pictures; null where nothing is said. */
  fps: number | null;
  /** Parts of the recipe that are used; null where nothing is said. */
  parts: ReadonlySet<RecipePart> | null;
  /** What of a source's metadata goes along. */
  metadata: MetadataChoice;
}

/** @throws InputError that names what is wrong. */
export function readOptions(): Options {
  const text = { type: 'string' } as const;
  const options = {
    recipe: text,
    in: text,
    out: text,
    map: text,
    workers: text,
    quality: text,
    frames: text,
    fps: text,
    parts: text,
    metadata: text,
  };
  let values;
  try {
    values = parseArgs({ options }).values;
  } catch (error) {
    throw new InputError(`${(error as Error).message} ${USAGE}`);
  }
  for (const name of ['recipe', 'in', 'out'] as const)
    if (!values[name]) throw new InputError(`--${name} is missing. ${USAGE}`);
  const workers = values.workers === undefined ? availableParallelism() : Number(values.workers);
  if (!Number.isInteger(workers) || workers < 1 || workers > 64)
    throw new InputError(`--workers: must be a whole number from 1 to 64, not "${values.workers}".`);
  const quality = values.quality ?? 'fine';
  if (quality !== 'draft' && quality !== 'fine')
    throw new InputError(`--quality: must be draft or fine, not "${quality}".`);
  return {
    recipe: values.recipe!,
    in: values.in!,
    out: values.out!,
    map: values.map,
    workers,
    quality,
    frames: readFrames(values.frames),
    fps: readFps(values.fps),
    parts: readParts(values.parts),
    metadata: readMetadataChoice(values.metadata),
  };
}

function readFrames(text: string | undefined): [number, number] | null {
  if (text === undefined) return null;
  const match = text.match(/^(\d{1,9})-(\d{1,9})$/);
  const [from, to] = [Number(match?.[1]), Number(match?.[2])];
  if (!match || from > to) throw new InputError(`--frames: must be like 0-99, not "${text}".`);
  return [from, to];
}

function readFps(text: string | undefined): number | null {
  if (text === undefined) return null;
  const fps = Number(text);
  if (!(fps >= 1 && fps <= 240))
    throw new InputError(`--fps: must be a number from 1 to 240, not "${text}".`);
  return fps;
}

function readParts(text: string | undefined): ReadonlySet<RecipePart> | null {
  if (text === undefined) return null;
  if (text === 'all') return ALL_PARTS;
  const parts = text.split(',');
  const wrong = parts.find((part) => !(RECIPE_PARTS as readonly string[]).includes(part));
  if (wrong !== undefined)
    throw new InputError(`--parts: must be all, or some of ${RECIPE_PARTS.join(',')}, not "${wrong}".`);
  return new Set(parts as RecipePart[]);
}

const METADATA: readonly MetadataChoice[] = ['all', 'without-place', 'none'];

function readMetadataChoice(text = 'without-place'): MetadataChoice {
  const choice = METADATA.find((one) => one === text);
  if (!choice) throw new InputError(`--metadata: must be ${METADATA.join(', ')}, not "${text}".`);
  return choice;
}
