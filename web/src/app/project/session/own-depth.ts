import { Injectable, inject } from '@angular/core';
import {
  type DepthInside,
  depthInBoxes,
  depthInside,
  depthMapSchema,
  makeRaster,
  nearerBrighter,
  readMetadata,
} from '@hazy-lens/core';
import { unzlibSync } from 'fflate';
import { decodeGrey } from '../../engine/codecs/codec';
import { Rasters } from '../../engine/rasters';
import { sentenceOf } from '../../model/causes';
import { Projects } from '../../storage/projects';
import type { SourceInfo } from '../../model/project';
import type { DecodedGrey } from '../../engine/codecs/messages';
import { OpenProject } from './open-project';
import { ProjectNotices } from './project-notices';
import { projectWords } from '../../words/project';

const ABOUT = 'own depth';

/** The depth map that the open picture brings inside of its own file. */
@Injectable()
export class OwnDepth {
  private readonly project = inject(OpenProject);
  private readonly projects = inject(Projects);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(ProjectNotices);
  private found: Promise<DepthInside | null> | null = null;

  /** Says that there is one, and offers it. */
  async offer(): Promise<void> {
    if (!(await this.look()) || this.project.recipe().focus.depthMap) return;
    this.notices.show({
      kind: 'info',
      topic: ABOUT,
      text: projectWords.theFileHasADepth,
      action: { label: projectWords.useDepthMap, run: () => void this.use() },
    });
  }

  /** What is inside of the file; null where nothing is. */
  private look(): Promise<DepthInside | null> {
    return (this.found ??= this.read().catch(() => null));
  }

  private async read(): Promise<DepthInside | null> {
    const source = this.project.source();
    if (source?.type !== 'jpeg' && source?.type !== 'heic') return null;
    const file = await this.projects.picture(source);
    if (!file) return null;
    const bytes = new Uint8Array(await file.arrayBuffer());
    return source.type === 'heic' ? depthInBoxes(bytes) : depthInside(bytes, readMetadata(bytes, unzlibSync));
  }

  private async decode({ picture }: DepthInside, source: SourceInfo): Promise<DecodedGrey> {
    const name = projectWords.theDepthMapIn(source.fileName);
    if ('file' in picture) return decodeGrey(new Blob([picture.file.slice()]), name);
    return decodeGrey((await this.projects.picture(source))!, name, picture.item);
  }

  /** Makes it the depth map of the recipe. @returns false where there is none, or it cannot be used, which is told. */
  async use(): Promise<boolean> {
    const inside = await this.look();
    const source = this.project.source();
    if (!inside || !source) return false;
    this.notices.clear(ABOUT);
    try {
      const grey = await this.decode(inside, source);
      nearerBrighter(grey.samples, inside);
      const name = `depth-${crypto.randomUUID()}.png`;
      const { width, height, samples } = grey;
      const raster = makeRaster(name, width, height, samples);
      await this.rasters.put(name, raster, await this.rasters.remote.encode(raster.levels[0], 16));
      this.project.edit(projectWords.depthMapOfTheFile, ({ focus }) => {
        if (focus.depthMap) focus.depthMap.image = name;
        else focus.depthMap = depthMapSchema.parse({ image: name });
      });
      return true;
    } catch (error) {
      this.notices.error(sentenceOf(error));
      return false;
    }
  }
}
