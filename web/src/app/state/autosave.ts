import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { concatMap, debounceTime, filter, fromEvent, merge, withLatestFrom } from 'rxjs';
import { Projects, isStorageFull } from '../storage/projects';
import { DocumentActions, selectDocument } from './document.reducer';
import { Notices } from './notices';
import { ProjectLock } from './project-lock';

const FULL =
  'The browser has no room left: the latest changes are not saved. They stay in this window. ' +
  'Delete projects on the shelf or free disk space; saving goes on by itself with the next change.';

/** Saves the open project shortly after each change, and at once when the page is left. */
export const autosave = createEffect(
  (
    actions = inject(Actions),
    store = inject(Store),
    projects = inject(Projects),
    notices = inject(Notices),
    lock = inject(ProjectLock),
  ) => {
    let failing = false;
    const changes = actions.pipe(
      ofType(DocumentActions.edited, DocumentActions.undone, DocumentActions.redone, DocumentActions.renamed),
    );
    return merge(
      changes.pipe(debounceTime(250)),
      fromEvent(document, 'visibilitychange').pipe(filter(() => document.hidden)),
    ).pipe(
      withLatestFrom(store.select(selectDocument)),
      filter(([, state]) => lock.isMine(state.projectId)),
      concatMap(async ([, state]) => {
        try {
          await projects.save(state);
          if (failing) notices.dismiss();
          failing = false;
        } catch (error) {
          failing = true;
          notices.error(
            isStorageFull(error)
              ? FULL
              : `The latest changes could not be saved (${(error as Error).message}). They stay in this window.`,
          );
        }
      }),
    );
  },
  { functional: true, dispatch: false },
);
