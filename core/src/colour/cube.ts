import type { Triple } from './oklab';

/*
 * Colours as a table in the open .cube format (Adobe, "Cube LUT Specification", version 1.0): for each step of red, green and
 * blue of the coded picture the coded colour that comes of it, red going fastest.
 */

/** Steps of each channel that a table is written with: what lies between them is read in a straight line. */
export const CUBE_SIZE = 33;

/** A picture that holds every colour of a table's grid once, in the table's order: 16-bit RGB, `size`² wide and `size` high. */
export function identityLut(size: number): {
  width: number;
  height: number;
  samples: Uint16Array<SharedArrayBuffer>;
} {
  const samples = new Uint16Array(new SharedArrayBuffer(size ** 3 * 6));
  const level = (i: number): number => Math.round((i * 65535) / (size - 1));
  for (let i = 0; i < size ** 3; i++)
    samples.set(
      [level(i % size), level(Math.floor(i / size) % size), level(Math.floor(i / size ** 2))],
      i * 3,
    );
  return { width: size ** 2, height: size, samples };
}

/** The text of a .cube file. @param samples what became of `identityLut`, in its order. @param title what it is called. */
export function formatCube(title: string, size: number, samples: ArrayLike<number>): string {
  const lines = [
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_3D_SIZE ${size}`,
    'DOMAIN_MIN 0.0 0.0 0.0',
    'DOMAIN_MAX 1.0 1.0 1.0',
  ];
  for (let i = 0; i < size ** 3; i++)
    lines.push([0, 1, 2].map((c) => (samples[i * 3 + c]! / 65535).toFixed(6)).join(' '));
  return `${lines.join('\n')}\n`;
}

/** Steps each way that a lattice may have, and those of a curve. */
const MAX_STEPS = { lattice: 65, curves: 65536 };
const SIZE_WORDS = { LUT_3D_SIZE: 'lattice', LUT_1D_SIZE: 'curves' } as const;
/** How some programs say the domain. */
const RANGE_WORDS = ['LUT_3D_INPUT_RANGE', 'LUT_1D_INPUT_RANGE'];
/** Floats of a node: red, green, blue, and one to make it a vector. */
const NODE = 4;

/** Bytes that a table takes. */
export function lutBytes({ values }: ColourLut): number {
  return values.byteLength;
}

/** What coded colours become, read from a file. */
export interface ColourLut {
  /** Another table has another. */
  id: string;
  /** A lattice of all three channels, or a curve for each. */
  kind: 'lattice' | 'curves';
  /** Steps, each way. */
  size: number;
  /** Coded values at the first and at the last step. */
  from: Triple;
  to: Triple;
  /** As the kernels want it, see `lut3dRow` and `lut1dRow`; coded values, 0..1. */
  values: Float32Array<SharedArrayBuffer>;
}

/** Floats that the largest table takes. */
export const TABLE_FLOATS = MAX_STEPS.lattice ** 3 * NODE;

/** What a file says of its table besides the colours. */
interface Heading {
  kind: ColourLut['kind'];
  size: number;
}

/**
 * Reads a .cube file: a lattice of up to 65 steps each way, or curves of up to 65536; values beyond black and white are
 * held there. @param id of the table. @throws Error with a sentence that says what is wrong with it.
 */
export function parseCube(text: string, id: string): ColourLut {
  let heading: Heading | null = null;
  let [from, to]: [Triple, Triple] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  const colours: number[] = [];
  for (const [i, line] of text.split(/\r\n|\r|\n/).entries()) {
    const [word = '', ...rest] = line.trim().split(/\s+/);
    if (word === '' || word.startsWith('#') || word === 'TITLE') continue;
    const three = (words: readonly string[]): Triple =>
      numbersIn(words, 3, line, i) as [number, number, number];
    if (Object.hasOwn(SIZE_WORDS, word)) {
      if (heading) throw new Error('It says its size twice: tables of several parts can’t be read.');
      heading = headingOf(SIZE_WORDS[word as keyof typeof SIZE_WORDS], numbersIn(rest, 1, line, i)[0]!);
    } else if (word === 'DOMAIN_MIN') from = three(rest);
    else if (word === 'DOMAIN_MAX') to = three(rest);
    else if (RANGE_WORDS.includes(word)) {
      const [low, high] = numbersIn(rest, 2, line, i);
      [from, to] = [
        [low!, low!, low!],
        [high!, high!, high!],
      ];
    } else colours.push(...three([word, ...rest]));
  }
  if (!heading) throw new Error('LUT size missing: not a .cube file.');
  const { kind, size } = heading;
  const [count, wanted] = [colours.length / 3, kind === 'lattice' ? size ** 3 : size];
  if (count !== wanted)
    throw new Error(
      `It holds ${count} colours where ${wanted} are wanted${count < wanted ? ': it may be cut short' : ''}.`,
    );
  if (!from.every((low, c) => low < to[c]!))
    throw new Error('The values that it begins with (DOMAIN_MIN) aren’t below those that it ends with.');
  return { id, kind, size, from, to, values: valuesOf(kind, size, colours) };
}

function numbersIn(words: readonly string[], count: number, line: string, i: number): number[] {
  const all = words.map(Number);
  if (all.length === count && all.every(Number.isFinite)) return all;
  const wanted = count === 1 ? 'a number' : `${count} numbers`;
  throw new Error(`Line ${i + 1} should hold ${wanted}: “${line.trim().slice(0, 40)}”.`);
}

function headingOf(kind: Heading['kind'], size: number): Heading {
  const most = MAX_STEPS[kind];
  if (Number.isInteger(size) && size >= 2 && size <= most) return { kind, size };
  throw new Error(`It has ${size} steps; tables of 2 to ${most} can be read.`);
}

function valuesOf(kind: Heading['kind'], size: number, colours: readonly number[]): ColourLut['values'] {
  const floats = kind === 'lattice' ? (colours.length / 3) * NODE : colours.length;
  const values = new Float32Array(new SharedArrayBuffer(floats * 4));
  for (const [i, value] of colours.entries()) {
    const [node, channel] = [Math.floor(i / 3), i % 3];
    const at = kind === 'lattice' ? node * NODE + channel : channel * size + node;
    values[at] = Math.min(1, Math.max(0, value));
  }
  return values;
}
