import * as z from 'zod';
import { type Size, diagonal } from '../geometry/size';
import { type NumberMeta, numberMeta } from './number-meta';
import { type Recipe, recipeSchema } from './schema';

/** A number that a recipe has, in the recipe's own units. */
export interface NumberSpec extends NumberMeta {
  /** "focus.bands[iris].falloff[0]": a kind, a place in a tuple, or nothing for any of a list, in brackets. */
  path: string;
  min: number;
  max: number;
  /** What a reset sets; null where the recipe has no number of its own to go back to. */
  start?: number;
}

/** A number as people see and set it. */
export interface NumberRange {
  label: string;
  spoken: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  decimals: number;
  start: number;
  /** Where a slider begins and ends. */
  slider: readonly [number, number];
  /** One of the recipe's units in units as shown. */
  scale: number;
}

/** Where something stands in a recipe: names of fields, and places in lists. */
export type RecipePath = readonly (string | number)[];

/** Every number of a recipe with a name, by its path: read from the schema once. */
export const NUMBERS: ReadonlyMap<string, NumberSpec> = new Map(
  [...numbersIn(recipeSchema, '', undefined)].map((spec) => [spec.path, spec]),
);

function* numbersIn(schema: z.core.$ZodType, path: string, start: unknown): Generator<NumberSpec> {
  if (schema instanceof z.ZodDefault) yield* numbersIn(schema.def.innerType, path, schema.def.defaultValue);
  else if (
    schema instanceof z.ZodPrefault ||
    schema instanceof z.ZodOptional ||
    schema instanceof z.ZodNullable
  )
    yield* numbersIn(schema.def.innerType, path, start);
  else if (schema instanceof z.ZodObject)
    for (const [key, field] of Object.entries(schema.def.shape))
      yield* numbersIn(field, path ? `${path}.${key}` : key, fieldOf(start, key));
  else if (schema instanceof z.ZodArray) yield* numbersIn(schema.def.element, `${path}[]`, undefined);
  else if (schema instanceof z.ZodTuple)
    for (const [i, item] of schema.def.items.entries())
      yield* numbersIn(item, `${path}[${i}]`, fieldOf(start, i));
  else if (schema instanceof z.ZodDiscriminatedUnion)
    for (const option of schema.def.options) {
      const [kind] = ((option as z.ZodObject).def.shape['kind'] as z.ZodLiteral).values;
      yield* numbersIn(option, path.replace(/\[\]$/, `[${String(kind)}]`), undefined);
    }
  else if (schema instanceof z.ZodNumber) {
    const meta = numberMeta.get(schema);
    if (!meta) return;
    yield {
      path,
      min: schema.minValue!,
      max: schema.maxValue!,
      ...(typeof start === 'number' && { start }),
      ...meta,
    };
  }
}

function fieldOf(value: unknown, key: string | number): unknown {
  return (value as Record<string | number, unknown> | undefined)?.[key];
}

/** What stands at a path of a value; undefined where nothing does. */
export function valueAt(value: unknown, at: RecipePath): unknown {
  return at.reduce<unknown>((part, key) => fieldOf(part ?? undefined, key), value);
}

/** What the table says of the number at a path of a recipe. @throws RangeError for a path that has none. */
export function numberSpecAt(recipe: Recipe, at: RecipePath): NumberSpec {
  let path = '';
  let part: unknown = recipe;
  for (const key of at) {
    part = fieldOf(part, key);
    if (typeof key === 'string') path += path ? `.${key}` : key;
    else if (typeof part === 'object') path = entryPath(path, (part as { kind?: string } | null)?.kind);
    else path += `[${key}]`;
  }
  return numberSpec(path);
}

/** Paths of lists whose entries have other numbers for each kind. */
const BY_KIND: ReadonlySet<string> = new Set(
  [...NUMBERS.keys()].flatMap((path) => /^(.*)\[[a-z]+\]/.exec(path)?.[1] ?? []),
);

const entryPath = (list: string, kind = ''): string => `${list}[${BY_KIND.has(list) ? kind : ''}]`;

/** What the table says of a path of its own. @throws RangeError for a path that has none. */
export function numberSpec(path: string): NumberSpec {
  const spec = NUMBERS.get(path);
  if (!spec) throw new RangeError(`There is no number at ${path}.`);
  return spec;
}

/** A number as people see it on a picture of a size. */
export function displayRange(spec: NumberSpec, size: Size): NumberRange {
  const scale = {
    length: diagonal(size),
    across: size.width,
    down: size.height,
    share: 100,
    ratio: 100,
    angle: 1,
    factor: 1,
    stops: 1,
    pixels: 1,
    seconds: 1,
    rate: 1,
    count: 1,
  }[spec.measure];
  const { min, max, sliderMin = min, sliderMax = max } = spec;
  const unit = {
    length: 'px',
    across: 'px',
    down: 'px',
    share: '%',
    ratio: '%',
    angle: '°',
    factor: '×',
    stops: 'stops',
    pixels: 'px',
    seconds: 's',
    rate: 'fps',
    count: '',
  };
  return {
    label: spec.label,
    spoken: spec.spoken ?? spec.label,
    unit: unit[spec.measure],
    min: min * scale,
    max: max * scale,
    step: spec.step ?? 1,
    decimals: spec.decimals ?? 0,
    start: (spec.start ?? min) * scale,
    slider: [sliderMin * scale, sliderMax * scale],
    scale,
  };
}
