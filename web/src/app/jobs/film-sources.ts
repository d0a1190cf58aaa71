import { Injectable, inject } from '@angular/core';
import { evenTimes, meantRate, parseRecipe, soundSpeed, timelineOf } from '@hazy-lens/core';
import { FrameMender } from '../engine/footage/frame-mender';
import { mendedFootage } from '../engine/footage/mended-footage';
import { NoiseMeasurer } from '../engine/footage/noise-measurer';
import type { FilmSource } from '../engine/footage/render-frames';
import { MediaLoader } from '../engine/load';
import { RecipeAssetLoader } from '../engine/recipe-asset-loader';
import type { StoredFilm } from '../storage/clip-repository';
import { requestRead } from '../storage/file-handles';
import { Projects } from '../storage/projects';
import { queueWords } from '../words/queue';

const GONE = queueWords.itsFootageIsNoLonger;
const OUTSIDE = queueWords.itsFootageIsAFile;

/** Brings back what a film is made of that a window left unfinished. */
@Injectable({ providedIn: 'root' })
export class FilmSources {
  private readonly projects = inject(Projects);
  private readonly loader = inject(MediaLoader);
  private readonly assetLoader = inject(RecipeAssetLoader);
  private readonly frameMender = inject(FrameMender);
  private readonly noise = inject(NoiseMeasurer);

  /** Asks whether footage may be read that lies outside of the browser. */
  async askFor({ projectId }: StoredFilm): Promise<void> {
    const project = await this.projects.get(projectId);
    const place = project && (await this.projects.placeOf(project.source));
    if (place) await requestRead(place);
  }

  /** All that a film is made of, from the project that it is of. @throws Error with a sentence where that cannot be read. */
  async of(film: StoredFilm): Promise<FilmSource> {
    const project = await this.projects.get(film.projectId);
    if (!project) throw new Error(GONE);
    const { source } = project;
    const file = await this.projects.picture(source);
    if (!file) throw new Error((await this.projects.placeOf(source)) ? OUTSIDE : GONE);
    const recipe = parseRecipe(film.recipe);
    const { material } = await this.loader.load(file, source.fileName, source.footage?.fps);
    if (!material.footage) throw new Error(queueWords.isntFootage(source.fileName));
    const own = material.footage.times;
    const times = film.rate ? evenTimes(own.starts.length, meantRate(film.rate)) : own;
    const timeline = timelineOf(recipe.pace, times);
    const { from, to } = timeline;
    const speed = soundSpeed(recipe.pace);
    const mended = mendedFootage(material, recipe, times, this.frameMender, true);
    return {
      material: mended,
      recipe,
      times,
      timeline,
      companions: await this.assetLoader.of(recipe, await material.frame(0), null),
      lights: film.lights,
      noise: this.noise.of(mended),
      repeatsUnread: film.repeatsUnread,
      sound: material.footage.sound && speed !== null ? { file, from, to, speed } : null,
    };
  }
}
