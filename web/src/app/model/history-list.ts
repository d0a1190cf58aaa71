import { type RecipePath, type Size, displayRange, numberSpecAt, valueAt } from '@hazy-lens/core';
import type { Operation } from 'fast-json-patch';
import { type History, type HistoryEntry, patched } from './history';
import { numberWithUnit } from './number-text';
import type { ProjectDocument } from './project';

/** One step of the history as it is listed. */
export interface ListedStep {
  seq: number;
  label: string;
  /** "Haze 100% → 80%"; empty where the label says all. */
  changes: string;
  /** Steps from the present one: negative for undo, 0 for the one that was taken last. */
  distance: number;
}

/** More changes than this are counted. */
const MAX_CHANGES = 2;

/** All steps, the newest first, with what each changed; those that were taken back come before the present one. */
export function listHistory(history: History, work: ProjectDocument, size: Size): ListedStep[] {
  const before = steps(history.past.toReversed(), work, 'undo').map(({ entry, from, to }, i) =>
    listed(entry, to, from, size, 0 - i),
  );
  const after = steps(history.future, work, 'redo').map(({ entry, from, to }, i) =>
    listed(entry, from, to, size, i + 1),
  );
  return [...after.toReversed(), ...before];
}

interface Step {
  entry: HistoryEntry;
  from: ProjectDocument;
  to: ProjectDocument;
}

/** The work on both sides of steps that follow each other; those after a damaged one are not known. */
function steps(entries: readonly HistoryEntry[], work: ProjectDocument, way: 'undo' | 'redo'): Step[] {
  const found: Step[] = [];
  let from = work;
  for (const entry of entries) {
    try {
      const to = patched(from, entry[way]);
      found.push({ entry, from, to });
      from = to;
    } catch {
      return found;
    }
  }
  return found;
}

function listed(
  { seq, label, redo }: HistoryEntry,
  before: ProjectDocument,
  after: ProjectDocument,
  size: Size,
  distance: number,
): ListedStep {
  const all = redo.map((change) => described(change, before, after, size)).filter((text) => text !== '');
  const more = all.length - MAX_CHANGES;
  const changes = [...all.slice(0, MAX_CHANGES), ...(more > 0 ? [`${more} more`] : [])].join(', ');
  return { seq, label: label.charAt(0).toUpperCase() + label.slice(1), changes, distance };
}

/** "Haze 100% → 80%" for a number of the recipe that changed; '' for what cannot be said in numbers. */
function described(change: Operation, before: ProjectDocument, after: ProjectDocument, size: Size): string {
  const [part, ...keys] = change.path.slice(1).split('/');
  if (part !== 'recipe' || change.op !== 'replace') return '';
  const at: RecipePath = keys.map((key) => (/^\d+$/.test(key) ? Number(key) : key));
  const [from, to] = [valueAt(before.recipe, at), valueAt(after.recipe, at)];
  if (typeof from !== 'number' || typeof to !== 'number') return '';
  try {
    const range = displayRange(numberSpecAt(after.recipe, at), size);
    const [a, b] = [from, to].map((value) => numberWithUnit(value * range.scale, range));
    return a === b ? '' : `${range.spoken} ${a} → ${b}`;
  } catch {
    return '';
  }
}
