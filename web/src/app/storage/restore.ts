import jsonPatch from 'fast-json-patch';
import { type Project, type ProjectDocument, parseDocument } from '../model/project';
import { EMPTY_HISTORY, type History, type HistoryEntry } from '../model/history';
import type { StoredStep } from './database';
import type { StoredProject } from './rows';

/** A stored project as an open one, and what had to be done for that. */
export interface Restored {
  project: Project;
  /** Steps back that it took to come to work that can be read; they can be done again. */
  stepsBack: number;
  /** Nothing of what is stored can be read: the project has the work that was given instead. */
  isLost: boolean;
}

/** A project as it was stored, at its newest step that can be read. @param otherwise the work where none can. */
export function restored(
  stored: StoredProject,
  steps: readonly StoredStep[],
  otherwise: ProjectDocument,
): Restored {
  const { id, name, source } = stored;
  const entries = steps
    .filter(({ undo, redo }) => Array.isArray(undo) && Array.isArray(redo))
    .map(({ seq, label, undo, redo }): HistoryEntry => ({ seq, label, gesture: null, undo, redo }))
    .sort((a, b) => a.seq - b.seq);
  const past = entries.filter(({ seq }) => seq <= stored.done);
  const future = entries.slice(past.length);
  const projectOf = (work: ProjectDocument, history: History): Project => ({
    projectId: id,
    name,
    source,
    work,
    history,
  });
  let value: unknown = structuredClone(stored.work);
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
      return { project: projectOf(parseDocument(value), history), stepsBack, isLost: false };
    } catch {
      continue;
    }
  }
  return { project: projectOf(otherwise, EMPTY_HISTORY), stepsBack: 0, isLost: true };
}
