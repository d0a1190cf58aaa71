import { Injectable, inject } from '@angular/core';
import {
  type ExportPreset,
  type Recipe,
  cropOf,
  distinctNames,
  mendsIn,
  namesByPattern,
  neutralRecipe,
  parseRecipe,
  safeName,
  stillFormatOf,
  withParts,
  withoutEnding,
} from '@hazy-lens/core';
import { Exporter, type ExportSource } from '../engine/export';
import { MediaLoader } from '../engine/load';
import { StillMender } from '../engine/still-mender';
import { metadataOf } from '../engine/metadata-of';
import { RecipeAssetLoader } from '../engine/recipe-asset-loader';
import { renderThumbnail } from '../engine/thumbnail';
import {
  BatchRepository,
  type BatchFile,
  type StoredBatch,
  type StoredBatchPicture,
  outputsOf,
} from '../storage/batch-repository';
import { Projects } from '../storage/projects';
import { exportOptions } from './export-options';
import { JobQueue, type Control, type Report } from './job-queue';
import { timeLeft } from './time-left';
import { isStorageFull, sentenceOf } from '../model/causes';
import { locks } from '../storage/locks';
import { queueWords } from '../words/queue';

/** One window at a time renders them. */
/** What finds no room on the disk is tried again so soon. */
const AGAIN_MS = 1500;
const LOCK = 'hazy-lens-batch';

/** What the job that renders them all is called in the queue. */
export const BATCH_JOB = queueWords.batch;

/** One recipe over many pictures: small pictures of them all, and the files that are made of them, one after the other. */
@Injectable({ providedIn: 'root' })
export class BatchRenderer {
  private readonly batch = inject(BatchRepository);
  private readonly projects = inject(Projects);
  private readonly queue = inject(JobQueue);
  private readonly exporter = inject(Exporter);
  private readonly loader = inject(MediaLoader);
  private readonly assetLoader = inject(RecipeAssetLoader);
  private readonly mender = inject(StillMender);
  private preview: Promise<void> = Promise.resolve();
  private running: Promise<void> | null = null;
  /** Ends with the pictures that are being rendered. */
  private rendering: Promise<void> = Promise.resolve();

  /**
   * Goes on with what was being rendered when its window was closed. Where another window renders it just now, that is waited
   * for: it may be closed before all is done.
   */
  async resume(): Promise<void> {
    const isRunning = async (): Promise<boolean> =>
      (await this.batch.get().catch(() => null))?.isRunning === true;
    if (!(await isRunning())) return;
    await locks()
      .request(LOCK, async () => {
        if (await isRunning()) await this.renderNow();
      })
      .catch(() => undefined);
  }

  /** Makes the small pictures that are missing or out of date, until all are there or `signal` says no. */
  showAll(signal: AbortSignal): Promise<void> {
    const shown = this.preview.then(() => this.drawMissing(signal));
    this.preview = shown.catch(() => undefined);
    return shown;
  }

  private async drawMissing(signal: AbortSignal): Promise<void> {
    const batch = await this.batch.get();
    if (!batch) return;
    for (const { index } of await this.batch.pictures()) {
      // What is rendered gets its small picture then: nothing is decoded twice, nor two at once.
      await this.rendering.catch(() => undefined);
      if (signal.aborted) return;
      const picture = await this.batch.picture(index);
      if (!picture || picture.state === 'failed') continue;
      const recipe = await this.recipeOf(batch, picture);
      if (picture.thumbnailOf === keyOf(recipe)) continue;
      await this.orTold(picture, async () => {
        const small = await this.with(picture, recipe, signal, (source) => this.small(source, picture));
        await this.batch.changePicture(index, small);
      });
    }
  }

  /**
   * Renders all pictures that are not made yet, as they are wanted now.
   * @throws the reason where it is cancelled; Error where another window does it.
   */
  async render(): Promise<void> {
    if (this.running) return this.running;
    await locks().request(LOCK, { ifAvailable: true }, (lock) => {
      if (!lock) throw new Error(queueWords.anotherWindowIsRenderingThem);
      return this.renderNow();
    });
  }

  private renderNow(): Promise<void> {
    this.running ??= this.queue
      .work({
        fileName: BATCH_JOB,
        canPause: true,
        make: (report, control) => (this.rendering = this.renderAll(report, control)),
      })
      .finally(async () => {
        this.running = null;
        // Without room it is gone on with after a reload.
        await this.batch.change({ isRunning: false }).catch(() => undefined);
      });
    return this.running;
  }

  private async renderAll(report: Report, control: Control): Promise<void> {
    const batch = await this.batch.get();
    if (!batch) return;
    await this.batch.change({ isRunning: true });
    const all = await this.batch.pictures();
    const started = performance.now();
    let made = 0;
    for (const [i, { index }] of all.entries()) {
      await control.waitWhilePaused();
      report({ says: queueWords.pictureOf(i + 1, all.length), progress: i / all.length });
      const picture = await this.batch.picture(index);
      if (!picture) continue;
      const recipe = await this.recipeOf(batch, picture);
      const outputs = outputsOf(batch.wish);
      // Other names need no other files.
      const of = keyOf([recipe, outputs.map((one) => ({ ...one, pattern: '', clip: null }))]);
      if (picture.state === 'done' && picture.madeOf === of) continue;
      await this.orTold(picture, async () => {
        const made = await this.with(picture, recipe, control.signal, async (source) => ({
          outs: await this.files(source, outputs, picture, control.signal),
          ...(await this.small(source, picture)),
        }));
        const done = { state: 'done', reason: null, madeOf: of, ...made } as const;
        await this.whenThereIsRoom(() => this.batch.changePicture(index, done), report, control);
      });
      made++;
      const share = made / (made + all.length - i - 1);
      report({ remaining: timeLeft(share, performance.now() - started) });
    }
  }

  /** Writes what is made; where the disk is full it waits until there is room, or it is called off. */
  private async whenThereIsRoom(
    write: () => Promise<unknown>,
    report: Report,
    control: Control,
  ): Promise<void> {
    for (;;)
      try {
        return void (await write());
      } catch (error) {
        if (!isStorageFull(error)) throw error;
        report({ says: queueWords.waitingForRoomOnTheDisk, remaining: null });
        await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
        await control.waitWhilePaused();
      }
  }

  /** The small picture of a picture, where the one that is kept is of another recipe. */
  private async small(
    source: ExportSource,
    { thumbnailOf }: StoredBatchPicture,
  ): Promise<Partial<Pick<StoredBatchPicture, 'thumbnail' | 'thumbnailOf'>>> {
    const of = keyOf(source.recipe);
    if (thumbnailOf === of) return {};
    return { thumbnail: await renderThumbnail(this.exporter, source), thumbnailOf: of };
  }

  /** The files of a picture, as they are wanted. */
  private async files(
    source: ExportSource,
    outputs: readonly ExportPreset[],
    { file }: StoredBatchPicture,
    signal: AbortSignal,
  ): Promise<BatchFile[]> {
    const metadata = await metadataOf(file);
    const files: BatchFile[] = [];
    for (const preset of outputs) {
      const options = exportOptions(preset, cropOf(source.recipe, source.picture), metadata);
      const made = await this.exporter.export(source, options, () => undefined, signal);
      files.push({ preset: preset.name, file: made });
    }
    return files;
  }

  /** The recipe of a picture: its own where it was nudged, else what is used of the common one. */
  private async recipeOf(batch: StoredBatch, { projectId, own: made }: StoredBatchPicture): Promise<Recipe> {
    const own = projectId ? await this.projects.get(projectId) : null;
    if (own) return parseRecipe(own.work.recipe);
    if (made?.isWhole) return parseRecipe(made.recipe);
    return commonRecipe({ ...batch, ...made });
  }

  /** Decodes a picture, and works with it and what its recipe names. */
  private async with<T>(
    { file, name }: StoredBatchPicture,
    recipe: Recipe,
    signal: AbortSignal,
    work: (source: ExportSource) => Promise<T>,
  ): Promise<T> {
    const { material } = await this.loader.load(file, name);
    const letGo = material.hold();
    try {
      if (material.footage) throw new Error(queueWords.isFootageOpenTheClip(name));
      const loaded = await material.frame(0);
      const picture = await this.mender.of(loaded, mendsIn(recipe), signal);
      const companions = await this.assetLoader.of(recipe, picture, picture);
      const made = await work({ picture, recipe, companions: companions });
      loaded.releaseTo(this.loader.free);
      return made;
    } finally {
      letGo();
    }
  }

  /** Works on a picture; where it cannot be read, that is noted with it, and the others go on. */
  private async orTold({ index }: StoredBatchPicture, work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if ((error as Error).name === 'AbortError') throw error;
      await this.batch.changePicture(index, { state: 'failed', reason: sentenceOf(error) });
    }
  }

  /** What was made, with the names that the patterns give; what several presets made lies in a folder for each. */
  async made(): Promise<{ name: string; file: Blob }[]> {
    const batch = await this.batch.get();
    const pictures = await this.batch.pictures();
    if (!batch) return [];
    const sources = pictures.map(({ name, own }) => ({
      name: withoutEnding(name),
      file: name,
      recipe: own?.name ?? batch.name,
    }));
    const presets = [...new Set(pictures.flatMap(({ outs }) => outs.map(({ preset }) => preset)))];
    const folders = distinctNames(presets.map(safeName));
    const day = new Date();
    return presets.flatMap((preset, i) => {
      const { pattern } = outputsOf(batch.wish).find(({ name }) => name === preset) ?? batch.wish.settings;
      const names = namesByPattern(pattern, sources, day);
      const folder = presets.length > 1 ? `${folders[i]!}/` : '';
      return pictures.flatMap(({ outs }, k) =>
        outs
          .filter((out) => out.preset === preset)
          // A file is named for what it is, also where another kind is wanted by now.
          .map(({ file }) => ({ name: folder + names[k]! + stillFormatOf(file.type).extension, file })),
      );
    });
  }
}

/** What each picture of a batch gets: the parts of its recipe that are used. */
export function commonRecipe({ recipe, wish }: Pick<StoredBatch, 'recipe' | 'wish'>): Recipe {
  return withParts(neutralRecipe(), parseRecipe(recipe), new Set(wish.parts));
}

/** The same for what is the same: short enough to be kept with each picture. */
function keyOf(value: unknown): string {
  const text = JSON.stringify(value);
  // FNV-1a, twice from different starts.
  const hash = (start: number): number => {
    let h = start;
    for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 16777619);
    return h >>> 0;
  };
  return `${text.length} ${hash(2166136261)} ${hash(40389)}`;
}
