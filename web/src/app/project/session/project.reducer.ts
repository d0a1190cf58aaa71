import {
  type ActionReducer,
  createActionGroup,
  createFeatureSelector,
  createReducer,
  emptyProps,
  on,
  props,
} from '@ngrx/store';
import { cancelGesture, squashSteps, recordEdit, redo, undo } from '../../model/history';
import { NO_PROJECT, type Project, type ProjectDocument, clampDocument } from '../../model/project';

export const ProjectActions = createActionGroup({
  source: 'Project',
  events: {
    Opened: props<{ project: Project }>(),
    /** It is on the shelf now, which it was not before. */
    Kept: props<{ projectId: string }>(),
    Renamed: props<{ name: string }>(),
    Edited: props<{ work: ProjectDocument; label: string; gesture: string | null }>(),
    Abandoned: props<{ gesture: string }>(),
    Melted: props<{ since: number; label: string }>(),
    Undone: emptyProps(),
    Redone: emptyProps(),
  },
});

const plainReducer = createReducer<Project>(
  NO_PROJECT,
  on(ProjectActions.opened, (_, { project }) => project),
  on(ProjectActions.kept, (state, { projectId }) => ({ ...state, projectId })),
  on(ProjectActions.renamed, (state, { name }) => ({ ...state, name })),
  on(ProjectActions.edited, (state, { work }) => ({ ...state, work })),
);

/** A project one step back, or the same where there is none. @throws where the step is damaged. */
export function steppedBack(project: Project): Project {
  return { ...project, ...undo(project.history, project.work) };
}

/** A project one step forward, or the same where there is none. @throws where the step is damaged. */
export function steppedForward(project: Project): Project {
  const next = redo(project.history, project.work);
  return next ? { ...project, ...next, work: clampDocument(next.work) } : project;
}

/** Keeps the history beside a reducer that knows nothing of it. */
export function withHistory(reducer: ActionReducer<Project>): ActionReducer<Project> {
  return (state, action) => {
    if (state && action.type === ProjectActions.undone.type) return steppedBack(state);
    if (state && action.type === ProjectActions.redone.type) return steppedForward(state);
    if (state && action.type === ProjectActions.abandoned.type) {
      const { gesture } = action as ReturnType<typeof ProjectActions.abandoned>;
      return { ...state, ...cancelGesture(state.history, state.work, gesture) };
    }
    if (state && action.type === ProjectActions.melted.type) {
      const { since, label } = action as ReturnType<typeof ProjectActions.melted>;
      return { ...state, history: squashSteps(state.history, state.work, since, label) };
    }
    const next = reducer(state, action);
    if (!state || action.type !== ProjectActions.edited.type) return next;
    const { label, gesture } = action as ReturnType<typeof ProjectActions.edited>;
    return { ...next, history: recordEdit(state.history, state.work, next.work, label, gesture) };
  };
}

/** An error in a reducer would end the store for good: the state stays as it is instead, and the error is reported. */
export function unfailing(reducer: ActionReducer<Project>): ActionReducer<Project> {
  return (state, action) => {
    try {
      return reducer(state, action);
    } catch (error) {
      reportError(error);
      return state ?? NO_PROJECT;
    }
  };
}

export const projectReducer = unfailing(withHistory(plainReducer));

export const selectProject = createFeatureSelector<Project>('project');
