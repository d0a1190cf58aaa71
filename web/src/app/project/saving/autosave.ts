import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Actions, ofType } from '@ngrx/effects';
import type { Project } from '../../model/project';
import { Projects } from '../../storage/projects';
import { KeptFiles } from './kept-files';
import { OpenProject } from '../session/open-project';
import { ProjectActions } from '../session/project.reducer';
import { ProjectNotices } from '../session/project-notices';
import { ProjectLock } from './project-lock';
import { isStorageFull, reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

const FULL =
  projectWords.browserStorageIsFull +
  'Delete projects or free disk space; saving resumes once there is room.';
const ABOUT = 'saving';
/** While a gesture goes on it is saved so often; when it ends, at once. */
const BEAT_MS = 250;
/** What could not be saved is tried again so soon. */
const AGAIN_MS = 1500;

/** Saves one project: after each change at once, during a gesture in beats. */
@Injectable()
export class Autosave {
  private readonly projects = inject(Projects);
  private readonly project = inject(OpenProject);
  private readonly notices = inject(ProjectNotices);
  private readonly lock = inject(ProjectLock);
  private readonly files = inject(KeptFiles);
  private readonly state = this.project.state;
  /** What lies in the storage. */
  private readonly saved = signal(this.state());
  /** What was done in the project when it was saved last, or opened. */
  readonly savedWork = computed(() => this.saved().work);
  /** True while steps may lie in the storage that this tab did not write. */
  private isForeign = false;
  private saving: Promise<void> | null = null;
  private timer = 0;
  private isClosed = false;

  /** False where this project is not kept at all, or another tab saves it. */
  private readonly canSave = computed(() => this.lock.isMine(this.state().projectId));
  private readonly hasFailed = signal(false);
  /** Why nothing of this project is saved just now, or null where it is. */
  readonly problem = computed(() => {
    if (this.canSave()) return this.hasFailed() ? 'failed' : null;
    return this.state().projectId === null ? 'not kept' : 'other tab';
  });
  /** True while there is something that would be lost with this window. */
  readonly isAtRisk = computed(() => {
    const [now, saved] = [this.state(), this.saved()];
    if (now.projectId === null) return now.source !== null;
    // Another tab gives it its name.
    return this.canSave() ? now !== saved : now.work !== saved.work;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    inject(Actions)
      .pipe(
        ofType(
          ProjectActions.edited,
          ProjectActions.abandoned,
          ProjectActions.melted,
          ProjectActions.undone,
          ProjectActions.redone,
          ProjectActions.renamed,
        ),
        takeUntilDestroyed(),
      )
      .subscribe((action) =>
        this.changed(action.type === ProjectActions.edited.type && action.gesture !== null),
      );
    effect(() => {
      if (!this.project.hand()) untracked(() => void this.save());
    });
    const listens = new AbortController();
    const { signal } = listens;
    document.addEventListener('visibilitychange', () => document.hidden && void this.save(), { signal });
    addEventListener('beforeunload', (event) => this.isAtRisk() && event.preventDefault(), { signal });
    destroyed.onDestroy(() => {
      this.isClosed = true;
      listens.abort();
      clearTimeout(this.timer);
    });
  }

  /** The project has changed, in the course of a gesture or in one go. */
  private changed(isGesture: boolean): void {
    if (!this.canSave()) return;
    if (!isGesture) void this.save();
    else this.timer ||= window.setTimeout(() => void this.save(), BEAT_MS);
  }

  /** Saves the project with all of its steps, in place of what another tab left. */
  saveAll(): Promise<void> {
    this.isForeign = true;
    return this.save();
  }

  /** Saves what is not saved yet; ends when that is done, or has failed and been said. */
  async save(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = 0;
    // A write under way does not have what changed since it began.
    while (this.saving) await this.saving;
    const state = this.state();
    if ((state === this.saved() && !this.isForeign) || !this.lock.isMine(state.projectId)) return;
    this.saving = this.write(state);
    await this.saving;
  }

  private async write(state: Project): Promise<void> {
    try {
      const wasThere = await this.projects.save(state, this.isForeign ? null : this.saved());
      if (!wasThere) {
        // Its steps and its files went with it.
        await this.projects.save(state, null);
        await this.files.putBack(state);
      }
      this.isForeign = false;
      this.saved.set(state);
      this.hasFailed.set(false);
      this.notices.clear(ABOUT);
    } catch (error) {
      const reason = isStorageFull(error) ? FULL : projectWords.yourLatestChangesCant(reasonOf(error));
      if (!this.hasFailed()) this.notices.error(reason, ABOUT);
      this.hasFailed.set(true);
      if (!this.isClosed) this.timer ||= window.setTimeout(() => void this.save(), AGAIN_MS);
    } finally {
      this.saving = null;
    }
  }
}
