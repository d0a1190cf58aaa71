import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogClose, MatDialogContent, MatDialogRef } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { DEMO_PICTURES, type DemoPicture } from '../state/demo';
import { Document } from '../state/document';
import { Notices } from '../state/notices';
import { ProjectLock } from '../state/project-lock';
import { Session } from '../state/session';
import type { StoredProject } from '../storage/database';
import { Projects, isStorageFull } from '../storage/projects';
import { Icon } from '../ui/icon';
import { ObjectUrl } from './object-url';

/** All projects with their pictures, and the demo pictures to start from. */
@Component({
  selector: 'hl-shelf',
  imports: [MatDialogContent, MatDialogClose, MatMenu, MatMenuItem, MatMenuTrigger, Icon, ObjectUrl],
  templateUrl: './shelf.html',
  styleUrl: './shelf.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shelf {
  protected readonly document = inject(Document);
  private readonly projects = inject(Projects);
  private readonly session = inject(Session);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private readonly dialog = inject<MatDialogRef<Shelf>>(MatDialogRef);
  protected readonly demos = DEMO_PICTURES;
  protected readonly all = signal<StoredProject[] | null>(null);
  protected readonly removed = signal<readonly StoredProject[]>([]);
  protected readonly renaming = signal<string | null>(null);

  protected readonly count = computed(() => {
    const count = this.all()?.length ?? 0;
    return count === 1 ? '1 project' : `${count} projects`;
  });

  constructor() {
    void this.reload();
  }

  protected when(project: StoredProject): string {
    return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(
      project.changed,
    );
  }

  protected async open(project: StoredProject): Promise<void> {
    this.dialog.close();
    if (project.id !== this.document.state().projectId) await this.session.openProject(project.id);
  }

  protected async openDemo(demo: DemoPicture): Promise<void> {
    this.dialog.close();
    await this.session.openDemo(demo);
  }

  protected async rename(project: StoredProject, name: string): Promise<void> {
    this.renaming.set(null);
    const wanted = name.trim().slice(0, 120);
    if (!wanted || wanted === project.name) return;
    await this.change(() => this.projects.rename(project.id, wanted));
    if (project.id === this.document.state().projectId) this.document.rename(wanted);
  }

  protected duplicate(project: StoredProject): Promise<void> {
    return this.change(() => this.projects.duplicate(project.id));
  }

  protected remove(project: StoredProject): Promise<void> {
    return this.change(async () => {
      if (await this.lock.isTaken(project.id))
        throw new Error(`“${project.name}” is open in another tab. Please close it there first`);
      await this.projects.remove(project.id);
    });
  }

  protected restore(project: StoredProject): Promise<void> {
    return this.change(() => this.projects.restore(project.id));
  }

  private async change(work: () => Promise<unknown>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(
        isStorageFull(error)
          ? 'The browser has no room left. Delete a project to make room.'
          : `That did not work (${(error as Error).message}).`,
      );
    }
    await this.reload();
  }

  private async reload(): Promise<void> {
    this.all.set(await this.projects.list().catch(() => []));
    this.removed.set(await this.projects.deleted().catch(() => []));
  }
}
