import { distinctNames, safeName } from '@hazy-lens/core';
import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import {
  MAT_DIALOG_DATA,
  type MatDialog,
  MatDialogClose,
  MatDialogContent,
  MatDialogRef,
  MatDialogTitle,
} from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { fileSave } from 'browser-fs-access';
import { zipOf } from '../engine/zip-of';
import { DEMO_PICTURES, type DemoPicture } from '../project/session/demo';
import { OpenProject } from '../project/session/open-project';
import { withErrorNotice } from '../project/session/report-errors';
import { Notices } from '../project/session/notices';
import { ProjectLock } from '../project/saving/project-lock';
import { ProjectOpener } from '../project/session/project-opener';
import type { StoredProject } from '../storage/rows';
import { type DamagedProject, DamagedProjects } from '../storage/quarantine';
import { ProjectBundles } from '../storage/bundles';
import { StorageUsage } from '../storage/usage';
import { Autosave } from '../project/saving/autosave';
import { bytesText } from '../model/bytes-text';
import { reasonOf } from '../model/causes';
import { Projects } from '../storage/projects';
import { signalFrom } from '../ui/from-observable';
import { NameField } from '../ui/name-field';
import { BlobImage } from './blob-image';
import { RecipeCards } from './recipe-cards';
import { counted } from '../model/counted';
import { shelfWords } from '../words/shelf';

const BUNDLE_EXTENSION = '.project.zip';

type Showing = 'projects' | 'recipes';

/** Opens the shelf, at its projects where nothing is said. */
export function openShelf(dialog: MatDialog, showing: Showing = 'projects'): void {
  dialog.open(Shelf, { width: '1000px', maxWidth: '94vw', ariaLabel: shelfWords.shelf, data: { showing } });
}

/** All projects with their pictures, the recipes, and the demo pictures to start from. */
@Component({
  selector: 'hl-shelf',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatIcon,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    NameField,
    BlobImage,
    RecipeCards,
  ],
  templateUrl: './shelf.html',
  styleUrl: './shelf.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shelf {
  protected readonly words = shelfWords;
  private readonly project = inject(OpenProject);
  protected readonly openId = computed(() => this.project.state().projectId);
  private readonly projects = inject(Projects);
  private readonly damagedProjects = inject(DamagedProjects);
  private readonly opener = inject(ProjectOpener);
  private readonly bundles = inject(ProjectBundles);
  private readonly usage = inject(StorageUsage);
  private readonly autosave = inject(Autosave);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private readonly dialog = inject<MatDialogRef<Shelf>>(MatDialogRef);
  protected readonly showing = signal(
    inject<{ showing: Showing } | null>(MAT_DIALOG_DATA, { optional: true })?.showing ?? 'projects',
  );
  protected readonly demos = DEMO_PICTURES;
  protected readonly kept = signalFrom<{
    all: readonly StoredProject[];
    removed: readonly StoredProject[];
  } | null>(this.projects.shelf(), null);
  protected readonly damaged = signalFrom<readonly DamagedProject[]>(this.damagedProjects.watch(), []);
  /** Read anew whenever the shelf changes. */
  protected readonly storage = resource({
    params: () => this.kept(),
    loader: () => this.usage.read(),
  });
  protected readonly bytes = bytesText;
  protected readonly isSaving = signal(false);
  protected readonly renaming = signal<string | null>(null);

  protected readonly count = computed(() => {
    const count = this.kept()?.all.length ?? 0;
    return counted(count, 'project');
  });

  protected when(project: StoredProject): string {
    return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(
      project.changed,
    );
  }

  protected async open(project: StoredProject): Promise<void> {
    this.dialog.close();
    if (project.id !== this.project.state().projectId) await this.opener.openProject(project.id);
  }

  protected async openDemo(demo: DemoPicture): Promise<void> {
    this.dialog.close();
    await this.opener.openDemo(demo);
  }

  protected async rename(project: StoredProject, name: string): Promise<void> {
    await this.change(() => this.projects.rename(project.id, name));
    if (project.id === this.openId()) this.project.rename(name);
  }

  protected duplicate(project: StoredProject): Promise<void> {
    return this.change(() => this.projects.duplicate(project.id));
  }

  protected size({ source }: StoredProject): string {
    return bytesText(source.bytes);
  }

  protected saveBundle(project: StoredProject): Promise<void> {
    return this.change(async () => {
      const fileName = safeName(project.name) + BUNDLE_EXTENSION;
      // The picker is asked for while the click is fresh.
      const pack = async (): Promise<Blob> => {
        await this.autosave.save();
        return zipOf(await this.bundles.files(project.id));
      };
      await fileSave(pack(), { fileName, extensions: ['.zip'] });
    });
  }

  /** All projects in one zip, each as a bundle; one that cannot be saved is told, and the others are. */
  protected async saveAll(): Promise<void> {
    this.isSaving.set(true);
    await this.change(async () => {
      const all = this.kept()?.all ?? [];
      const files: { name: string; file: Blob }[] = [];
      const names = distinctNames(all.map(({ name }) => safeName(name)));
      const pack = async (): Promise<Blob> => {
        await this.autosave.save();
        for (const [i, project] of all.entries())
          try {
            files.push({
              name: names[i]! + BUNDLE_EXTENSION,
              file: await zipOf(await this.bundles.files(project.id)),
            });
          } catch (error) {
            this.notices.error(reasonOf(error));
          }
        return zipOf(files);
      };
      await fileSave(pack(), { fileName: shelfWords.hazyLensProjectsZip, extensions: ['.zip'] });
      this.notices.info(shelfWords.ofSaved(files.length, counted(all.length, 'project')));
    });
    this.isSaving.set(false);
  }

  protected remove(project: StoredProject): Promise<void> {
    return this.change(async () => {
      if (await this.lock.isTaken(project.id)) throw new Error(shelfWords.isOpenInAnotherTab(project.name));
      await this.projects.remove(project.id);
    });
  }

  protected restore(project: StoredProject): Promise<void> {
    return this.change(() => this.projects.restore(project.id));
  }

  protected saveDamaged(project: DamagedProject): Promise<void> {
    return this.change(async () => {
      const fileName = `${safeName(project.name)} damaged.zip`;
      await fileSave(zipOf(await this.damagedProjects.files(project)), { fileName, extensions: ['.zip'] });
    });
  }

  protected removeDamaged(project: DamagedProject): Promise<void> {
    return this.change(() => this.damagedProjects.remove(project));
  }

  private change(work: () => Promise<unknown>): Promise<void> {
    return withErrorNotice(this.notices, shelfWords.deleteAProjectToFreeSpace, work);
  }
}
