import { Injectable, computed, inject } from '@angular/core';
import {
  type Ease,
  type Key,
  type KeyValue,
  type Recipe,
  type RecipePath,
  type Track,
  canHaveKeys,
  isSameTime,
  keyPath,
  numberSpecAt,
  resolveKeyPath,
  trackValue,
  tracksOf,
  valueAt,
  withKey,
  withoutKey,
} from '@hazy-lens/core';
import { elementName } from '../../model/elements';
import { bandName } from '../../model/bands';
import { mendName } from '../../model/mends';
import { matteName } from '../../model/mattes';
import { OpenProject } from '../session/open-project';
import { Playhead } from './playhead';
import { projectWords } from '../../words/project';

/** What has keys, as one lane of the reel: all numbers of a band or a sounding together, any other by itself. */
export interface Lane {
  /** The path that its tracks begin with. */
  owner: string;
  label: string;
  tracks: readonly Track[];
  /** Times at which any of its tracks has a key, upwards. */
  keyTimes: readonly { at: number; ease: Ease }[];
}

/** The keys of a lane at one time. */
export interface Stop {
  owner: string;
  at: number;
}

/** Sets, moves and takes away keys of the open recipe; each is one step back. */
@Injectable()
export class Keyframes {
  private readonly project = inject(OpenProject);
  private readonly playhead = inject(Playhead);
  readonly lanes = computed<Lane[]>(() => lanesOf(this.project.keyed()));

  /** The place that a key of a number has: a point has its two numbers in one. */
  placeOf(at: RecipePath): RecipePath {
    const recipe = this.project.keyed();
    const parent = at.slice(0, -1);
    const value = valueAt(recipe, parent);
    const isPoint =
      Array.isArray(value) && value.length === 2 && numberSpecAt(recipe, [...parent, 0]).measure === 'across';
    return isPoint ? parent : at;
  }

  /** True where a number can have keys: of the two numbers of a point the first stands for both. */
  isOffered(at: RecipePath): boolean {
    if (!canHaveKeys(at)) return false;
    return at.at(-1) !== 1 || this.placeOf(at).length === at.length;
  }

  /** Whether a number has keys, and one at the moment in view. */
  stateOf(at: RecipePath): 'none' | 'other' | 'here' {
    const of = keyPath(this.project.keyed(), this.placeOf(at));
    const keys = this.project.keyed().keys.filter((key) => key.of === of);
    if (keys.length === 0) return 'none';
    return keys.some((key) => isSameTime(key.at, this.playhead.time())) ? 'here' : 'other';
  }

  /** Sets a key of a number at the moment in view, or takes it away. */
  toggle(at: RecipePath, label: string): void {
    const place = this.placeOf(at);
    const of = keyPath(this.project.keyed(), place);
    const time = this.playhead.time();
    if (this.stateOf(at) === 'here')
      return this.change(projectWords.deleteKey(label), (keys) => withoutKey(keys, of, time));
    const value = structuredClone(valueAt(this.project.recipe(), place)) as KeyValue;
    this.change(projectWords.addKey(label), (keys) => withKey(keys, of, time, value));
  }

  /** Moves keys to other times, all in one go; those that are there give way. */
  move(stops: readonly Stop[], to: (at: number) => number, gesture: string | null = null): void {
    this.change(
      projectWords.moveKeys,
      (keys) => {
        const moved = keys.filter((key) => isOneOf(key, stops));
        const there = moved.map((key) => ({ ...key, at: to(key.at) }));
        const isTaken = (key: Key): boolean =>
          there.some(({ of, at }) => of === key.of && isSameTime(at, key.at));
        const rest = keys.filter((key) => !moved.includes(key) && !isTaken(key));
        return [...rest, ...there].sort((a, b) => a.at - b.at);
      },
      gesture,
    );
  }

  /** Moves one key to a time and a value; one that is there gives way. */
  put({ of, at, ease }: Key, to: number, value: KeyValue, gesture: string | null): void {
    this.change(
      projectWords.moveKey,
      (keys) => withKey(withoutKey(keys, of, at), of, to, value, ease),
      gesture,
    );
  }

  /** Sets a key of a track at a time, where its curve runs. */
  add(track: Track, at: number): void {
    const value = trackValue(this.project.keyed(), track, at);
    if (value !== null) this.change(projectWords.addKeyName, (keys) => withKey(keys, track.of, at, value));
  }

  /** Copies keys to other times. */
  copy(stops: readonly Stop[], to: (at: number) => number, gesture: string | null = null): void {
    const copied = this.project.keyed().keys.filter((key) => isOneOf(key, stops));
    this.change(
      projectWords.copyKeys,
      (keys) =>
        copied.reduce((list, { of, at, value, ease }) => withKey(list, of, to(at), value, ease), [...keys]),
      gesture,
    );
  }

  /** Takes keys away. */
  remove(stops: readonly Stop[]): void {
    this.change(stops.length === 1 ? projectWords.deleteKeyName : projectWords.deleteKeys, (keys) =>
      keys.filter((key) => !isOneOf(key, stops)),
    );
  }

  /** How values go on from keys. */
  ease(stops: readonly Stop[], ease: Ease): void {
    this.change(projectWords.key(ease), (keys) =>
      keys.map((key) => (isOneOf(key, stops) ? { ...key, ease } : key)),
    );
  }

  private change(
    label: string,
    change: (keys: readonly Key[]) => Key[],
    gesture: string | null = null,
  ): void {
    this.project.edit(label, (draft) => void (draft.keys = change(this.project.keyed().keys)), gesture);
  }
}

const isIn = ({ of }: Key, owner: string): boolean => of === owner || of.startsWith(`${owner}/`);

const isOneOf = (key: Key, stops: readonly Stop[]): boolean =>
  stops.some(({ owner, at }) => isSameTime(key.at, at) && isIn(key, owner));

function lanesOf(recipe: Recipe): Lane[] {
  const lanes = new Map<string, { label: string; tracks: Track[] }>();
  for (const track of tracksOf(recipe.keys)) {
    const { owner, label } = ownerOf(recipe, track.of);
    const lane = lanes.get(owner);
    if (lane) lane.tracks.push(track);
    else lanes.set(owner, { label, tracks: [track] });
  }
  return [...lanes].map(([owner, { label, tracks }]) => {
    const keyTimes: { at: number; ease: Ease }[] = [];
    for (const { at, ease } of tracks.flatMap(({ keys }) => keys).sort((a, b) => a.at - b.at))
      if (!keyTimes.length || !isSameTime(keyTimes.at(-1)!.at, at)) keyTimes.push({ at, ease });
    return { owner, label, tracks, keyTimes };
  });
}

function ownerOf(recipe: Recipe, of: string): { owner: string; label: string } {
  const [part, list, id] = of.split('/');
  if (part === 'focus' && list === 'bands') {
    const band = recipe.focus.bands.find((one) => one.id === id)!;
    return { owner: [part, list, id].join('/'), label: bandName(band, recipe.focus) };
  }
  if (part === 'elements') {
    const index = recipe.elements.findIndex((one) => one.id === list);
    return { owner: [part, list].join('/'), label: elementName(recipe.elements, index) };
  }
  if (part === 'focus' && list === 'soundings')
    return { owner: [part, list, id].join('/'), label: projectWords.sounding(Number(id) + 1) };
  if (list === 'strokesCarry') return { owner: [part, list].join('/'), label: 'brush' };
  if (list === 'mends') {
    const index = recipe.tidy.mends.findIndex((one) => one.id === id);
    return { owner: [part, list, id, 'carry'].join('/'), label: mendName(recipe.tidy.mends, index) };
  }
  if (of.includes('/carry/')) {
    const index = recipe.focus.mattes.findIndex((one) => one.id === id);
    return { owner: [part, list, id, 'carry'].join('/'), label: matteName(recipe.focus.mattes, index) };
  }
  const place = resolveKeyPath(recipe, of);
  const spec = place && numberSpecAt(recipe, place);
  return { owner: of, label: (spec?.spoken ?? spec?.label ?? of).toLowerCase() };
}
