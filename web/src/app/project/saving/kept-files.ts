import { referencedFiles } from '@hazy-lens/core';
import { Injectable, Injector, inject } from '@angular/core';
import { Assets } from '../../engine/assets';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { MediaLoader } from '../../engine/load';
import type { Project } from '../../model/project';
import { Projects } from '../../storage/projects';

/** The files that an open project stands on: they are still at hand where the browser has lost what it kept. */
@Injectable()
export class KeptFiles {
  private readonly injector = inject(Injector);
  private readonly projects = inject(Projects);

  /** Puts back those that are no longer stored. */
  async putBack({ source, work }: Project): Promise<void> {
    const material = this.injector.get(StageRenderLoop).material();
    const file = material && this.injector.get(MediaLoader).fileOf(material);
    if (source && file) await this.projects.keepSource(source, file);
    await this.injector.get(Assets).putBack(referencedFiles(work.recipe));
  }
}
