import { Injectable, effect, inject, signal } from '@angular/core';
import { type Size, type ToneHistogram, sizeWithin, toneHistogram } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Exporter } from '../../engine/export';
import { type RegionReader, tidied } from '../../engine/region-reader';
import { ProjectAssets } from '../../project/session/project-assets';
import { OpenProject } from '../../project/session/open-project';

/** Enough pixels for a histogram, few enough to be made at once. */
const LONG_EDGE = 480;
const REST_MS = 120;

export interface Tones {
  before: ToneHistogram;
  after: ToneHistogram;
}

/** How tones are spread over the open picture, as it came and as it is now. */
@Injectable()
export class TonesOfPicture {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly exporter = inject(Exporter);
  private readonly project = inject(OpenProject);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly made = signal<Tones | null>(null);
  readonly tones = this.made.asReadonly();
  private wanted = 0;
  /** How the picture came: the same as long as it is the same picture. */
  private came: { picture: RegionReader; tones: ToneHistogram } | null = null;

  constructor() {
    effect((onCleanup) => {
      const picture = this.renderLoop.picture();
      const recipe = this.project.calmRecipe();
      const companions = this.projectAssets.now();
      if (!picture) return;
      const timer = setTimeout(() => void this.make({ picture, recipe, companions }), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async make(source: Parameters<Exporter['pixels']>[0]): Promise<void> {
    const turn = ++this.wanted;
    const picture = tidied(source.picture, source.recipe);
    const size = sizeWithin(picture, LONG_EDGE);
    // What cannot be rendered is said by the stage.
    const after = await this.exporter.pixels(source, size).catch(() => null);
    if (!after || turn !== this.wanted) return;
    if (this.came?.picture !== picture)
      this.came = { picture, tones: toneHistogram(await this.before(picture, size)) };
    if (turn === this.wanted) this.made.set({ before: this.came.tones, after: toneHistogram(after.data) });
  }

  private async before(picture: RegionReader, size: Size): Promise<Uint8Array> {
    const { channels, bytes } = picture.readFormat;
    const pixels = new Uint8Array(new SharedArrayBuffer(size.width * size.height * channels * bytes));
    await picture.readRegion(this.renderLoop.pool, { x: 0, y: 0, ...size, picture: size }, pixels);
    return picture.shown(pixels);
  }
}
