import { neutralRecipe } from '@hazy-lens/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DocumentActions, type DocumentState, documentReducer } from '../src/app/state/document.reducer';
import { EMPTY_HISTORY } from '../src/app/state/history';

const start: DocumentState = {
  projectId: 'p',
  name: 'Kites',
  source: null,
  recipe: neutralRecipe(),
  history: EMPTY_HISTORY,
};

const saturate = (state: DocumentState, saturation: number, gesture: string | null = null): DocumentState =>
  documentReducer(
    state,
    DocumentActions.edited({
      recipe: { ...state.recipe, colour: { ...state.recipe.colour, saturation } },
      label: 'saturation',
      gesture,
    }),
  );
const undo = (state: DocumentState): DocumentState => documentReducer(state, DocumentActions.undone());
const redo = (state: DocumentState): DocumentState => documentReducer(state, DocumentActions.redone());

describe('the history of a document', () => {
  it('takes back and does again any run of edits', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -100, max: 100 }), { maxLength: 20 }), (values) => {
        const states = [start];
        for (const value of values) states.push(saturate(states.at(-1)!, value / 100));
        const last = states.at(-1)!;
        let state = last;
        for (let i = 0; i < values.length; i++) state = undo(state);
        expect(state.recipe).toEqual(start.recipe);
        for (let i = 0; i < values.length; i++) state = redo(state);
        expect(state.recipe).toEqual(last.recipe);
      }),
    );
  });

  it('makes one step of one gesture, however many changes it had', () => {
    let state = saturate(start, 0.1);
    for (let i = 0; i < 50; i++) state = saturate(state, 0.2 + i / 100, 'drag');
    expect(state.history.past).toHaveLength(2);
    expect(undo(state).recipe.colour.saturation).toBe(0.1);
    expect(redo(undo(state)).recipe.colour.saturation).toBeCloseTo(0.69);
  });

  it('forgets a gesture that ends where it began', () => {
    const state = saturate(saturate(start, 0.5, 'drag'), 0, 'drag');
    expect(state.history.past).toHaveLength(0);
  });

  it('drops what was taken back once something else is done, and does not join across an undo', () => {
    const state = saturate(undo(saturate(start, 0.5, 'drag')), 0.3, 'drag');
    expect(state.history.future).toHaveLength(0);
    expect(undo(state).recipe.colour.saturation).toBe(0);
  });

  it('is plain data that survives storing, and does nothing at its ends', () => {
    const stored = JSON.parse(JSON.stringify(saturate(start, 0.5))) as DocumentState;
    expect(undo(stored).recipe).toEqual(start.recipe);
    expect(undo(start)).toEqual(start);
    expect(redo(start)).toEqual(start);
  });
});
