import type { Recipe } from '@hazy-lens/core';
import { neutralRecipe } from '@hazy-lens/core';
import {
  type ActionReducer,
  createActionGroup,
  createFeatureSelector,
  createReducer,
  emptyProps,
  on,
  props,
} from '@ngrx/store';
import { EMPTY_HISTORY, type History, recorded, redone, undone } from './history';

/** What is known of the picture that a project stands on; its pixels live in the engine. */
export interface SourceInfo {
  id: string;
  fileName: string;
  type: string;
  bytes: number;
  width: number;
  height: number;
  /** Bits a channel of the file, its colour profile, and its pages or frames; not known of older projects. */
  bits?: number;
  profile?: string | null;
  pages?: number;
  /** When the picture was taken, as its EXIF says it; or when the file was last changed. */
  date: string | null;
}

/** The open project: what a person works on and may take back. */
export interface DocumentState {
  projectId: string | null;
  name: string;
  source: SourceInfo | null;
  recipe: Recipe;
  history: History;
}

export const DocumentActions = createActionGroup({
  source: 'Document',
  events: {
    Opened: props<{ document: DocumentState }>(),
    Closed: emptyProps(),
    Renamed: props<{ name: string }>(),
    Edited: props<{ recipe: Recipe; label: string; gesture: string | null }>(),
    Undone: emptyProps(),
    Redone: emptyProps(),
  },
});

const initial: DocumentState = {
  projectId: null,
  name: '',
  source: null,
  recipe: neutralRecipe(),
  history: EMPTY_HISTORY,
};

const plainReducer = createReducer<DocumentState>(
  initial,
  on(DocumentActions.opened, (_, { document }) => document),
  on(DocumentActions.closed, () => initial),
  on(DocumentActions.renamed, (state, { name }) => ({ ...state, name })),
  on(DocumentActions.edited, (state, { recipe }) => ({ ...state, recipe })),
);

/** Keeps the history beside a reducer that knows nothing of it. */
export function withHistory(reducer: ActionReducer<DocumentState>): ActionReducer<DocumentState> {
  return (state, action) => {
    if (state && action.type === DocumentActions.undone.type)
      return { ...state, ...undone(state.history, state.recipe) };
    if (state && action.type === DocumentActions.redone.type)
      return { ...state, ...redone(state.history, state.recipe) };
    const next = reducer(state, action);
    if (!state || action.type !== DocumentActions.edited.type) return next;
    const { label, gesture } = action as ReturnType<typeof DocumentActions.edited>;
    return { ...next, history: recorded(state.history, state.recipe, next.recipe, label, gesture) };
  };
}

export const documentReducer = withHistory(plainReducer);

export const selectDocument = createFeatureSelector<DocumentState>('document');
