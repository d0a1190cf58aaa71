import { Injectable, effect, inject, signal } from '@angular/core';
import { type Noise, measureNoise } from '@hazy-lens/core';
import { Engine } from '../../engine/engine';
import { type CutPicture, onSheet } from '../../engine/cut-picture';
import { OpenProject } from '../../project/open-project';

/** The middle of the picture at full size is enough, and no more than this of it. */
const MOST_PIXELS = 1600;

/** How noisy the open picture came, by brightness; null until it is measured. */
@Injectable()
export class NoiseOfPicture {
  private readonly engine = inject(Engine);
  private readonly project = inject(OpenProject);
  private newest: CutPicture | null = null;
  private readonly measured = signal<Noise | null>(null);
  readonly noise = this.measured.asReadonly();

  constructor() {
    effect(() => {
      const picture = this.engine.picture();
      const tidy = this.project.sheet();
      if (picture) void this.measure(onSheet(picture, tidy));
    });
  }

  private async measure(picture: CutPicture): Promise<void> {
    this.newest = picture;
    const [width, height] = [
      Math.min(1, MOST_PIXELS / picture.width),
      Math.min(1, MOST_PIXELS / picture.height),
    ];
    const window = { x: (1 - width) / 2, y: (1 - height) / 2, width, height };
    // What cannot be read is said by the stage.
    const part = await picture.pixels(this.engine.pool, window, Infinity).catch(() => null);
    if (!part || picture !== this.newest) return;
    const { channels } = picture.cutFormat;
    this.measured.set(measureNoise(Uint8Array.from(part.data), { channels, bytes: 1 }, part));
  }
}
