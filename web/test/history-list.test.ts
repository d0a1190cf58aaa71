import { neutralRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { EMPTY_HISTORY, type History, recordEdit, undo } from '../src/app/model/history';
import { listHistory } from '../src/app/model/history-list';
import type { ProjectDocument } from '../src/app/model/project';

const SIZE = { width: 3000, height: 2000 };

/** A project after changes, each of which is one step. */
function after(...changes: [string, (work: ProjectDocument) => void][]): {
  history: History;
  work: ProjectDocument;
} {
  let history = EMPTY_HISTORY;
  let work: ProjectDocument = { recipe: neutralRecipe() };
  for (const [label, change] of changes) {
    const next = structuredClone(work);
    change(next);
    history = recordEdit(history, work, next, label, null);
    work = next;
  }
  return { history, work };
}

describe('the list of steps', () => {
  it('says what each changed, in the units of the interface, the newest first', () => {
    const { history, work } = after(
      ['saturation', ({ recipe }) => (recipe.colour.saturation = 0.3)],
      ['lens blur', ({ recipe }) => (recipe.blur.kind = 'lens')],
      [
        'saturation',
        ({ recipe }) => {
          recipe.colour.saturation = 0.45;
          recipe.colour.exposure = -1;
        },
      ],
    );
    const listed = listHistory(history, work, SIZE);
    expect(listed.map(({ label, distance }) => [label, distance])).toEqual([
      ['Saturation', 0],
      ['Lens blur', -1],
      ['Saturation', -2],
    ]);
    expect(listed[0]!.changes.split(', ').toSorted()).toEqual([
      'Exposure 0.00 stops → -1.00 stops',
      'Saturation 30% → 45%',
    ]);
    expect(listed[1]!.changes).toBe('');
    expect(listed[2]!.changes).toBe('Saturation 0% → 30%');
  });

  it('counts what is more than two', () => {
    const { history, work } = after([
      'look',
      ({ recipe: { colour } }) => {
        Object.assign(colour, { saturation: 0.1, contrast: 0.1, vibrance: 0.1, clarity: 0.1 });
      },
    ]);
    expect(listHistory(history, work, SIZE)[0]!.changes).toMatch(/^[^,]+, [^,]+, 2 more$/);
  });

  it('keeps steps that were taken back above the present one, with what they will change', () => {
    const { history, work } = after(
      ['saturation', ({ recipe }) => (recipe.colour.saturation = 0.3)],
      ['contrast', ({ recipe }) => (recipe.colour.contrast = 0.2)],
    );
    const back = undo(history, work)!;
    expect(listHistory(back.history, back.work, SIZE)).toMatchObject([
      { label: 'Contrast', distance: 1, changes: 'Contrast 0% → 20%' },
      { label: 'Saturation', distance: 0, changes: 'Saturation 0% → 30%' },
    ]);
  });

  it('ends at a step that is damaged, and does not fail', () => {
    const { history, work } = after(
      ['saturation', ({ recipe }) => (recipe.colour.saturation = 0.3)],
      ['contrast', ({ recipe }) => (recipe.colour.contrast = 0.2)],
      ['clarity', ({ recipe }) => (recipe.colour.clarity = 0.2)],
    );
    history.past[1]!.undo = [{ op: 'replace', path: '/nowhere/at/all', value: 1 }];
    expect(listHistory(history, work, SIZE).map(({ label }) => label)).toEqual(['Clarity']);
  });
});
