import { Injectable, computed, inject, signal } from '@angular/core';
import { Exporter } from '../../engine/export';
import { pickFolder } from '../../engine/folder';
import { Exports, type Order } from '../../jobs/exports';
import { type FilmWish, Films, type LeftFilm } from '../../jobs/films';
import { type ExportWish, pictureOrder } from '../../jobs/picture-order';
import { ExportInputs } from '../../project/export-input';
import { Notices } from '../../project/notices';
import { OpenProject } from '../../project/open-project';

/** Orders files of the open project, and tells what became of them even after the panel is left. */
@Injectable({ providedIn: 'root' })
export class Exporting {
  private readonly exports = inject(Exports);
  private readonly inputs = inject(ExportInputs);
  private readonly exporter = inject(Exporter);
  private readonly films = inject(Films);
  private readonly project = inject(OpenProject);
  private readonly notices = inject(Notices);
  private readonly said = signal<ReadonlyMap<string | null, string>>(new Map());
  /** What became of the last file of the open project. */
  readonly finished = computed(() => this.said().get(this.project.state().projectId) ?? '');

  /** Orders a picture. To be called while the click is fresh. */
  picture(wish: ExportWish): Promise<void> {
    const { width, height } = wish;
    const order = pictureOrder(this.exporter, wish, this.inputs.take());
    return this.start(order, `${width} × ${height} px`, 'try a smaller size');
  }

  /** Orders a film. To be called while the click is fresh. */
  film(wish: FilmWish): Promise<void> {
    const { width, height } = wish;
    const order = this.films.order(wish, this.inputs.film());
    return this.start(order, `${width} × ${height} px`, 'try a smaller size or another kind');
  }

  /** Asks for a folder, and writes a film's pictures into it. To be called while the click is fresh. */
  async intoFolder(wish: FilmWish): Promise<void> {
    const { projectId } = this.project.state();
    const folder = await pickFolder().catch(() => null);
    if (!folder) return;
    this.tell('', projectId);
    try {
      const count = await this.exports.work(this.films.intoFolder(wish, this.inputs.film(), folder));
      this.tell(`${count} pictures are written into “${folder.name}”.`, projectId);
    } catch (error) {
      const { name, message } = error as Error;
      if (name === 'AbortError')
        this.tell('Cancelled. Pictures that were written stay in the folder.', projectId);
      else
        this.notices.error(
          `Not all pictures could be written into “${folder.name}”: ${message.replace(/\.?$/, '.')} The project is safe; those that are there are whole.`,
        );
    }
  }

  /** Goes on with a film that was left unfinished, or writes what there is of it. To be called while the click is fresh. */
  async takeUp({ id, fileName, made, frames }: LeftFilm, how: 'go on' | 'as it is'): Promise<void> {
    try {
      const order = how === 'go on' ? await this.films.goOn(id) : await this.films.asItIs(id);
      const outcome = await this.exports.run(order);
      const pictures = how === 'go on' ? frames : made;
      if (outcome.kind === 'written')
        this.notices.info(`“${fileName}” is written: ${pictures} pictures.`, id);
      else if (outcome.kind === 'failed') throw new Error(outcome.reason);
    } catch (error) {
      const reason = (error as Error).message.replace(/\.?$/, '.');
      this.notices.error(`“${fileName}” could not be written: ${reason} What is made of it stays.`, id);
    }
  }

  private async start(order: Order, what: string, advice: string): Promise<void> {
    const { projectId } = this.project.state();
    const { fileName } = order;
    this.tell('', projectId);
    const outcome = await this.exports.run(order);
    if (outcome.kind === 'written') {
      const size = (outcome.bytes / 1e6).toFixed(1);
      this.tell(`“${fileName}” is written: ${what}, ${size} MB.`, projectId);
    } else if (outcome.kind === 'cancelled')
      this.tell('Cancelled. No file was written; the project is as it was.', projectId);
    else
      this.notices.error(
        `“${fileName}” could not be written: ${outcome.reason.replace(/\.?$/, '.')} The project is safe; ${advice}.`,
      );
  }

  /** Says something of a project's files; of the open one's where none is given. */
  tell(text: string, projectId = this.project.state().projectId): void {
    this.said.update((all) => new Map(all).set(projectId, text));
  }
}
