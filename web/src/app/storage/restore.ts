import { type Recipe, mendRecipe } from '@hazy-lens/core';
import jsonPatch from 'fast-json-patch';
import type { DocumentState } from '../state/document.reducer';
import { EMPTY_HISTORY, type History, type HistoryEntry } from '../state/history';
import type { StoredProject, StoredStep } from './database';

/** A stored project as the open document, and what had to be done for that. */
export interface Restored {
  document: DocumentState;
  /** Steps back that it took to come to a recipe that can be read; they can be done again. */
  stepsBack: number;
  /** Nothing of what is stored can be read: the document has the recipe that was given instead. */
  isLost: boolean;
}

/** A project as it was stored, at its newest step that can be read. @param otherwise the recipe where none can. */
export function restored(project: StoredProject, steps: readonly StoredStep[], otherwise: Recipe): Restored {
  const { id, name, source } = project;
  const entries = steps
    .filter(({ undo, redo }) => Array.isArray(undo) && Array.isArray(redo))
    .map(({ seq, label, undo, redo }): HistoryEntry => ({ seq, label, gesture: null, undo, redo }))
    .sort((a, b) => a.seq - b.seq);
  const past = entries.filter(({ seq }) => seq <= project.done);
  const future = entries.slice(past.length);
  const documentOf = (recipe: Recipe, history: History): DocumentState => ({
    projectId: id,
    name,
    source,
    recipe,
    history,
  });
  let value: unknown = structuredClone(project.recipe);
  for (let stepsBack = 0; stepsBack <= past.length; stepsBack++) {
    try {
      if (stepsBack > 0)
        value = jsonPatch.applyPatch(value, structuredClone(past[past.length - stepsBack]!.undo)).newDocument;
    } catch {
      // What does not fit any more leads no further back.
      break;
    }
    try {
      const kept = past.length - stepsBack;
      const history = { past: past.slice(0, kept), future: [...past.slice(kept), ...future] };
      return { document: documentOf(mendRecipe(value), history), stepsBack, isLost: false };
    } catch {
      continue;
    }
  }
  return { document: documentOf(otherwise, EMPTY_HISTORY), stepsBack: 0, isLost: true };
}
