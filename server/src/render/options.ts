import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { ALL_PARTS, type MetadataChoice, RECIPE_PARTS, type RecipePart } from '@hazy-lens/core';
import { type Encoding, InputError } from './picture';

const USAGE =
  'usage: render --recipe R.json --in IN --out OUT [--map MAP.png] [--workers N] [--quality draft|fine] [--frames A-B] [--fps F] [--parts all|focus,blur,…] [--metadata all|without-place|none] [--bits 8|16] [--chroma 420|444] [--space srgb|display-p3] [--presets P.json] [--help]';

/** What presets say, or what goes with single pictures only. */
const OF_PRESETS = ['map', 'quality', 'metadata', 'bits', 'chroma', 'space'] as const;

const HELP = `${USAGE}

Renders a recipe without a browser, to the same pixels.

  --recipe R.json   the recipe; what it names lies beside it
  --in IN           a picture, a clip, or a folder or a zip of pictures
  --out OUT         a picture, a clip (.mp4, .mov, .mkv, .webm, .gif), or a folder
  --map MAP.png     the haze of a single picture, 16 bits, white is haze 1
  --workers N       threads; as many as there are cores
  --quality draft   half the size, enlarged; single pictures only
  --frames A-B      frames of the result, both included, counted from 0
  --fps F           frames a second of numbered pictures, which are footage then
  --parts …         parts of the recipe that are used: all, or some with commas between them
  --metadata …      what of the source's goes along (without-place)
  --bits 8|16       bits a channel of PNG and TIFF (as the source has)
  --chroma 420|444  colour of JPEG (444)
  --space S         srgb or display-p3: colours of pictures (srgb)
  --presets P.json  writes each picture, or the footage, once with each preset of a file from the application: size, kind,
                    quality, sharpening, metadata and name are the preset's; --out is a folder

Examples
  render --recipe look.recipe.json --in square.jpg --out miniature.jpg
  render --recipe look.recipe.json --in square.png --out miniature.tif --bits 16 --map haze.png
  render --recipe look.recipe.json --in walk.mp4 --out soft.mp4
  render --recipe look.recipe.json --in frames/ --out soft.webm --fps 25
  render --recipe look.recipe.json --in pictures/ --out made/ --presets hazy-lens.presets.json
  render --recipe look.recipe.json --in walk.mp4 --out made/ --presets hazy-lens.presets.json

Ends with 0 when all is written, 3 where some of many pictures failed (each is named), 2 for something that you can mend,
1 for a fault of ours. Each picture or clip is a line of JSON on standard output; complaints go to standard error. How far it is shows on a
terminal; else what takes long says so in lines of JSON with "done" and "of".`;

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
  encoding: Encoding;
  /** File of export presets; null for none. */
  presets: string | null;
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
    bits: text,
    chroma: text,
    space: text,
    presets: text,
  };
  if (process.argv.includes('--help')) {
    console.log(HELP);
    process.exit(0);
  }
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
  for (const name of OF_PRESETS)
    if (values.presets !== undefined && values[name] !== undefined)
      throw new InputError(`--${name}: can’t be combined with --presets, which set it.`);
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
    encoding: {
      bits: oneOf('bits', values.bits, { '8': 8, '16': 16 }) ?? null,
      chroma: oneOf('chroma', values.chroma, { '420': '4:2:0', '444': '4:4:4' }) ?? '4:4:4',
      quality: null,
      space: oneOf('space', values.space, { srgb: 'srgb', 'display-p3': 'display-p3' }) ?? 'srgb',
    },
    presets: values.presets ?? null,
  };
}

function readFrames(text: string | undefined): [number, number] | null {
  if (text === undefined) return null;
  const match = text.match(/^(\d{1,9})-(\d{1,9})$/);
  const [from, to] = [Number(match?.[1]), Number(match?.[2])];
  if (!match || from > to) throw new InputError(`--frames: must be like 0-99, not "${text}".`);
  return [from, to];
}

export function readFps(text: string | undefined): number | null {
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

export function readMetadataChoice(text = 'without-place'): MetadataChoice {
  const choice = METADATA.find((one) => one === text);
  if (!choice) throw new InputError(`--metadata: must be ${METADATA.join(', ')}, not "${text}".`);
  return choice;
}

/** @throws InputError for what is none of these. */
function oneOf<T>(
  name: string,
  text: string | undefined,
  values: Readonly<Record<string, T>>,
): T | undefined {
  if (text === undefined) return undefined;
  const value = values[text];
  if (value === undefined)
    throw new InputError(`--${name}: must be ${Object.keys(values).join(' or ')}, not "${text}".`);
  return value;
}
