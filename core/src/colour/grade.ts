import type { Recipe } from '../recipe/schema';
import { applyClarity } from './clarity';
import type { ColourLut } from './cube';
import { lookColour } from '../recipe/looks';
import { type Triple, toOklab } from './oklab';
import { type Primaries, primariesMatrix } from './primaries';
import type { PointStep } from './step';
import { applyLut } from './lut';
import { whiteBalanceMatrix } from './white-balance';

/** Pure colours whose hues a black and white mix names, in the order of the way round. */
const HUES = {
  red: [1, 0, 0],
  yellow: [1, 1, 0],
  green: [0, 1, 0],
  cyan: [0, 1, 1],
  blue: [0, 0, 1],
  magenta: [1, 0, 1],
} as const;
export type MixHue = keyof typeof HUES;
export const MIX_HUES = Object.keys(HUES) as MixHue[];

const ROUND = 4;
const PIECES = 8;
/** Beyond the end of the way round: a piece that never begins. */
const NEVER = 99;
/** Chroma below which a colour has no hue to speak of. */
const MIN_CHROMA = 0.01;

/** A hue's place on the way round, 0..4: y / (|x| + |y|) in four straight pieces; nearly even, and quick. */
export function hueCoordinate(a: number, b: number): number {
  const t = b / Math.max(1e-9, Math.abs(a) + Math.abs(b));
  if (a < 0) return 2 - t;
  return b >= 0 ? t : ROUND + t;
}

/** Where the hues lie on the way round. */
export const HUE_COORDINATES = Object.fromEntries(
  MIX_HUES.map((hue) => {
    const [, a, b] = toOklab(HUES[hue]);
    return [hue, hueCoordinate(a, b)];
  }),
) as Record<MixHue, number>;

/** What a mix adds on the way round: straight from hue to hue. Of each piece where it begins, its value there, its slope. */
export function mixPieces(
  mix: Readonly<Record<MixHue, number>>,
): [from: number, value: number, slope: number][] {
  const stops = MIX_HUES.map((hue) => ({ at: HUE_COORDINATES[hue], value: mix[hue] })).sort(
    (a, b) => a.at - b.at,
  );
  const last = stops.at(-1)!;
  const around = [{ ...last, at: last.at - ROUND }, ...stops, { ...stops[0]!, at: stops[0]!.at + ROUND }];
  return around.slice(0, -1).map(({ at, value }, i) => {
    const next = around[i + 1]!;
    const slope = (next.value - value) / (next.at - at);
    return [at, value, slope];
  });
}

/** The two hues of a mix that a colour lies between, and the share of each; null for greys. @param rgb linear light. */
export function huesOf(rgb: Triple): { hue: MixHue; share: number }[] | null {
  const [, a, b] = toOklab(rgb);
  if (Math.hypot(a, b) < MIN_CHROMA) return null;
  const way = hueCoordinate(a, b);
  const ahead = (hue: MixHue): number => (HUE_COORDINATES[hue] - way + ROUND) % ROUND;
  const order = [...MIX_HUES].sort((one, two) => ahead(one) - ahead(two));
  const [next, last] = [order[0]!, order.at(-1)!];
  const behind = ROUND - ahead(last);
  const share = behind / (behind + ahead(next));
  return [
    { hue: last, share: 1 - share },
    { hue: next, share },
  ];
}

/** What one stage of tone and colour sets: the person's own, or a look's. */
export type Grade = Omit<Recipe['colour'], 'on' | 'look'>;

/** The stages in order: the person's own colours, then the look's; black and white comes last. */
export function stagesOf({ look, ...own }: Recipe['colour']): Grade[] {
  if (!look || look.amount === 0) return [own];
  const sets = look.name ? lookColour(look.name, look.amount) : NO_GRADE;
  return [
    { ...own, mono: { ...own.mono, on: false } },
    { ...sets, mono: own.mono },
  ];
}

const NO_BALANCE: Grade['balance'] = { shadows: [0, 0], middle: [0, 0], lights: [0, 0] };
const NO_GRADE = {
  exposure: 0,
  warmth: 0,
  tint: 0,
  contrast: 0,
  clarity: 0,
  vibrance: 0,
  saturation: 0,
  balance: NO_BALANCE,
};

/** What the kernel `gradeRow` reads. */
export function gradeFloats({ contrast, vibrance, saturation, balance, mono }: Grade): number[] {
  const pieces = mixPieces(mono.mix);
  const never = Array.from({ length: PIECES - pieces.length }, () => [NEVER, 0, 0]);
  const { shadows, middle, lights } = balance;
  return [
    contrast,
    vibrance,
    1 + saturation,
    ...shadows,
    ...middle,
    ...lights,
    mono.on ? 1 : 0,
    ...[...pieces, ...never].flat(),
  ];
}

const isWhite = ({ exposure, warmth, tint }: Grade): boolean => exposure === 0 && warmth === 0 && tint === 0;

/** Saturation is all that is set, if anything. */
const isPlain = ({ contrast, vibrance, clarity, balance, mono }: Grade): boolean =>
  contrast === 0 &&
  clarity === 0 &&
  vibrance === 0 &&
  !mono.on &&
  Object.values(balance)
    .flat()
    .every((shift) => shift === 0);

const isNothing = (stage: Grade): boolean => isWhite(stage) && isPlain(stage) && stage.saturation === 0;

/** Of a stage its contrast alone. */
const contrastOf = ({ contrast, mono }: Grade): Grade => ({
  ...NO_GRADE,
  contrast,
  mono: { ...mono, on: false },
});

/** What the kernels are told of a stage, made once for all runs. */
interface Steps {
  /** Null where exposure and white balance change nothing. */
  matrix: number[] | null;
  /** Before clarity, and after it; each null where it changes nothing. */
  first: number[] | number | null;
  clarity: number;
  last: number[] | number | null;
}

/** A stage for `gradeRow`; its saturation where that is all, for which there is a quicker and more exact way. */
function toneOf(stage: Grade): number[] | number | null {
  if (!isPlain(stage)) return gradeFloats(stage);
  return stage.saturation === 0 ? null : stage.saturation;
}

function stepsOf(stage: Grade, primaries: Primaries): Steps {
  const { clarity } = stage;
  return {
    matrix: isWhite(stage) ? null : whiteBalanceMatrix(stage, primaries),
    first: clarity === 0 ? null : toneOf(contrastOf(stage)),
    clarity,
    last: toneOf(clarity === 0 ? stage : { ...stage, contrast: 0, clarity: 0 }),
  };
}

const made = {
  srgb: new WeakMap<Recipe['colour'], Steps[]>(),
  'display-p3': new WeakMap<Recipe['colour'], Steps[]>(),
};

/** The steps of colours in primaries; the same object has the same. */
function stepsFor(colour: Recipe['colour'], primaries: Primaries): Steps[] {
  let steps = made[primaries].get(colour);
  if (!steps)
    made[primaries].set(colour, (steps = stagesOf(colour).map((stage) => stepsOf(stage, primaries))));
  return steps;
}

/** Which of the stages is the look's. */
const LOOK_STAGE = 1;

/** How far colours go towards what a table says; 0 where none is in force. */
function shareOf({ look }: Recipe['colour'], table: ColourLut | null): number {
  return look?.image !== undefined && table ? look.amount : 0;
}

/** Exposure and white balance in linear light; a look's table; contrast, clarity, vibrance, saturation, balance, and black and white in Oklab. */
export const grade: PointStep = {
  key: ({ colour, table, primaries: { output } }) => {
    if (!colour.on) return '';
    const stages = stagesOf(colour);
    const share = shareOf(colour, table);
    if (share === 0) return stages.every(isNothing) ? '' : JSON.stringify([stages, output]);
    return JSON.stringify([stages, output, table!.id, share]);
  },
  apply: (use, { colour, table, primaries }, run, { floats, table: tableRoom, surroundings }) => {
    const { kernels, heap } = use;
    const { at, planeBytes, n } = run;
    const { output } = primaries;
    const times = (matrix: readonly number[] | null): void => {
      if (!matrix) return;
      heap.setFloats(floats, matrix);
      kernels.matrixRow(at, planeBytes, n, floats);
    };
    const [saturateRow, gradeRow] =
      output === 'srgb'
        ? [kernels.saturateRow, kernels.gradeRow]
        : [kernels.saturateRowP3, kernels.gradeRowP3];
    const tone = (how: Steps['last']): void => {
      if (how === null) return;
      if (typeof how === 'number') return saturateRow(at, planeBytes, n, how);
      heap.setFloats(floats, how);
      gradeRow(at, planeBytes, n, floats);
    };
    const share = shareOf(colour, table);
    for (const [i, { matrix, first, clarity, last }] of stepsFor(colour, output).entries()) {
      if (i === LOOK_STAGE && share > 0) {
        // Tables are of coded sRGB: colours beyond that are held at its border.
        times(primariesMatrix(output, 'srgb'));
        applyLut(use, tableRoom, table!, share, run);
        times(primariesMatrix('srgb', output));
      }
      times(matrix);
      tone(first);
      if (clarity !== 0 && surroundings)
        applyClarity(use, surroundings.rows, surroundings.on, clarity, output, run);
      tone(last);
    }
  },
};
