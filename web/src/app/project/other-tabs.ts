import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import type { Subscription } from 'dexie';
import type { Project } from '../model/project';
import { Projects } from '../storage/projects';
import { Autosave } from './autosave';
import { Notices } from './notices';
import { OpenProject } from './open-project';
import { ProjectLock } from './project-lock';
import { ProjectActions } from './project.reducer';

/** What notices about the open project are about: they go with it. */
export const ABOUT_PROJECT = 'open project';

/** The open project among the other tabs: who writes to it, and what they do to it. */
@Injectable({ providedIn: 'root' })
export class OtherTabs {
  private readonly store = inject(Store);
  private readonly projects = inject(Projects);
  private readonly project = inject(OpenProject);
  private readonly autosave = inject(Autosave);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private watched: Subscription | null = null;

  /** Takes the right to write to a project; where another tab has it, says so and offers `copy`. */
  async join({ projectId, name }: Project, copy: () => void): Promise<void> {
    this.watched?.unsubscribe();
    this.watched = null;
    if (!projectId) return this.lock.drop();
    const isMine = await this.lock.take(projectId);
    if (projectId !== this.project.state().projectId) return;
    this.watch(projectId);
    if (isMine) return;
    this.notices.show({
      kind: 'info',
      about: ABOUT_PROJECT,
      text: `“${name}” is open in another tab, and that tab saves it. Changes made here are not kept unless you go on with a copy.`,
      action: { label: 'Go on with a copy', run: copy },
    });
  }

  /** Follows what other tabs do to the open project: a new name, or taking it off the shelf. */
  private watch(projectId: string): void {
    let wasThere = true;
    this.watched = this.projects.watch(projectId).subscribe((stored) => {
      const { name } = this.project.state();
      const isThere = stored !== null && stored.deleted === undefined;
      if (wasThere && !isThere)
        this.notices.show({
          kind: 'info',
          about: ABOUT_PROJECT,
          text: `“${name}” was taken off the shelf in another tab. It is still open here; keep it, or it is gone in a day.`,
          action: { label: 'Keep it', run: () => void this.keep(projectId) },
        });
      wasThere = isThere;
      if (stored && stored.name !== name && !this.autosave.isBehind())
        this.store.dispatch(ProjectActions.renamed({ name: stored.name }));
    });
  }

  private async keep(projectId: string): Promise<void> {
    await this.projects.restore(projectId);
    this.notices.clear(ABOUT_PROJECT);
  }
}
