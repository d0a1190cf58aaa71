import { Injectable, inject } from '@angular/core';
import {
  type Metadata,
  NO_METADATA,
  type Recipe,
  type Timeline,
  flickerGains,
  soundSpeed,
  mendsIn,
  safeName,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import type { ExportSource } from '../../engine/export';
import { Brightness } from '../../engine/footage/brightness';
import { NoiseMeasurer } from '../../engine/footage/noise-measurer';
import type { Sound } from '../../engine/footage/sound';
import type { MediaSource } from '../../engine/media-source';
import { metadataOf } from '../../engine/metadata-of';
import { StillMender } from '../../engine/still-mender';
import { Rasters } from '../../engine/rasters';
import { RecipeAssetLoader } from '../../engine/recipe-asset-loader';
import type { FilmInput } from '../../jobs/film';
import type { FarmInput } from '../../jobs/farm-exports';
import { AdvisedError } from '../../model/causes';
import { type Held, held } from '../../jobs/held';
import type { ExportInput } from '../../jobs/picture-order';
import type { SourceInfo } from '../../model/project';
import { Projects } from '../../storage/projects';
import { Footage } from '../footage/footage';
import { MatteCutter } from '../subjects/matte-cutter';
import { OpenProject } from './open-project';
import { projectWords } from '../../words/project';

/**
 * Hands out all that files of the project are made of, as it is now. What is asked for is taken before the first wait,
 * and made ready from that alone: whatever is changed or opened meanwhile, the file is of what was ordered.
 */
@Injectable()
export class ExportInputs {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly assetLoader = inject(RecipeAssetLoader);
  private readonly cutter = inject(MatteCutter);
  private readonly mender = inject(StillMender);
  private readonly brightness = inject(Brightness);
  private readonly noise = inject(NoiseMeasurer);
  private readonly projects = inject(Projects);
  private readonly footage = inject(Footage);
  private readonly rasters = inject(Rasters);

  /** Picture, recipe and what the recipe names. @throws Error where nothing is open. */
  source(): Promise<ExportSource> {
    const { ready, letGo } = this.sourceNow();
    return ready.finally(letGo);
  }

  private sourceNow(): Held<ExportSource> {
    const material = this.footage.material();
    const guide = this.renderLoop.guide();
    if (!material || !guide) throw new Error(projectWords.thereIsNoPictureOpen);
    const recipe = this.project.recipe();
    const index = material.footage ? this.footage.frame() : 0;
    const ready = async (): Promise<ExportSource> => {
      const settled = await this.cutter.settled(recipe);
      const frame = await material.frame(index);
      const still = material.footage
        ? null
        : await this.mender.of(frame, mendsIn(settled), new AbortController().signal);
      const picture = still ?? frame;
      const companions = await this.assetLoader.of(settled, guide, still);
      return { picture, recipe: settled, companions };
    };
    return held(ready(), material.hold());
  }

  /** All that a film of the project is made of. @throws Error where no footage is open. */
  film(): Held<FilmInput> {
    const material = this.footage.material();
    const guide = this.renderLoop.guide();
    if (!material?.footage || !guide) throw new Error(projectWords.thereIsNoFootageOpen);
    const recipe = this.project.keyed();
    const timeline = this.footage.timeline();
    const times = this.footage.times();
    const { projectId } = this.project.state();
    const source = this.project.source();
    const rate = this.footage.isNumbered() ? this.footage.rate() : null;
    const open = this.renderLoop.material()!;
    const ready = async (): Promise<FilmInput> => {
      const settled = await this.cutter.settled(recipe);
      const companions = await this.assetLoader.of(settled, guide, null);
      const { on, deflicker } = settled.pace;
      const lights =
        on && deflicker.amount > 0
          ? [...flickerGains(await this.brightness.of(open), times, deflicker)]
          : null;
      const sound = await this.sound(material, source, settled, timeline);
      return {
        source: {
          material,
          recipe: settled,
          times,
          timeline,
          companions,
          lights,
          sound,
          noise: this.noise.of(material),
          repeatsUnread: false,
        },
        projectId,
        rate,
      };
    };
    return held(ready(), material.hold());
  }

  /** All that a farm makes a film of the project from. @throws Error where no footage is open. */
  farm(): Promise<FarmInput> {
    const material = this.footage.material();
    const source = this.project.source();
    if (!material?.footage || !source) throw new Error(projectWords.thereIsNoFootageOpen);
    const recipe = this.project.keyed();
    const rate = this.footage.isNumbered() ? this.footage.rate() : null;
    const ready = async (): Promise<FarmInput> => {
      const [settled, footage] = await Promise.all([
        this.cutter.settled(recipe),
        this.projects.picture(source),
      ]);
      if (!footage) throw new AdvisedError(projectWords.theFootage);
      const fileOf = (name: string): Promise<Blob> => this.rasters.file(name);
      return { footage, name: safeName(source.fileName || 'footage'), recipe: settled, rate, fileOf };
    };
    return ready();
  }

  private async sound(
    material: MediaSource,
    source: SourceInfo | null,
    { pace }: Recipe,
    { from, to }: Timeline,
  ): Promise<Sound | null> {
    const speed = soundSpeed(pace);
    if (!material.footage?.sound || !source || speed === null) return null;
    const file = await this.projects.picture(source).catch(() => null);
    return file && { file, from, to, speed };
  }

  /** What a picture is made of, with what the source's file says of itself. @throws Error where nothing is open. */
  take(): Held<ExportInput> {
    const metadata = this.metadata();
    const { ready, letGo } = this.sourceNow();
    return held(
      ready.then(async (source) => ({ ...source, metadata: await metadata })),
      letGo,
    );
  }

  private async metadata(): Promise<Metadata> {
    const source = this.project.source();
    if (!source || source.footage) return NO_METADATA;
    const file = await this.projects.picture(source).catch(() => null);
    return file ? metadataOf(file) : NO_METADATA;
  }
}
