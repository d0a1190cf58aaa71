import { DestroyRef, Injectable, computed, effect, inject, signal } from '@angular/core';
import { SCENE_LONG_EDGE_PX, type SceneReading } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { LatestTask } from '../../engine/latest-task';
import type { Picture } from '../../engine/picture';
import { Rasters } from '../../engine/rasters';

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** What is read of the open picture before anything is set, once somebody wants to know it. */
@Injectable()
export class SuitReading {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly rasters = inject(Rasters);
  private readonly isWanted = signal(false);
  private readonly read = signal<{ of: Picture; suit: SceneReading | null } | null>(null);
  /** Of the picture that is open; null until it is read, and where it cannot be. */
  readonly suit = computed(() =>
    this.read()?.of === this.renderLoop.guide() ? (this.read()?.suit ?? null) : null,
  );
  readonly failed = computed(() => this.read()?.of === this.renderLoop.guide() && !this.suit());

  constructor() {
    const newest = new LatestTask<Picture>(
      (picture) => this.readPicture(picture),
      () => undefined,
    );
    inject(DestroyRef).onDestroy(() => newest.end());
    effect(() => {
      const picture = this.renderLoop.guide();
      if (picture && this.isWanted()) newest.submit(picture);
    });
  }

  /** Has it read, from now on of every picture that comes. */
  want(): void {
    this.isWanted.set(true);
  }

  private async readPicture(picture: Picture): Promise<void> {
    const suit = await picture
      .pixels(this.renderLoop.pool, WHOLE, SCENE_LONG_EDGE_PX)
      .then((pixels) => this.rasters.remote.suit(pixels))
      .catch(() => null);
    this.read.set({ of: picture, suit });
  }
}
