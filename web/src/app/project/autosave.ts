import { Injectable, effect, inject, signal, untracked } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { tap } from 'rxjs';
import type { Project } from '../model/project';
import { Projects, isStorageFull } from '../storage/projects';
import { OpenProject } from './open-project';
import { ProjectActions, selectProject } from './project.reducer';
import { Notices } from './notices';
import { ProjectLock } from './project-lock';

const FULL =
  'The browser has no room left: the latest changes are not saved. They stay in this window. ' +
  'Delete projects on the shelf or free disk space; saving goes on by itself with the next change.';
const ABOUT = 'saving';
/** While a gesture goes on it is saved so often; when it ends, at once. */
const BEAT_MS = 250;

/** Saves the open project: after each change at once, during a gesture in beats. */
@Injectable({ providedIn: 'root' })
export class Autosave {
  private readonly projects = inject(Projects);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private readonly state = inject(Store).selectSignal(selectProject);
  /** What lies in the storage of the open project. */
  private saved: Project | null = null;
  private saving: Promise<void> | null = null;
  private timer = 0;
  /** True while something is not in the storage that should be. */
  readonly isBehind = signal(false);

  constructor() {
    const { hand } = inject(OpenProject);
    effect(() => {
      if (!hand()) untracked(() => void this.save());
    });
    document.addEventListener('visibilitychange', () => {
      if (document.hidden) void this.save();
    });
    addEventListener('beforeunload', (event) => {
      if (this.isBehind()) event.preventDefault();
    });
  }

  /** A project has been opened as it is stored. */
  opened(): void {
    this.saved = this.state();
    this.isBehind.set(false);
  }

  /** The project has changed, in the course of a gesture or in one go. */
  changed(isGesture: boolean): void {
    if (!this.lock.isMine(this.state().projectId)) return;
    this.isBehind.set(true);
    if (!isGesture) void this.save();
    else this.timer ||= window.setTimeout(() => void this.save(), BEAT_MS);
  }

  /** Saves what is not saved yet; ends when that is done, or has failed and been said. */
  async save(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = 0;
    // A write under way does not have what changed since it began.
    while (this.saving) await this.saving;
    const state = this.state();
    if (state === this.saved || !this.lock.isMine(state.projectId)) return;
    this.saving = this.write(state);
    await this.saving;
  }

  private async write(state: Project): Promise<void> {
    try {
      await this.projects.save(state, this.saved);
      this.saved = state;
      this.isBehind.set(state !== this.state());
      this.notices.clear(ABOUT);
    } catch (error) {
      const reason = isStorageFull(error)
        ? FULL
        : `The latest changes could not be saved (${(error as Error).message}). They stay in this window.`;
      this.notices.error(reason, ABOUT);
    } finally {
      this.saving = null;
    }
  }
}

/** Tells the autosave of what happens to the project. */
export const autosave = createEffect(
  (actions = inject(Actions), saver = inject(Autosave)) =>
    actions.pipe(
      ofType(
        ProjectActions.opened,
        ProjectActions.edited,
        ProjectActions.abandoned,
        ProjectActions.melted,
        ProjectActions.undone,
        ProjectActions.redone,
        ProjectActions.renamed,
      ),
      tap((action) => {
        if (action.type === ProjectActions.opened.type) saver.opened();
        else saver.changed(action.type === ProjectActions.edited.type && action.gesture !== null);
      }),
    ),
  { functional: true, dispatch: false },
);
