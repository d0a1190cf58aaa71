import {
  type ActionReducer,
  createActionGroup,
  createFeatureSelector,
  createReducer,
  emptyProps,
  on,
  props,
} from '@ngrx/store';
import { abandoned, melted, recorded, redone, undone } from '../model/history';
import { NO_PROJECT, type Project, type Work, fitWork } from '../model/project';

export const ProjectActions = createActionGroup({
  source: 'Project',
  events: {
    Opened: props<{ project: Project }>(),
    Renamed: props<{ name: string }>(),
    Edited: props<{ work: Work; label: string; gesture: string | null }>(),
    Abandoned: props<{ gesture: string }>(),
    Melted: props<{ since: number; label: string }>(),
    Undone: emptyProps(),
    Redone: emptyProps(),
  },
});

const plainReducer = createReducer<Project>(
  NO_PROJECT,
  on(ProjectActions.opened, (_, { project }) => project),
  on(ProjectActions.renamed, (state, { name }) => ({ ...state, name })),
  on(ProjectActions.edited, (state, { work }) => ({ ...state, work })),
);

/** Keeps the history beside a reducer that knows nothing of it. */
export function withHistory(reducer: ActionReducer<Project>): ActionReducer<Project> {
  return (state, action) => {
    if (state && action.type === ProjectActions.undone.type)
      return { ...state, ...undone(state.history, state.work) };
    if (state && action.type === ProjectActions.abandoned.type) {
      const { gesture } = action as ReturnType<typeof ProjectActions.abandoned>;
      return { ...state, ...abandoned(state.history, state.work, gesture) };
    }
    if (state && action.type === ProjectActions.melted.type) {
      const { since, label } = action as ReturnType<typeof ProjectActions.melted>;
      return { ...state, history: melted(state.history, state.work, since, label) };
    }
    if (state && action.type === ProjectActions.redone.type) {
      const next = redone(state.history, state.work);
      // Only a project that was damaged has steps that give no recipe; fitting throws then.
      return next ? { ...state, ...next, work: fitWork(next.work) } : state;
    }
    const next = reducer(state, action);
    if (!state || action.type !== ProjectActions.edited.type) return next;
    const { label, gesture } = action as ReturnType<typeof ProjectActions.edited>;
    return { ...next, history: recorded(state.history, state.work, next.work, label, gesture) };
  };
}

export const projectReducer = withHistory(plainReducer);

export const selectProject = createFeatureSelector<Project>('project');
