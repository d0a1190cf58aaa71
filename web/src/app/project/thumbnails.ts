import { Injectable, effect, inject } from '@angular/core';
import { sheetOf } from '@hazy-lens/core';
import { Engine } from '../engine/engine';
import { Exporter } from '../engine/export';
import type { Picture } from '../engine/picture';
import { Projects } from '../storage/projects';
import { FocusPicturesSource } from './focus-pictures';
import { OpenProject } from './open-project';
import { ProjectLock } from './project-lock';

const [WIDTH, HEIGHT] = [432, 288];
const REST_MS = 900;

/** Keeps a small picture of the open project for the shelf, made when the hands rest: the whole of it, finished. */
@Injectable({ providedIn: 'root' })
export class Thumbnails {
  private readonly project = inject(OpenProject);
  private readonly engine = inject(Engine);
  private readonly exporter = inject(Exporter);
  private readonly focusPictures = inject(FocusPicturesSource);
  private readonly projects = inject(Projects);
  private readonly lock = inject(ProjectLock);

  constructor() {
    effect((onCleanup) => {
      const picture = this.engine.picture();
      this.project.calmRecipe();
      this.focusPictures.pictures();
      const { projectId } = this.project.state();
      if (!picture || !projectId) return;
      const timer = setTimeout(() => {
        if (this.lock.isMine(projectId)) void this.save(projectId, picture);
      }, REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async save(projectId: string, picture: Picture): Promise<void> {
    const recipe = this.project.recipe();
    const source = { picture, recipe, focusPictures: this.focusPictures.pictures() };
    const sheet = sheetOf(recipe, picture);
    // It fills the small picture: what stands over is cut off.
    const scale = Math.min(1, Math.max(WIDTH / sheet.width, HEIGHT / sheet.height));
    const size = {
      width: Math.max(1, Math.round(sheet.width * scale)),
      height: Math.max(1, Math.round(sheet.height * scale)),
    };
    // A shelf without a picture is no loss: a full storage has been reported by the autosave already.
    try {
      const pixels = await this.exporter.pixels(source, size);
      const small = new OffscreenCanvas(WIDTH, HEIGHT);
      const [left, top] = [Math.round((WIDTH - size.width) / 2), Math.round((HEIGHT - size.height) / 2)];
      small.getContext('2d')!.putImageData(pixels, left, top);
      await this.projects.saveThumbnail(
        projectId,
        await small.convertToBlob({ type: 'image/webp', quality: 0.85 }),
      );
    } catch {
      return;
    }
  }
}
