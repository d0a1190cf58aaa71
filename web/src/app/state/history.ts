import { type Recipe, fitRecipe } from '@hazy-lens/core';
import jsonPatch, { type Operation } from 'fast-json-patch';
import { produce } from 'immer';

/** One gesture: what it is called, and the way back and forth as RFC 6902 patches of the recipe. */
export interface HistoryEntry {
  /** Its place among all steps of the project, from 0 on; what was taken back keeps its own. */
  seq: number;
  label: string;
  /** Changes of the same gesture become one entry. */
  gesture: string | null;
  undo: Operation[];
  redo: Operation[];
}

export interface History {
  past: HistoryEntry[];
  future: HistoryEntry[];
}

export const EMPTY_HISTORY: History = { past: [], future: [] };
const LONGEST = 300;

/** The recipe after a patch, which may be of any kind; what the patch does not touch stays the same object, so that it costs nothing to keep. */
function patched(recipe: Recipe, patch: Operation[]): Recipe {
  return produce(recipe, (draft) => void jsonPatch.applyPatch(draft, patch));
}

/** The history after a change from one recipe to another; changes of one gesture melt into one entry. */
export function recorded(
  history: History,
  from: Recipe,
  to: Recipe,
  label: string,
  gesture: string | null,
): History {
  const last = history.past.at(-1);
  const joins = gesture !== null && last?.gesture === gesture && history.future.length === 0;
  const start = joins ? patched(from, last.undo) : from;
  const redo = jsonPatch.compare(start, to);
  const before = joins ? history.past.slice(0, -1) : history.past;
  if (redo.length === 0) return { past: before, future: joins ? [] : history.future };
  const seq = (before.at(-1)?.seq ?? -1) + 1;
  const entry: HistoryEntry = { seq, label, gesture, undo: jsonPatch.compare(to, start), redo };
  return { past: [...before, entry].slice(-LONGEST), future: [] };
}

export function undone(history: History, recipe: Recipe): { history: History; recipe: Recipe } | null {
  const entry = history.past.at(-1);
  if (!entry) return null;
  // A gesture that was undone is over: the next change starts an entry of its own.
  const closed = history.past.slice(0, -1).map((one) => (one.gesture ? { ...one, gesture: null } : one));
  return {
    recipe: patched(recipe, entry.undo),
    history: { past: closed, future: [entry, ...history.future] },
  };
}

/** @throws RecipeError where what was taken back gives no recipe: only a project that was damaged has such steps. */
export function redone(history: History, recipe: Recipe): { history: History; recipe: Recipe } | null {
  const [entry, ...future] = history.future;
  if (!entry) return null;
  return {
    recipe: fitRecipe(patched(recipe, entry.redo)),
    history: { past: [...history.past, { ...entry, gesture: null }], future },
  };
}
