import type { Point } from '@hazy-lens/core';
import type { Document } from '../../state/document';

const MOST = 500;

/** Adds a sounding, clear and hazy in turn so that two clicks already make a field. Gives its index. */
export function addSounding(document: Document, at: Point, gesture: string | null = null): number {
  const { soundings } = document.recipe().focus;
  const last = soundings.at(-1)?.haze;
  const haze = last === undefined ? 0 : last < 0.5 ? 0.8 : 0.2;
  if (soundings.length >= MOST) return soundings.length - 1;
  document.edit(
    'new sounding',
    (draft) => {
      draft.focus.soundings.push({ at, haze });
      draft.focus.soundingsOn = true;
    },
    gesture,
  );
  return soundings.length;
}
