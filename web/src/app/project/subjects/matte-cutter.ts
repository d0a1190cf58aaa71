import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import {
  CUT_LONG_EDGE_PX,
  type RgbaImage,
  type GreyImage,
  type Raster,
  type Recipe,
  type Scribble,
  crc32,
  cutRegion,
  frameAt,
} from '@hazy-lens/core';
import { OpenProject } from '../session/open-project';
import { Footage } from '../footage/footage';
import { ProjectNotices } from '../session/project-notices';
import { Projects } from '../../storage/projects';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import type { Picture } from '../../engine/picture';
import { BLANK_MATTE, Rasters } from '../../engine/rasters';
import { reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

/** Longest edge of a matte that is kept: as large as a picture's own detail needs it. */
const LONGEST_MATTE = 8000;

/** A subject as it was cut at a small size, from which its outline at full size is made. */
interface Cut {
  picture: Picture;
  scribbles: readonly Scribble[];
  coarse: RgbaImage;
  inside: GreyImage;
}

/** A subject that is being cut. */
interface Work {
  id: string;
  scribbles: readonly Scribble[];
  /** Of the scribble that asked for it; null where it was still to come when the project was opened. */
  gesture: string | null;
  /** Ends with the name of its outline at full size; null where there is none. */
  done: Promise<string | null>;
  stop: AbortController;
  /** Orders that wait for it: then it goes on when the project closes. */
  orders: number;
}

/** Cuts subjects out of the pictures of one project: a draft at once, the outline at full size soon after. */
@Injectable()
export class MatteCutter {
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly rasters = inject(Rasters);
  private readonly projects = inject(Projects);
  private readonly footage = inject(Footage);
  private readonly notices = inject(ProjectNotices);
  private readonly work = signal<readonly Work[]>([]);
  /** Id of the matte that is being cut, or null. */
  readonly cutting = computed(() => this.work().at(-1)?.id ?? null);
  /** The scribble that is being cut from can still be taken back: nothing came after it. */
  readonly canCancel = computed(() => {
    const gesture = this.work().at(-1)?.gesture ?? null;
    return gesture !== null && this.project.newestStep()?.gesture === gesture;
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      for (const { orders, stop } of this.work()) if (orders === 0) stop.abort();
    });
  }

  /** A recipe of the project when all that is being cut in it just now is there. */
  async settled(recipe: Recipe): Promise<Recipe> {
    const works = this.work().filter(({ id, scribbles }) =>
      recipe.focus.mattes.some((matte) => matte.id === id && matte.scribbles === scribbles),
    );
    if (works.length === 0) return recipe;
    for (const work of works) work.orders++;
    const names = new Map<string, string>();
    for (const { id, done } of works) {
      const name = await done;
      if (name !== null) names.set(id, name);
    }
    const mattes = recipe.focus.mattes.map((matte) => ({
      ...matte,
      image: names.get(matte.id) ?? matte.image,
    }));
    return { ...recipe, focus: { ...recipe.focus, mattes } };
  }

  /** Stops what is being cut, and takes the scribble back that asked for it. */
  cancel(): void {
    const last = this.work().at(-1);
    if (!last?.gesture || !this.canCancel()) return;
    last.stop.abort();
    this.project.abandon(last.gesture);
  }

  /** Cuts a matte anew from its scribbles; the result joins the gesture that drew the last of them. */
  async cut(id: string, scribbles: readonly Scribble[], label: string, gesture: string): Promise<void> {
    const picture = this.renderLoop.picture();
    if (picture) await this.cutFrom(picture, id, scribbles, label, gesture);
  }

  private cutFrom(
    picture: Picture,
    id: string,
    scribbles: readonly Scribble[],
    label: string,
    gesture?: string,
  ): Promise<void> {
    return this.run(id, scribbles, gesture ?? null, async (signal) => {
      const cut = await this.cutInside(picture, scribbles, signal);
      const name = matteName(scribbles);
      const scale = cut.coarse.width / (cutRegion(scribbles).width * picture.width);
      const draft = await this.refined(name, cut, cut.coarse, scale, signal);
      const isWanted = (): boolean => this.isWanted(id, scribbles);
      // A step back may have taken the scribble away meanwhile.
      if (!isWanted()) return null;
      // It is stored before the recipe names it: a reload must find it.
      await this.rasters.put(name, draft, await this.rasters.remote.encode(draft.levels[0], 8), true);
      if (!isWanted()) return null;
      this.project.edit(
        label,
        ({ focus }) => focus.mattes.filter((one) => one.id === id).forEach((one) => (one.image = name)),
        gesture,
      );
      await this.finish(name, cut, signal);
      return name;
    });
  }

  /** Makes what was still to come when the project was closed: subjects not cut yet, and outlines at full size. */
  async finishDrafts(): Promise<void> {
    for (const { id, image, scribbles, at } of this.project.recipe().focus.mattes) {
      if (scribbles.length === 0) continue;
      const isCut = isCutFrom(image, scribbles);
      if (isCut && !(await this.projects.isDraft(image))) continue;
      const picture = await this.pictureAt(at);
      if (!picture) continue;
      if (isCut)
        await this.run(id, scribbles, null, async (signal) => {
          await this.finish(image, await this.cutInside(picture, scribbles, signal), signal);
          return image;
        });
      else await this.cutFrom(picture, id, scribbles, 'subject: cut out');
    }
  }

  /** The still, or the frame of footage at a time: what a matte was cut on. */
  private async pictureAt(time: number | undefined): Promise<Picture | null> {
    const material = this.renderLoop.material();
    if (time === undefined || !material?.footage) return this.renderLoop.picture();
    return material.frame(frameAt(this.footage.times(), time));
  }

  private isWanted(id: string, scribbles: readonly Scribble[]): boolean {
    const matte = this.project.recipe().focus.mattes.find((one) => one.id === id);
    return matte?.scribbles === scribbles;
  }

  private async run(
    id: string,
    scribbles: readonly Scribble[],
    gesture: string | null,
    cut: (signal: AbortSignal) => Promise<string | null>,
  ): Promise<void> {
    const stop = new AbortController();
    const done = cut(stop.signal).catch((error: Error) => {
      if (error.name !== 'AbortError')
        this.notices.error(projectWords.theSubjectCouldntBeCut(reasonOf(error)));
      return null;
    });
    const entry: Work = { id, scribbles, gesture, done, stop, orders: 0 };
    this.work.update((list) => [...list, entry]);
    await done;
    this.work.update((list) => list.filter((one) => one !== entry));
  }

  private async cutInside(
    picture: Picture,
    scribbles: readonly Scribble[],
    signal: AbortSignal,
  ): Promise<Cut> {
    const window = cutRegion(scribbles);
    const coarse = await picture.pixels(this.renderLoop.pool, window, CUT_LONG_EDGE_PX);
    return {
      picture,
      scribbles,
      coarse,
      inside: await this.rasters.until(signal).cut(coarse, scribbles, window),
    };
  }

  /** The outline at full size, under the name of its draft. */
  private async finish(name: string, cut: Cut, signal: AbortSignal): Promise<void> {
    const { picture } = cut;
    const window = cutRegion(cut.scribbles);
    const finest = Math.min(1, LONGEST_MATTE / Math.max(picture.width, picture.height));
    const longEdge = finest * Math.max(window.width * picture.width, window.height * picture.height);
    const pixels = await picture.pixels(this.renderLoop.pool, window, longEdge);
    const fine = await this.refined(name, cut, pixels, finest, signal);
    const raster: Raster = { ...fine, id: `${name} fine` };
    await this.rasters.put(name, raster, await this.rasters.remote.encode(raster.levels[0], 8));
  }

  private refined(
    name: string,
    { picture, scribbles, coarse, inside }: Cut,
    pixels: RgbaImage,
    by: number,
    signal: AbortSignal,
  ) {
    return this.rasters.until(signal).refine(name, inside, coarse, pixels, cutRegion(scribbles), {
      width: Math.round(picture.width * by),
      height: Math.round(picture.height * by),
    });
  }
}

/** What scribbles a matte was cut from, in short. */
function markOf(scribbles: readonly Scribble[]): string {
  const lines = scribbles.map(({ inside, radius, points }) => [inside, radius, points]);
  return crc32(new TextEncoder().encode(JSON.stringify(lines)))
    .toString(16)
    .padStart(8, '0');
}

function matteName(scribbles: readonly Scribble[]): string {
  return `matte-${crypto.randomUUID()}-${markOf(scribbles)}.png`;
}

/** False where a matte is not, or no longer, what its scribbles ask for; mattes of other names are what they are. */
function isCutFrom(image: string, scribbles: readonly Scribble[]): boolean {
  const mark = /-([0-9a-f]{8})\.png$/.exec(image)?.[1];
  return image !== BLANK_MATTE && (mark === undefined || mark === markOf(scribbles));
}
