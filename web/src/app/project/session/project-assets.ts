import { DestroyRef, Injectable, computed, effect, inject, signal } from '@angular/core';
import {
  type RecipeAssets,
  type FocusPictures,
  type KeepMask,
  type LayerImage,
  type Matte,
  type Raster,
  carriesMattes,
} from '@hazy-lens/core';
import { OpenProject } from './open-project';
import { ProjectNotices } from './project-notices';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import type { Picture } from '../../engine/picture';
import { LayerImages } from '../../engine/layer-images';
import { LiftedSubjects } from '../../engine/lifted-subjects';
import { LutCache } from '../../engine/lut-cache';
import { LatestTask } from '../../engine/latest-task';
import { Rasters } from '../../engine/rasters';
import { RecipeAssetLoader } from '../../engine/recipe-asset-loader';
import { sentenceOf } from '../../model/causes';

const VIEW_EDGE = 1600;
const NONE: readonly KeepMask[] = [];

/** The files that the open recipe names, decoded and prepared for the stage: pictures at first as it needs them, then at full size. */
@Injectable()
export class ProjectAssets {
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly rasters = inject(Rasters);
  private readonly made = inject(RecipeAssetLoader);
  private readonly luts = inject(LutCache);
  private readonly layerImages = inject(LayerImages);
  private readonly liftedSubjects = inject(LiftedSubjects);
  private readonly notices = inject(ProjectNotices);
  private readonly depth = signal<Raster | null>(null);
  private readonly keep = signal(NONE);
  private readonly tableName = computed(() => this.project.recipe().colour.look?.image);
  /** Other tables that are read change nothing here. */
  private readonly table = computed(() => this.luts.now(this.tableName()));
  /** Those of them that the field is made of. */
  readonly ofFocus = computed<FocusPictures>(() => ({ depth: this.depth(), keep: this.keep() }));
  /** The pictures of the elements, as far as they are read. */
  readonly images = signal<ReadonlyMap<string, LayerImage>>(new Map());
  private readonly imageNames = computed(
    () => [...new Set(this.project.recipe().elements.map(({ image }) => image))],
    { equal: (a, b) => a.join() === b.join() },
  );
  /** The subjects that are lifted off the still in view, as far as they are made. */
  private readonly lifted = signal<RecipeAssets['lifted']>(new Map());
  /** Some are being made. */
  readonly isLifting = signal(false);
  /** Mattes at full size, as they are kept; null while they are not there. */
  private readonly fullKeep = signal<readonly KeepMask[] | null>(null);
  private readonly lifting = new LatestTask<{ keep: readonly KeepMask[]; picture: Picture }>(
    (wish) => this.prepareLifted(wish),
    () => undefined,
  );
  readonly now = computed<RecipeAssets>(() => ({
    ...this.ofFocus(),
    table: this.table(),
    images: this.images(),
    lifted: this.lifted(),
  }));
  private readonly depthInputs = computed(
    () => {
      const { depthMap } = this.project.recipe().focus;
      return { image: depthMap?.image ?? null, align: depthMap?.align ?? 0 };
    },
    { equal: (a, b) => a.image === b.image && a.align === b.align },
  );
  /** Where they are carried to does not change what they are. */
  private readonly mattes = computed(() => this.project.recipe().focus.mattes, { equal: areCut });
  private readonly apart = computed(() => carriesMattes(this.project.keyed()));

  constructor() {
    effect(() => {
      const inputs = this.depthInputs();
      const picture = this.renderLoop.guide();
      this.rasters.replaced();
      void this.prepareDepth(inputs, picture);
    });
    effect(() => {
      const mattes = this.mattes();
      const picture = this.renderLoop.guide();
      this.rasters.replaced();
      void this.prepareKeep(mattes, this.apart(), picture);
    });
    effect(() => void this.prepareImages(this.imageNames()));
    effect(() => {
      const keep = this.fullKeep();
      const picture = this.renderLoop.picture();
      if (!keep || !picture || !this.mattes().some((matte) => matte.on && matte.lifted)) return;
      if (!this.renderLoop.material()?.footage) this.lifting.submit({ keep, picture });
    });
    inject(DestroyRef).onDestroy(() => this.lifting.end());
    effect(() => {
      const name = this.tableName();
      if (name !== undefined)
        this.luts.get(name).catch((error: Error) => this.notices.error(sentenceOf(error)));
    });
  }

  private async prepareImages(names: readonly string[]): Promise<void> {
    for (const name of names) {
      try {
        const image = await this.layerImages.get(name);
        if (names !== this.imageNames()) return;
        this.images.update((images) => new Map([...images, [name, image]]));
      } catch (error) {
        this.notices.error(sentenceOf(error));
      }
    }
    if (names === this.imageNames())
      this.images.update((images) => new Map([...images].filter(([name]) => names.includes(name))));
  }

  private async prepareLifted({
    keep,
    picture,
  }: {
    keep: readonly KeepMask[];
    picture: Picture;
  }): Promise<void> {
    this.isLifting.set(true);
    try {
      this.lifted.set(await this.liftedSubjects.of(this.mattes(), keep, picture));
    } catch (error) {
      this.notices.error(sentenceOf(error));
    } finally {
      this.isLifting.set(false);
    }
  }

  private async prepareDepth(
    inputs: { image: string | null; align: number },
    picture: Picture | null,
  ): Promise<void> {
    const isNewest = (): boolean => inputs === this.depthInputs();
    if (!inputs.image || !picture) return this.depth.set(null);
    try {
      const map = await this.made.depth(inputs.image, inputs.align, picture);
      if (isNewest()) this.depth.set(map);
    } catch (error) {
      this.notices.error(sentenceOf(error));
      if (isNewest()) this.depth.set(null);
    }
  }

  private async prepareKeep(mattes: Matte[], apart: boolean, picture: Picture | null): Promise<void> {
    const isNewest = (): boolean => mattes === this.mattes() && apart === this.apart();
    this.fullKeep.set(null);
    if (!picture || !mattes.some(({ on }) => on)) return this.keep.set(NONE);
    try {
      const full = Math.max(picture.width, picture.height);
      for (const edge of full > VIEW_EDGE ? [VIEW_EDGE, full] : [full]) {
        if (!isNewest()) return;
        const keep = await this.made.keep(mattes, edge, apart);
        if (isNewest()) this.keep.set(keep);
        if (isNewest() && edge === full) this.fullKeep.set(keep);
      }
    } catch (error) {
      this.notices.error(sentenceOf(error));
      if (isNewest()) this.keep.set(NONE);
    }
  }
}

/** Where a subject went, and where it stands, says nothing of its outline. */
const OF_PLACE: ReadonlySet<keyof Matte> = new Set(['carry', 'foot']);

/** True for mattes that are cut, shaped and joined the same way. */
function areCut(before: readonly Matte[], now: readonly Matte[]): boolean {
  return before.length === now.length && before.every((one, i) => isCutAs(one, now[i]!));
}

function isCutAs(one: Matte, other: Matte): boolean {
  return (Object.keys(one) as (keyof Matte)[]).every((key) => OF_PLACE.has(key) || one[key] === other[key]);
}
