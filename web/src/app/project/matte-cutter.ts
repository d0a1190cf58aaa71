import { Injectable, computed, inject, signal } from '@angular/core';
import {
  CUT_EDGE,
  type Pixels,
  type Plane,
  type Raster,
  type Scribble,
  cutWindow,
  frameAt,
} from '@hazy-lens/core';
import { OpenProject } from './open-project';
import { Footage } from './footage';
import { Notices } from './notices';
import { Projects } from '../storage/projects';
import { Engine } from '../engine/engine';
import type { Picture } from '../engine/picture';
import { Rasters } from '../engine/rasters';

/** Longest edge of a matte that is kept: as large as a picture's own detail needs it. */
const LONGEST_MATTE = 8000;

/** A subject as it was cut at a small size, from which its outline at full size is made. */
interface Cut {
  picture: Picture;
  scribbles: readonly Scribble[];
  coarse: Pixels;
  inside: Plane;
}

/** Cuts subjects out of the open picture: a draft at once, the outline at full size soon after. */
@Injectable({ providedIn: 'root' })
export class MatteCutter {
  private readonly project = inject(OpenProject);
  private readonly engine = inject(Engine);
  private readonly rasters = inject(Rasters);
  private readonly projects = inject(Projects);
  private readonly footage = inject(Footage);
  private readonly notices = inject(Notices);
  private readonly work = signal<readonly { id: string; done: Promise<void> }[]>([]);
  /** Id of the matte that is being cut, or null. */
  readonly cutting = computed(() => this.work().at(-1)?.id ?? null);

  /** Ends when no subject is being cut any more: an export waits for that. */
  async settled(): Promise<void> {
    while (this.work().length > 0) await Promise.all(this.work().map(({ done }) => done));
  }

  /** Cuts a matte by its scribbles and puts the result into the recipe, in the same step back as the scribble. */
  async cut(id: string, scribbles: readonly Scribble[], label: string, gesture: string): Promise<void> {
    const picture = this.engine.picture();
    if (!picture) return;
    await this.run(id, async () => {
      const cut = await this.cutInside(picture, scribbles);
      // A step back may have taken the scribble away meanwhile, or another project been opened.
      if (!this.isWanted(picture, id, scribbles)) return;
      const name = matteName();
      const scale = cut.coarse.width / (cutWindow(scribbles).width * picture.width);
      const draft = await this.refined(name, cut, cut.coarse, scale);
      // It is stored before the recipe names it: a reload must find it.
      await this.rasters.put(name, draft, await this.rasters.remote.encode(draft.levels[0], 8), true);
      if (!this.isWanted(picture, id, scribbles)) return;
      this.project.edit(
        label,
        ({ focus }) => focus.mattes.filter((one) => one.id === id).forEach((one) => (one.image = name)),
        gesture,
      );
      await this.finish(name, cut);
    });
  }

  /** Makes the outlines at full size that were still to come when the project was closed. */
  async finishDrafts(): Promise<void> {
    for (const { id, image, scribbles, at } of this.project.recipe().focus.mattes)
      if (scribbles.length > 0 && (await this.projects.isDraft(image)))
        await this.run(id, async () => {
          const picture = await this.pictureAt(at);
          if (picture) await this.finish(image, await this.cutInside(picture, scribbles));
        });
  }

  /** The still, or the frame of footage at a time: what a matte was cut on. */
  private async pictureAt(time: number | undefined): Promise<Picture | null> {
    const material = this.engine.material();
    if (time === undefined || !material?.footage) return this.engine.picture();
    return material.frame(frameAt(this.footage.times(), time));
  }

  private isWanted(picture: Picture, id: string, scribbles: readonly Scribble[]): boolean {
    const matte = this.project.recipe().focus.mattes.find((one) => one.id === id);
    return this.engine.picture() === picture && matte?.scribbles === scribbles;
  }

  private async run(id: string, cut: () => Promise<void>): Promise<void> {
    const done = cut().catch((error: Error) =>
      this.notices.error(`The subject could not be cut out (${error.message}). Nothing was changed.`),
    );
    const entry = { id, done };
    this.work.update((list) => [...list, entry]);
    await done;
    this.work.update((list) => list.filter((one) => one !== entry));
  }

  private async cutInside(picture: Picture, scribbles: readonly Scribble[]): Promise<Cut> {
    const window = cutWindow(scribbles);
    const coarse = await picture.pixels(this.engine.pool, window, CUT_EDGE);
    return { picture, scribbles, coarse, inside: await this.rasters.remote.cut(coarse, scribbles, window) };
  }

  /** The outline at full size, under the name of its draft. */
  private async finish(name: string, cut: Cut): Promise<void> {
    const { picture } = cut;
    const window = cutWindow(cut.scribbles);
    const finest = Math.min(1, LONGEST_MATTE / Math.max(picture.width, picture.height));
    const longEdge = finest * Math.max(window.width * picture.width, window.height * picture.height);
    const pixels = await picture.pixels(this.engine.pool, window, longEdge);
    const fine = await this.refined(name, cut, pixels, finest);
    const raster: Raster = { ...fine, id: `${name} fine` };
    await this.rasters.put(name, raster, await this.rasters.remote.encode(raster.levels[0], 8));
  }

  private refined(name: string, { picture, scribbles, coarse, inside }: Cut, pixels: Pixels, by: number) {
    return this.rasters.remote.refine(name, inside, coarse, pixels, cutWindow(scribbles), {
      width: Math.round(picture.width * by),
      height: Math.round(picture.height * by),
    });
  }
}

function matteName(): string {
  return `matte-${crypto.randomUUID()}.png`;
}
