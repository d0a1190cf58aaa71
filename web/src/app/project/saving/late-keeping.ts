import { DestroyRef, Injectable, inject } from '@angular/core';
import type { ProjectDocument } from '../../model/project';
import { Autosave } from './autosave';
import { OpenProject } from '../session/open-project';

/** What could not be kept is tried again so soon. */
const AGAIN_MS = 1500;

/** Puts a project on the shelf that could not be kept when it was opened, as soon as that is possible. */
@Injectable()
export class LateKeeping {
  private readonly project = inject(OpenProject);
  private readonly autosave = inject(Autosave);
  private timer = 0;

  constructor() {
    inject(DestroyRef).onDestroy(() => clearTimeout(this.timer));
  }

  /** @param create stores a project and gives its id. @param kept is called once it is on the shelf. */
  begin(create: (work: ProjectDocument) => Promise<string>, kept: (id: string) => Promise<void>): void {
    this.timer = window.setTimeout(() => void this.attempt(create, kept), AGAIN_MS);
  }

  private async attempt(...[create, kept]: Parameters<LateKeeping['begin']>): Promise<void> {
    const id = await create(this.project.state().work).catch(() => null);
    if (this.project.isClosed()) return;
    if (id === null) return this.begin(create, kept);
    this.project.keptAs(id);
    await kept(id);
    await this.autosave.saveAll();
  }
}
