import { Injectable, inject, signal } from '@angular/core';
import {
  type ClipSettings,
  type Size,
  evenTimes,
  soundSpeed,
  meantRate,
  parseRecipe,
  timelineOf,
  CLIP_FORMATS,
  type ClipFormat,
  bitrateFor,
  clipFormatOf,
} from '@hazy-lens/core';
import {
  type FilmSource,
  encodedFormat,
  renderFrames,
  isTransparent,
  unreadNote,
} from '../engine/footage/render-frames';
import { FrameMender } from '../engine/footage/frame-mender';
import { mendedFootage } from '../engine/footage/mended-footage';
import { NoiseMeasurer } from '../engine/footage/noise-measurer';
import { type FilmOptions, type FilmWriter, filmWriter, pictureName } from '../engine/footage/writers';
import { writeInto } from '../engine/folder';
import { MediaLoader } from '../engine/load';
import { RenderPool } from '../engine/pool';
import { RecipeAssetLoader } from '../engine/recipe-asset-loader';
import { onceMore } from '../engine/watch';
import { type StoredFilm, ClipRepository } from '../storage/clip-repository';
import { requestRead } from '../storage/file-handles';
import { Projects } from '../storage/projects';
import type { Control, FileJobSpec, JobResult, Report, JobSpec } from './job-queue';
import type { Held } from './held';
import { StoredParts, type PartSink, StreamedParts, picturesIn } from './part-sink';
import { timeLeft } from './time-left';
import { locks } from '../storage/locks';
import { queueWords } from '../words/queue';

export interface FilmWish extends Omit<FilmOptions, 'frames' | 'fps' | 'name' | 'sound' | 'isTransparent'> {
  kind: ClipFormat;
  fileName: string;
  /** The frame before takes the place of one that cannot be read; else that ends the film. */
  repeatsUnread: boolean;
}

/** A film as it is wanted, whatever it is called. */
export type NamelessWish = Omit<FilmWish, 'fileName'>;

/** A film by settings, at a size and frames a second. */
export function filmWish(
  { kind: id, holds, quality, rate }: ClipSettings,
  size: Size,
  fps: number,
  repeatsUnread: boolean,
): NamelessWish {
  const kind = clipFormatOf(id);
  const { writer } = kind;
  const isRated = writer.by === 'encoder' && holds === 'bitrate';
  const codec = writer.by === 'encoder' ? writer.codec : 'avc';
  return {
    ...size,
    kind,
    bitrate: isRated ? Math.round(rate * 1e6) : bitrateFor(quality, size, fps, codec),
    holds,
    quality: quality / 100,
    repeatsUnread,
  };
}

/** What a film is made of, and the project that it is of: null for one that is not kept. */
export interface FilmInput {
  source: FilmSource;
  projectId: string | null;
  /** Frames a second of numbered pictures; null for other footage. */
  rate: number | null;
}

/** A film that a window left unfinished. */
export interface UnfinishedClip {
  id: string;
  fileName: string;
  /** Pictures that are made, of how many. */
  made: number;
  frames: number;
}

/** What making a film takes, by a trial. */
export interface FilmEstimate {
  ms: number;
  bytes: number;
}

/** Pictures that an estimate is made from. */
const TRIED = 10;

const GONE = queueWords.itsFootageIsNoLonger;
const OUTSIDE = queueWords.itsFootageIsAFile;

const lockOf = (id: string): string => `hazy-lens-film-${id}`;

/** Makes films part by part. Each part is kept as soon as it is there: what a closed window leaves can be gone on with. */
@Injectable({ providedIn: 'root' })
export class ClipExports {
  private readonly stored = inject(ClipRepository);
  private readonly projects = inject(Projects);
  private readonly loader = inject(MediaLoader);
  private readonly pool = inject(RenderPool);
  private readonly assetLoader = inject(RecipeAssetLoader);
  private readonly frameMender = inject(FrameMender);
  private readonly noise = inject(NoiseMeasurer);
  /** Those that nobody works on. */
  readonly unfinished = signal<readonly UnfinishedClip[]>([]);

  /** Looks again for what was left unfinished. */
  async refresh(): Promise<void> {
    const rows = await this.stored.list().catch(() => []);
    const { held = [] } = await locks().query();
    const isHeld = new Set(held.map(({ name }) => name));
    const free = rows.filter(({ id }) => !isHeld.has(lockOf(id)));
    const all = await Promise.all(free.map((film) => this.leftOf(film)));
    // Of what has no whole part there is nothing to go on with.
    for (const { id, made } of all) if (made === 0) await this.stored.remove(id);
    this.unfinished.set(all.filter(({ made }) => made > 0));
  }

  private async leftOf({ id, fileName, frames }: StoredFilm): Promise<UnfinishedClip> {
    return { id, fileName, frames, made: picturesIn(await this.stored.parts(id)) };
  }

  /** An order for a film; its source is held until it is clear what became of it. */
  order(wish: FilmWish, input: Held<FilmInput>): FileJobSpec {
    const id = crypto.randomUUID();
    let note = '';
    const order = this.orderOf(id, wish.fileName, wish.kind, async (report, control) => {
      const { source, projectId, rate } = wished(await input.ready, wish);
      const film = filmRow(id, wish, source, rate);
      const parts = new StoredParts(this.stored, projectId ? { ...film, projectId } : null, []);
      const made = await this.make(film, source, parts, report, control);
      note = unreadNote(source);
      return made;
    });
    return {
      ...order,
      note: () => note,
      ended: async (outcome) => {
        input.letGo();
        await order.ended?.(outcome);
      },
    };
  }

  /**
   * An order that goes on with what was left unfinished; to be called while a click is fresh, for footage that lies
   * outside of the browser may have to be asked for. @throws Error where it is no longer there.
   */
  async goOn(id: string): Promise<FileJobSpec> {
    const film = await this.filmOf(id);
    await this.askForSource(film);
    let note = '';
    const order = this.orderOf(id, film.fileName, kindOf(film), async (report, control) => {
      const source = await this.sourceOf(film);
      const letGo = source.material.hold();
      try {
        const parts = new StoredParts(this.stored, film, await this.stored.parts(id));
        const made = await this.make(film, source, parts, report, control);
        note = unreadNote(source);
        return made;
      } finally {
        letGo();
      }
    });
    return { ...order, note: () => note };
  }

  /** An order for a file of the pictures that there are. @throws Error where it is no longer there. */
  async asItIs(id: string): Promise<FileJobSpec> {
    const film = await this.filmOf(id);
    const order = this.orderOf(id, film.fileName, kindOf(film), async (report) => {
      report({ says: queueWords.assemblingTheClip });
      const source = await this.sourceOf(film).catch(() => null);
      const writer = await this.writerOf(film, source);
      source?.material.hold()();
      return writer.join((await this.stored.parts(id)).map(({ file }) => file));
    });
    // It can still be gone on with.
    return { ...order, canPause: false, ended: () => this.refresh() };
  }

  async letGo(id: string): Promise<void> {
    await this.stored.remove(id);
    await this.refresh();
  }

  private orderOf(
    id: string,
    fileName: string,
    kind: ClipFormat,
    make: (report: Report, control: Control) => Promise<Blob>,
  ): FileJobSpec {
    return {
      fileName,
      extension: kind.extension,
      label: kind.label,
      canPause: true,
      make: async (report, control) => {
        report({ says: queueWords.preparing });
        return await locks().request(lockOf(id), { ifAvailable: true }, async (lock) => {
          if (!lock) throw new Error(queueWords.anotherWindowIsWorkingOnIt);
          await this.refresh();
          return make(report, control);
        });
      },
      ended: async (outcome: JobResult) => {
        // What failed can be gone on with; what is written, or was called off, is done with.
        if (outcome.kind !== 'failed') await this.stored.remove(id).catch(() => undefined);
        await this.refresh();
      },
    };
  }

  /** Renders the pictures that are missing, and puts all of them together. */
  private async make(
    film: Omit<StoredFilm, 'projectId'>,
    source: FilmSource,
    parts: StoredParts,
    report: Report,
    control: Control,
  ): Promise<Blob> {
    const writer = await onceMore(() => this.render(film, source, parts, report, control));
    return writer.join(await parts.all());
  }

  /** Work that writes numbered pictures into a folder as they are made; gives how many there are, and what ought to be known of them. Who asks for it lets go of the input. */
  intoFolder(
    wish: FilmWish,
    input: Held<FilmInput>,
    folder: FileSystemDirectoryHandle,
  ): JobSpec<{ count: number; note: string }> {
    const { kind, fileName } = wish;
    const name = fileName.replace(/\.[^.]+$/, '');
    return {
      fileName: name,
      canPause: true,
      make: async (report, control) => {
        report({ says: queueWords.preparing });
        if (kind.writer.by !== 'frames') throw new Error(queueWords.onlyFramesAsPictures);
        const { type } = kind.writer;
        const { source, rate } = wished(await input.ready, wish);
        const film = filmRow('', wish, source, rate);
        const { frames } = film;
        const parts = new StreamedParts((i, file) =>
          writeInto(folder, pictureName({ name, frames }, type, i), file),
        );
        await onceMore(() => this.render(film, source, parts, report, control));
        return { count: frames, note: unreadNote(source) };
      },
    };
  }

  /**
   * What a film takes, as far as a few pictures out of its middle tell: they are made, and thrown away. Who asks holds the
   * source. @throws the signal's reason.
   */
  async estimate(
    wish: NamelessWish,
    { source, rate }: FilmInput,
    signal: AbortSignal,
  ): Promise<FilmEstimate> {
    const film = filmRow('', { ...wish, fileName: '' }, source, rate);
    const first = Math.max(0, (film.frames - TRIED) >> 1);
    const frames = Math.min(film.frames, first + TRIED);
    const made = frames - first;
    // What cannot be read is told when the film is made.
    const tried = { ...source, timeline: { ...source.timeline, frames }, repeatsUnread: true };
    let bytes = 0;
    const parts = new StreamedParts(async (_, { size }) => void (bytes += size), first);
    const at: number[] = [performance.now()];
    const control = { signal, waitWhilePaused: async () => signal.throwIfAborted() };
    const hear = (): void => void at.push(performance.now());
    const writer = await this.render({ ...film, frames }, tried, parts, hear, control);
    await writer.cancel();
    // The first pictures also make ready what the others use.
    const from = made >> 1;
    const ms = (at.at(-1)! - at[from]!) / (made - from);
    return {
      ms: ms * film.frames,
      bytes: writer.expectedBytes?.(film.frames) ?? (bytes / made) * film.frames,
    };
  }

  /** Renders the pictures that are missing, part by part. @returns what wrote them. */
  private async render(
    film: Omit<StoredFilm, 'projectId'>,
    source: FilmSource,
    parts: PartSink,
    report: Report,
    control: Control,
  ): Promise<FilmWriter> {
    const writer = await this.writerOf(film, source);
    const { frames } = film;
    try {
      await parts.begin();
      const first = parts.pictures;
      const started = performance.now();
      const pictures = renderFrames(source, film, writer, this.pool, control.signal, control, first);
      for await (const { index, bytes } of pictures) {
        await writer.add(bytes, index);
        const pictures = index + 1 - parts.pictures;
        if (pictures === writer.partLength || index + 1 === frames)
          await parts.add(pictures, writer.endPart());
        const elapsed = performance.now() - started;
        const rate = Math.round(((index + 1 - first) * 1000) / elapsed);
        const share = (index + 1 - first) / (frames - first);
        report({
          says: queueWords.frameOfFps(index + 1, frames, rate),
          progress: (index + 1) / frames,
          remaining: timeLeft(share, elapsed),
        });
      }
      await parts.settled();
      return writer;
    } catch (error) {
      await writer.cancel();
      // What was whole by then is kept, or is there to be removed.
      await parts.settled().catch(() => undefined);
      throw error;
    }
  }

  private writerOf(film: Omit<StoredFilm, 'projectId'>, source: FilmSource | null): Promise<FilmWriter> {
    const name = film.fileName.replace(/\.[^.]+$/, '');
    const planes = source ? encodedFormat(source.material) : ({ matrix: 'bt709', range: 'limited' } as const);
    return filmWriter(
      kindOf(film),
      { ...film, name, sound: source?.sound ?? null, isTransparent: !!source && isTransparent(source) },
      planes,
    );
  }

  private async filmOf(id: string): Promise<StoredFilm> {
    const film = (await this.stored.list()).find((one) => one.id === id);
    if (!film) throw new Error(queueWords.theRenderedPart);
    return film;
  }

  /** Asks whether footage may be read that lies outside of the browser. */
  private async askForSource({ projectId }: StoredFilm): Promise<void> {
    const project = await this.projects.get(projectId);
    const place = project && (await this.projects.placeOf(project.source));
    if (place) await requestRead(place);
  }

  /** All that a film is made of, from the project that it is of. @throws Error with a sentence where that cannot be read. */
  private async sourceOf(film: StoredFilm): Promise<FilmSource> {
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

/** What a film is made of, as it is wanted. */
function wished(input: FilmInput, { repeatsUnread }: FilmWish): FilmInput {
  return { ...input, source: { ...input.source, repeatsUnread } };
}

/** What a film is, as it is kept. */
function filmRow(
  id: string,
  { kind, fileName, width, height, bitrate, holds, quality, repeatsUnread }: FilmWish,
  { recipe, lights, timeline: { frames, fps } }: FilmSource,
  rate: number | null,
): Omit<StoredFilm, 'projectId'> {
  return {
    id,
    fileName,
    kind: kind.id,
    recipe,
    rate,
    lights,
    width,
    height,
    bitrate,
    holds,
    quality,
    repeatsUnread,
    frames,
    fps,
  };
}

/** @throws Error for a kind that there is no more. */
function kindOf({ kind }: { kind: string }): ClipFormat {
  const found = CLIP_FORMATS.find(({ id }) => id === kind);
  if (!found) throw new Error(queueWords.thisClipFormatIsNo);
  return found;
}
