import { Injectable, inject, signal } from '@angular/core';
import type { ClipFormat } from '@hazy-lens/core';
import { type FilmSource, unreadNote } from '../engine/footage/render-frames';
import { pictureName } from '../engine/footage/writers';
import { writeInto } from '../engine/folder';
import { onceMore } from '../engine/watch';
import { type StoredFilm, ClipRepository } from '../storage/clip-repository';
import { locks } from '../storage/locks';
import { queueWords } from '../words/queue';
import { type Film, type FilmInput, type FilmWish, filmRow, kindOf, wished } from './film';
import { FilmRenderer } from './film-renderer';
import { FilmSources } from './film-sources';
import type { Held } from './held';
import type { Control, FileJobSpec, JobResult, JobSpec, Report } from './job-queue';
import { StoredParts, StreamedParts, picturesIn } from './part-sink';

/** A film that a window left unfinished. */
export interface UnfinishedClip {
  id: string;
  fileName: string;
  /** Pictures that are made, of how many. */
  made: number;
  frames: number;
}

const lockOf = (id: string): string => `hazy-lens-film-${id}`;

/** Makes films part by part. Each part is kept as soon as it is there: what a closed window leaves can be gone on with. */
@Injectable({ providedIn: 'root' })
export class ClipExports {
  private readonly stored = inject(ClipRepository);
  private readonly sources = inject(FilmSources);
  private readonly renderer = inject(FilmRenderer);
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
    await this.sources.askFor(film);
    let note = '';
    const order = this.orderOf(id, film.fileName, kindOf(film), async (report, control) => {
      const source = await this.sources.of(film);
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
      const source = await this.sources.of(film).catch(() => null);
      const writer = await this.renderer.writerOf(film, source);
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
    film: Film,
    source: FilmSource,
    parts: StoredParts,
    report: Report,
    control: Control,
  ): Promise<Blob> {
    const writer = await onceMore(() => this.renderer.render(film, source, parts, report, control));
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
        await onceMore(() => this.renderer.render(film, source, parts, report, control));
        return { count: frames, note: unreadNote(source) };
      },
    };
  }

  private async filmOf(id: string): Promise<StoredFilm> {
    const film = (await this.stored.list()).find((one) => one.id === id);
    if (!film) throw new Error(queueWords.theRenderedPart);
    return film;
  }
}
