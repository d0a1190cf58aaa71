import { Injectable, inject } from '@angular/core';
import { Document } from '../state/document';
import { ProjectLock } from '../state/project-lock';
import { Projects } from './projects';

const [WIDTH, HEIGHT] = [432, 288];
const REST_MS = 900;

/** Keeps a small picture of the open project for the shelf, taken when the hands rest. */
@Injectable({ providedIn: 'root' })
export class Thumbnails {
  private readonly document = inject(Document);
  private readonly projects = inject(Projects);
  private readonly lock = inject(ProjectLock);
  private timer = 0;

  keep(canvas: HTMLCanvasElement): void {
    clearTimeout(this.timer);
    const { projectId } = this.document.state();
    this.timer = window.setTimeout(() => {
      if (projectId === this.document.state().projectId && this.lock.isMine(projectId))
        void this.save(projectId!, canvas);
    }, REST_MS);
  }

  private async save(projectId: string, canvas: HTMLCanvasElement): Promise<void> {
    const small = new OffscreenCanvas(WIDTH, HEIGHT);
    const scale = Math.max(WIDTH / canvas.width, HEIGHT / canvas.height);
    const [width, height] = [canvas.width * scale, canvas.height * scale];
    const context = small.getContext('2d')!;
    context.imageSmoothingQuality = 'high';
    context.drawImage(canvas, (WIDTH - width) / 2, (HEIGHT - height) / 2, width, height);
    const blob = await small.convertToBlob({ type: 'image/webp', quality: 0.85 });
    // A shelf without a picture is no loss: a full storage has been reported by the autosave already.
    await this.projects.saveThumbnail(projectId, blob).catch(() => undefined);
  }
}
