import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_PROJECT, type Project } from '../src/app/model/project';
import { ProjectActions, projectReducer } from '../src/app/project/session/project.reducer';

const start: Project = { ...NO_PROJECT, projectId: 'p', name: 'Kites' };

const saturate = (state: Project, saturation: number, gesture: string | null = null): Project =>
  projectReducer(
    state,
    ProjectActions.edited({
      work: { recipe: { ...state.work.recipe, colour: { ...state.work.recipe.colour, saturation } } },
      label: 'saturation',
      gesture,
    }),
  );
const undo = (state: Project): Project => projectReducer(state, ProjectActions.undone());
const redo = (state: Project): Project => projectReducer(state, ProjectActions.redone());

describe('the history of a project', () => {
  it('takes back and does again any run of edits', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -100, max: 100 }), { maxLength: 20 }), (values) => {
        const states = [start];
        for (const value of values) states.push(saturate(states.at(-1)!, value / 100));
        const last = states.at(-1)!;
        let state = last;
        for (let i = 0; i < values.length; i++) state = undo(state);
        expect(state.work.recipe).toEqual(start.work.recipe);
        for (let i = 0; i < values.length; i++) state = redo(state);
        expect(state.work.recipe).toEqual(last.work.recipe);
      }),
    );
  });

  it('makes one step of one gesture, however many changes it had', () => {
    let state = saturate(start, 0.1);
    for (let i = 0; i < 50; i++) state = saturate(state, 0.2 + i / 100, 'drag');
    expect(state.history.past).toHaveLength(2);
    expect(undo(state).work.recipe.colour.saturation).toBe(0.1);
    expect(redo(undo(state)).work.recipe.colour.saturation).toBeCloseTo(0.69);
  });

  it('makes one step of all from a number on, and none of what comes to nothing', () => {
    const tried = saturate(saturate(saturate(start, 0.1), 0.4, 'drag'), 0.7);
    const melt = (state: Project, since: number): Project =>
      projectReducer(state, ProjectActions.melted({ since, label: 'tried' }));
    const kept = melt(tried, 1);
    expect(kept.history.past.map(({ seq, label }) => [seq, label])).toEqual([
      [0, 'saturation'],
      [1, 'tried'],
    ]);
    expect(kept.work).toEqual(tried.work);
    expect(undo(kept).work.recipe.colour.saturation).toBe(0.1);
    expect(redo(undo(kept)).work).toEqual(tried.work);
    expect(melt(tried, 3)).toEqual(tried);
    expect(melt(saturate(tried, 0.1), 1).history.past).toHaveLength(1);
  });

  it('forgets a gesture that ends where it began', () => {
    const state = saturate(saturate(start, 0.5, 'drag'), 0, 'drag');
    expect(state.history.past).toHaveLength(0);
  });

  it('drops what was taken back once something else is done, and does not join across an undo', () => {
    const state = saturate(undo(saturate(start, 0.5, 'drag')), 0.3, 'drag');
    expect(state.history.future).toHaveLength(0);
    expect(undo(state).work.recipe.colour.saturation).toBe(0);
  });

  it('is plain data that survives storing, and does nothing at its ends', () => {
    const stored = JSON.parse(JSON.stringify(saturate(start, 0.5))) as Project;
    expect(undo(stored).work.recipe).toEqual(start.work.recipe);
    expect(undo(start)).toEqual(start);
    expect(redo(start)).toEqual(start);
  });
});
