import { DestroyRef, Injectable, inject } from '@angular/core';
import type { Subscription } from 'dexie';
import { compare } from 'fast-json-patch';
import { Projects } from '../../storage/projects';
import { Autosave } from './autosave';
import { OpenProject } from '../session/open-project';
import { ProjectLock } from './project-lock';
import { ProjectNotices } from '../session/project-notices';
import { projectWords } from '../../words/project';

/** What notices about the open project are about: they go with it. */
export const ABOUT_PROJECT = 'open project';

/** The open project among the other tabs: who writes to it, and what they do to it. */
@Injectable()
export class OtherTabs {
  private readonly projects = inject(Projects);
  private readonly project = inject(OpenProject);
  private readonly autosave = inject(Autosave);
  private readonly notices = inject(ProjectNotices);
  private readonly lock = inject(ProjectLock);
  private watched: Subscription | null = null;
  private isClosed = false;

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.isClosed = true;
      this.watched?.unsubscribe();
    });
  }

  /**
   * Takes the right to write to the project; where another tab has it, says so and offers `copy`, and takes over when that
   * tab is closed, or opens something else.
   * @param reopen opens the project as it is stored.
   */
  async join(copy: () => Promise<void>, reopen: () => Promise<unknown>): Promise<void> {
    const { projectId, name } = this.project.state();
    if (!projectId) return this.lock.drop();
    const isMine = await this.lock.take(projectId);
    if (this.isClosed) return;
    this.watch(projectId);
    if (isMine) return;
    this.notices.show({
      kind: 'info',
      topic: ABOUT_PROJECT,
      text: projectWords.isOpenInAnotherTab(name),
      action: { label: projectWords.makeCopy, run: () => void copy() },
    });
    void this.takeOver(projectId, copy, reopen);
  }

  private async takeOver(
    projectId: string,
    copy: () => Promise<void>,
    reopen: () => Promise<unknown>,
  ): Promise<void> {
    if (!(await this.lock.wait(projectId)) || this.isClosed) return;
    const stored = await this.projects.get(projectId);
    if (this.isClosed || !stored) return;
    const { name, work } = this.project.state();
    const { savedWork } = this.autosave;
    const isAsBefore = compare(stored.work, savedWork()).length === 0;
    const about = ABOUT_PROJECT;
    if (isAsBefore) {
      await this.lock.take(projectId);
      await this.autosave.saveAll();
      this.notices.info(projectWords.isClosedInTheOther(name), about);
    } else if (work === savedWork()) {
      await reopen();
    } else {
      await copy();
      this.notices.info(
        `“${name}” was changed in another tab, too. That version is saved; your changes continue in a copy.`,
        about,
      );
    }
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
          topic: ABOUT_PROJECT,
          text: projectWords.wasDeletedInAnotherTab(name),
          action: { label: projectWords.restore, run: () => void this.keep(projectId) },
        });
      wasThere = isThere;
      if (stored && stored.name !== name && !this.autosave.isAtRisk()) this.project.rename(stored.name);
    });
  }

  private async keep(projectId: string): Promise<void> {
    await this.projects.restore(projectId);
    if (!(await this.projects.get(projectId))) await this.autosave.saveAll();
    this.notices.clear(ABOUT_PROJECT);
  }
}
