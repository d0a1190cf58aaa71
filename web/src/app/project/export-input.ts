import { Injectable, inject } from '@angular/core';
import { type Timeline, keepsSound, readExif } from '@hazy-lens/core';
import { Engine } from '../engine/engine';
import type { ExportSource } from '../engine/export';
import type { Sound } from '../engine/footage/sound';
import type { Material } from '../engine/material';
import type { FilmInput } from '../jobs/films';
import type { ExportInput } from '../jobs/picture-order';
import { Projects } from '../storage/projects';
import { CompanionsSource } from './companions';
import { Footage } from './footage';
import { MatteCutter } from './matte-cutter';
import { Mending } from './mending';
import { OpenProject } from './open-project';

/** Hands out all that files of the open project are made of, as it is now. */
@Injectable({ providedIn: 'root' })
export class ExportInputs {
  private readonly engine = inject(Engine);
  private readonly project = inject(OpenProject);
  private readonly companions = inject(CompanionsSource);
  private readonly cutter = inject(MatteCutter);
  private readonly mending = inject(Mending);
  private readonly projects = inject(Projects);
  private readonly footage = inject(Footage);

  /** Picture, recipe and what the recipe names, when nothing of it is being made any more. */
  async source(): Promise<ExportSource> {
    const picture = this.engine.picture();
    if (!picture) throw new Error('There is no picture open.');
    await this.cutter.settled();
    const companions = await this.companions.settled();
    await this.mending.settled();
    // Cutting may have put the last matte into the recipe, and mending another picture in place of this one.
    return { picture: this.engine.picture() ?? picture, recipe: this.project.recipe(), companions };
  }

  /** All that a film of the open project is made of. */
  async film(): Promise<FilmInput> {
    const material = this.footage.material();
    if (!material?.footage) throw new Error('There is no footage open.');
    const recipe = this.project.keyed();
    const timeline = this.footage.timeline();
    const times = this.footage.times();
    const { projectId } = this.project.state();
    const letGo = material.hold();
    try {
      await this.cutter.settled();
      const companions = await this.companions.settled();
      const lights = await this.footage.lights();
      const sound = await this.sound(material, timeline);
      return {
        source: { material, recipe, times, timeline, companions, lights, sound },
        projectId,
        rate: this.footage.isNumbered() ? this.footage.rate() : null,
      };
    } finally {
      letGo();
    }
  }

  private async sound(material: Material, { from, to }: Timeline): Promise<Sound | null> {
    const source = this.project.source();
    if (!material.footage?.sound || !source || !keepsSound(this.project.keyed().pace)) return null;
    const file = await this.projects.picture(source).catch(() => null);
    return file && { file, from, to };
  }

  /** What a picture is made of, with the EXIF block of the source's file. */
  async take(): Promise<ExportInput> {
    const exif = this.exif();
    return { ...(await this.source()), exif: await exif };
  }

  private async exif(): Promise<Uint8Array | null> {
    const source = this.project.source();
    const file = source && (await this.projects.picture(source).catch(() => null));
    return file ? readExif(new Uint8Array(await file.arrayBuffer())) : null;
  }
}
