import type { Ease, Key } from './keys-schema';
import { type NumberSpec, type RecipePath, numberSpecAt, valueAt } from './numbers';
import type { Recipe } from './schema';
import { hermite, monotoneSlopes, segmentIndex } from '../geometry/monotone';

export type KeyValue = Key['value'];

/** All keys of one number or point, in order. */
export interface Track {
  of: string;
  keys: readonly Key[];
}

/** Two keys closer than this are at the same time: half of the shortest frame. */
const SAME_TIME = 0.002;

export const isSameTime = (a: number, b: number): boolean => Math.abs(a - b) < SAME_TIME;

/** A place in a recipe as keys name it: list entries by their ids. */
export function keyPath(recipe: Recipe, at: RecipePath): string {
  return at
    .map((part, i) => {
      if (typeof part === 'string') return part;
      const entry = valueAt(recipe, at.slice(0, i + 1)) as { id?: string } | number | undefined;
      return typeof entry === 'object' && entry.id ? entry.id : String(part);
    })
    .join('/');
}

/** The place in a recipe that a key names; null where there is none. */
export function resolveKeyPath(recipe: Recipe, of: string): RecipePath | null {
  const path: (string | number)[] = [];
  let value: unknown = recipe;
  for (const part of of.split('/')) {
    let key: string | number = part;
    if (Array.isArray(value)) {
      const byId = value.findIndex((entry) => (entry as { id?: string } | null)?.id === part);
      key = byId >= 0 ? byId : Number(part);
      if (!Number.isInteger(key) || key < 0 || key >= value.length) return null;
    } else if (typeof value !== 'object' || value === null || !Object.hasOwn(value, part)) return null;
    path.push(key);
    value = (value as Record<string | number, unknown>)[key];
  }
  return path;
}

/** What the table of numbers says of each number at a place: one, or the two of a point; null where there are none. */
function specsAt(recipe: Recipe, place: RecipePath): NumberSpec[] | null {
  const value = valueAt(recipe, place);
  const places =
    Array.isArray(value) && value.length === 2
      ? [
          [...place, 0],
          [...place, 1],
        ]
      : [place];
  try {
    return places.map((one) => numberSpecAt(recipe, one));
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** Parts of a recipe whose numbers have no keys: they say how large all pictures are, how time goes, or what holds the keys. */
const WITHOUT_KEYS = ['tidy', 'pace', 'keys', 'format', 'version'];

/** True where a number at a place of a recipe can have keys: also for where a mend is carried to. */
export function canHaveKeys([part, list, , field]: RecipePath): boolean {
  return !WITHOUT_KEYS.includes(String(part)) || (list === 'mends' && field === 'carry');
}

/** What is wrong with the keys of a recipe: the first, by its place among them, and why; null where all is well. */
export function keyProblem(recipe: Recipe): { index: number; field: 'of' | 'value'; message: string } | null {
  const known = new Map<string, NumberSpec[] | null>();
  for (const [index, { of, value }] of recipe.keys.entries()) {
    let specs = known.get(of);
    if (specs === undefined) known.set(of, (specs = specsOfKey(recipe, of)));
    if (!specs) return { index, field: 'of', message: `"${of}" is no number of this recipe` };
    const values = [value].flat();
    if (values.length !== specs.length)
      return { index, field: 'value', message: specs.length === 2 ? 'must be a point' : 'must be a number' };
    const wrong = specs.findIndex(({ min, max }, i) => values[i]! < min || values[i]! > max);
    if (wrong >= 0)
      return {
        index,
        field: 'value',
        message: `must lie between ${specs[wrong]!.min} and ${specs[wrong]!.max}`,
      };
  }
  return null;
}

function specsOfKey(recipe: Recipe, of: string): NumberSpec[] | null {
  if (!canHaveKeys(of.split('/'))) return null;
  const place = resolveKeyPath(recipe, of);
  return place && specsAt(recipe, place);
}

/** A recipe without the keys that name nothing in it, in the order of their times; values are held within their range. */
export function pruneKeys(recipe: Recipe): Recipe {
  if (!keyProblem(recipe) && isOrdered(recipe.keys)) return recipe;
  const known = new Map<string, NumberSpec[] | null>();
  const keys = recipe.keys.flatMap((key) => {
    let specs = known.get(key.of);
    if (specs === undefined) known.set(key.of, (specs = specsOfKey(recipe, key.of)));
    const values = [key.value].flat();
    if (specs?.length !== values.length) return [];
    const held = values.map((v, i) => Math.min(specs[i]!.max, Math.max(specs[i]!.min, v)));
    return [held.every((v, i) => v === values[i]) ? key : { ...key, value: asValue(held) }];
  });
  return { ...recipe, keys: keys.sort((a, b) => a.at - b.at) };
}

const isOrdered = (keys: readonly Key[]): boolean =>
  keys.every((key, i) => i === 0 || keys[i - 1]!.at <= key.at);
const asValue = (values: readonly number[]): KeyValue =>
  values.length === 2 ? [values[0]!, values[1]!] : values[0]!;

const tracksKnown = new WeakMap<readonly Key[], Track[]>();

/** The keys of a recipe, together by what they change. */
export function tracksOf(keys: readonly Key[]): Track[] {
  let tracks = tracksKnown.get(keys);
  if (!tracks) {
    tracks = [...grouped(keys)].map(([of, list]) => ({ of, keys: inOrder(list) }));
    tracksKnown.set(keys, tracks);
  }
  return tracks;
}

/** Keys by their times; of several at one time the last counts. */
function inOrder(keys: readonly Key[]): Key[] {
  const sorted = [...keys].sort((a, b) => a.at - b.at);
  return sorted.filter(({ at }, i) => i === sorted.length - 1 || !isSameTime(at, sorted[i + 1]!.at));
}

function grouped(keys: readonly Key[]): Map<string, Key[]> {
  const lists = new Map<string, Key[]>();
  for (const key of keys) {
    const list = lists.get(key.of);
    if (list) list.push(key);
    else lists.set(key.of, [key]);
  }
  return lists;
}

/** One number of a track as a curve, ready to be read; angles go the short way round. */
function curveOf(keys: readonly Key[], component: number, isAngle: boolean): (time: number) => number {
  const points: [number, number][] = [];
  for (const { at, value } of keys) {
    let y = [value].flat()[component]!;
    const last = points.at(-1);
    if (isAngle && last) y = last[1] + shortTurn(y - last[1]);
    points.push([at, y]);
  }
  const slopes = monotoneSlopes(points);
  return (time) => {
    const i = segmentIndex(points, time);
    if (i < 0) return points[0]![1];
    const [from, to] = [points[i]!, points[i + 1]];
    if (!to) return from[1];
    switch (keys[i]!.ease) {
      case 'hold':
        return from[1];
      case 'linear':
        return from[1] + ((to[1] - from[1]) * (time - from[0])) / (to[0] - from[0]);
      case 'soft':
        return hermite(from, to, 0, 0, time);
      case 'smooth':
        return hermite(from, to, slopes[i]!, slopes[i + 1]!, time);
    }
  };
}

/** A turn in degrees within half a turn either way. */
const shortTurn = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);

interface Curve {
  place: RecipePath;
  read: (time: number) => KeyValue;
}

const curvesKnown = new WeakMap<Track, { measure: string; read: Curve['read'] }>();

function curveFor(recipe: Recipe, track: Track): Curve | null {
  const place = resolveKeyPath(recipe, track.of);
  const specs = place && specsAt(recipe, place);
  if (!place || !specs) return null;
  const measure = specs.map((spec) => spec.measure).join();
  let known = curvesKnown.get(track);
  if (known?.measure !== measure) {
    const parts = specs.map((spec, i) => {
      const curve = curveOf(track.keys, i, spec.measure === 'angle');
      const held = (time: number): number => Math.min(spec.max, Math.max(spec.min, curve(time)));
      return spec.measure === 'angle' ? (time: number) => shortTurn(curve(time)) : held;
    });
    known = { measure, read: (time) => asValue(parts.map((part) => part(time))) };
    curvesKnown.set(track, known);
  }
  return { place, read: known.read };
}

/** What a track says at a time; null where it names nothing of the recipe. */
export function trackValue(recipe: Recipe, track: Track, time: number): KeyValue | null {
  return curveFor(recipe, track)?.read(time) ?? null;
}

/** A recipe as it is at a time of the source: every number that has keys by these. What no key changes stays the same object. */
export function recipeAt(recipe: Recipe, time: number): Recipe {
  let now = recipe;
  for (const track of tracksOf(recipe.keys)) {
    const curve = curveFor(recipe, track);
    if (curve) now = withValue(now, curve.place, curve.read(time)) as Recipe;
  }
  return now;
}

/** A copy of a value with another one at a place; the same object where it is that already. */
export function withValue(value: unknown, [key, ...rest]: RecipePath, put: unknown): unknown {
  if (key === undefined) return isEqual(value, put) ? value : put;
  const old = (value as Record<string | number, unknown>)[key];
  const changed = withValue(old, rest, put);
  if (changed === old) return value;
  if (Array.isArray(value)) return value.map((entry, i) => (i === key ? changed : entry));
  return { ...(value as object), [key]: changed };
}

const isEqual = (a: unknown, b: unknown): boolean =>
  a === b || (Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((v, i) => v === b[i]));

/** The strongest blur that a recipe has at any time. */
export function strongestBlur({ blur, keys }: Recipe): Recipe['blur'] {
  const own = keys.filter(({ of }) => of === 'blur/radius').map(({ value }) => value as number);
  return own.length > 0 ? { ...blur, radius: own.reduce((a, b) => Math.max(a, b)) } : blur;
}

/** Keys with one set: a key at the same time takes the new value and keeps its ease. */
export function withKey(keys: readonly Key[], of: string, at: number, value: KeyValue, ease?: Ease): Key[] {
  const old = keys.find((key) => key.of === of && isSameTime(key.at, at));
  const before = keys.filter((key) => key.of === of && key.at < at).at(-1);
  const key: Key = { of, at: old?.at ?? at, value, ease: ease ?? old?.ease ?? before?.ease ?? 'smooth' };
  return [...keys.filter((one) => one !== old), key].sort((a, b) => a.at - b.at);
}

/** Keys without the one at a time. */
export function withoutKey(keys: readonly Key[], of: string, at: number): Key[] {
  return keys.filter((key) => key.of !== of || !isSameTime(key.at, at));
}

/**
 * A recipe that was changed as it is at a time, as a recipe with keys again: a number that has keys gets one there, what
 * it was without keys stays.
 * @param stored the recipe with its keys. @param seen `recipeAt(stored, time)`. @param changed `seen`, changed.
 */
export function storeEditInKeys(stored: Recipe, seen: Recipe, changed: Recipe, time: number): Recipe {
  let result = changed;
  let keys = changed.keys;
  for (const { of } of tracksOf(stored.keys)) {
    const place = resolveKeyPath(changed, of);
    const before = resolveKeyPath(stored, of);
    if (!place || !before) continue;
    const value = valueAt(changed, place);
    const isChanged = !isEqual(value, valueAt(seen, resolveKeyPath(seen, of) ?? before));
    const stillHasKeys = changed.keys.some((key) => key.of === of);
    // Where the last key went, the number stays as it was seen.
    if (!stillHasKeys) continue;
    if (isChanged) keys = withKey(keys, of, time, structuredClone(value) as KeyValue);
    result = withValue(result, place, valueAt(stored, before)) as Recipe;
  }
  return keys === result.keys ? result : { ...result, keys };
}
