import jsonPatch, { type Operation } from 'fast-json-patch';
import { produce } from 'immer';

/** One gesture: what it is called, and the way back and forth as RFC 6902 patches of the work. */
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

/** What came of a step back or forth. */
interface Stepped<T> {
  history: History;
  work: T;
}

/** Work after a patch; what the patch does not touch stays the same object, so that it costs nothing to keep. */
export function patched<T extends object>(work: T, patch: Operation[]): T {
  return produce(work, (draft) => void jsonPatch.applyPatch(draft, patch));
}

/** The history after a change from one state of the work to another; changes of one gesture melt into one entry. */
export function recordEdit<T extends object>(
  history: History,
  from: T,
  to: T,
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

/** One step back, or null where there is none. */
export function undo<T extends object>(history: History, work: T): Stepped<T> | null {
  const entry = history.past.at(-1);
  if (!entry) return null;
  // A gesture that was undone is over: the next change starts an entry of its own.
  const closed = history.past.slice(0, -1).map((one) => (one.gesture ? { ...one, gesture: null } : one));
  return {
    work: patched(work, entry.undo),
    history: { past: closed, future: [entry, ...history.future] },
  };
}

/** The work without a gesture that was taken back while it went on: nothing of it stays. Null where it changed nothing. */
export function cancelGesture<T extends object>(
  history: History,
  work: T,
  gesture: string,
): Stepped<T> | null {
  const entry = history.past.at(-1);
  if (entry?.gesture !== gesture) return null;
  return { work: patched(work, entry.undo), history: { past: history.past.slice(0, -1), future: [] } };
}

/**
 * The history with all steps from `since` (see `seq`) on as one, so that they are taken back together. None where they
 * changed nothing together.
 */
export function squashSteps<T extends object>(
  history: History,
  work: T,
  since: number,
  label: string,
): History {
  const parts = history.past.filter(({ seq }) => seq >= since);
  if (parts.length === 0) return history;
  const start = parts.reduceRight((state, { undo }) => patched(state, undo), work);
  return recordEdit({ past: history.past.slice(0, -parts.length), future: [] }, start, work, label, null);
}

/** One step forward, or null where there is none. */
export function redo<T extends object>(history: History, work: T): Stepped<T> | null {
  const [entry, ...future] = history.future;
  if (!entry) return null;
  return {
    work: patched(work, entry.redo),
    history: { past: [...history.past, { ...entry, gesture: null }], future },
  };
}
