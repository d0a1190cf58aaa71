import { Injectable, effect, inject } from '@angular/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Exporter } from '../../engine/export';
import type { Picture } from '../../engine/picture';
import { Projects } from '../../storage/projects';
import { ProjectAssets } from '../session/project-assets';
import { OpenProject } from '../session/open-project';
import { ProjectLock } from './project-lock';
import { renderThumbnail } from '../../engine/thumbnail';

const REST_MS = 900;

/** Keeps a small picture of the open project for the shelf, made when the hands rest: the whole of it, finished. */
@Injectable()
export class Thumbnails {
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly exporter = inject(Exporter);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly projects = inject(Projects);
  private readonly lock = inject(ProjectLock);

  constructor() {
    effect((onCleanup) => {
      const picture = this.renderLoop.picture();
      this.project.calmRecipe();
      this.projectAssets.now();
      const { projectId } = this.project.state();
      // It may become this tab's only later.
      if (!picture || !projectId || !this.lock.isMine(projectId)) return;
      const timer = setTimeout(() => void this.save(projectId, picture), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async save(projectId: string, picture: Picture): Promise<void> {
    const source = { picture, recipe: this.project.recipe(), companions: this.projectAssets.now() };
    // A shelf without a picture is no loss: a full storage has been reported by the autosave already.
    try {
      await this.projects.saveThumbnail(projectId, await renderThumbnail(this.exporter, source));
    } catch {
      return;
    }
  }
}
