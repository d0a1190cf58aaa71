import { Injectable, inject } from '@angular/core';
import { type FilmSource, encodedFormat, isTransparent, renderFrames } from '../engine/footage/render-frames';
import { type FilmWriter, filmWriter } from '../engine/footage/writers';
import { RenderPool } from '../engine/pool';
import { queueWords } from '../words/queue';
import { type Film, type FilmInput, type NamelessWish, filmRow, kindOf } from './film';
import type { Control, Report } from './job-queue';
import { type PartSink, StreamedParts } from './part-sink';
import { timeLeft } from './time-left';

/** What making a film takes, by a trial. */
export interface FilmEstimate {
  ms: number;
  bytes: number;
}

/** Pictures that an estimate is made from. */
const TRIED = 10;

/** Makes the pictures of films, part by part. */
@Injectable({ providedIn: 'root' })
export class FilmRenderer {
  private readonly pool = inject(RenderPool);

  /** Renders the pictures that are missing, part by part. @returns what wrote them. */
  async render(
    film: Film,
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

  /** What writes a film; without its source it can only join parts. */
  writerOf(film: Film, source: FilmSource | null): Promise<FilmWriter> {
    const name = film.fileName.replace(/\.[^.]+$/, '');
    const planes = source ? encodedFormat(source.material) : ({ matrix: 'bt709', range: 'limited' } as const);
    return filmWriter(
      kindOf(film),
      { ...film, name, sound: source?.sound ?? null, isTransparent: !!source && isTransparent(source) },
      planes,
    );
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
}
