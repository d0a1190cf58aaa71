import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import type { ExportSettings, Size } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { hasFile, hasFolders, pickFolder, writeInto } from '../../engine/folder';
import { JobQueue, type FileJobSpec } from '../../jobs/job-queue';
import { ClipExports } from '../../jobs/clip-exports';
import type { FilmInput, FilmWish } from '../../jobs/film';
import { FarmExports } from '../../jobs/farm-exports';
import type { Held } from '../../jobs/held';
import { layerOrder } from '../../jobs/layer-order';
import { type ExportWish, pictureOrder } from '../../jobs/picture-order';
import { ExportInputs } from '../../project/session/export-input';
import { Notices } from '../../project/session/notices';
import { reasonOf } from '../../model/causes';
import { counted } from '../../model/counted';
import { outputWords } from '../../words/output';

const CANCELLED = 'Export cancelled. No file was saved; your project is unchanged.';

/**
 * Orders files of one project, and tells what became of them, even after the panel is left; where the project was closed
 * meanwhile, as a notice.
 */
@Injectable()
export class Exporting {
  private readonly queue = inject(JobQueue);
  private readonly inputs = inject(ExportInputs);
  private readonly exporter = inject(Exporter);
  private readonly clipExports = inject(ClipExports);
  private readonly farmExports = inject(FarmExports);
  private readonly notices = inject(Notices);
  private readonly said = signal('');
  /** What became of the last file of the project. */
  readonly finished = this.said.asReadonly();
  private isClosed = false;

  constructor() {
    inject(DestroyRef).onDestroy(() => (this.isClosed = true));
  }

  /** Orders a picture. @param size that it will have. To be called while the click is fresh. */
  picture(wish: ExportWish, { width, height }: Size): Promise<void> {
    return this.start(
      () => pictureOrder(this.exporter, wish, this.inputs.take()),
      wish.fileName,
      `${width} × ${height} px`,
      outputWords.tryASmallerSize,
    );
  }

  /** Orders what the picture is made of. @param names of its layers. To be called while the click is fresh. */
  layers(fileName: string, size: ExportSettings['size'], names: ReadonlyMap<string, string>): Promise<void> {
    return this.start(
      () => layerOrder(this.exporter, fileName, size, names, this.inputs.take()),
      fileName,
      outputWords.linear16BitTiffs,
      outputWords.tryASmallerSize,
    );
  }

  /**
   * Orders several files at once: into a folder where the browser writes into one, else as downloads one after the other.
   * To be called while the click is fresh.
   */
  async several(wishes: readonly (ExportWish | FilmWish)[]): Promise<void> {
    // What is wanted is what was open when the button was pressed.
    const orders = wishes.map((wish) =>
      'settings' in wish
        ? pictureOrder(this.exporter, wish, this.inputs.take())
        : this.clipExports.order(wish, this.inputs.film()),
    );
    this.tell('');
    const folder = hasFolders() ? await pickFolder().catch(() => null) : null;
    if (hasFolders() && !folder) {
      for (const order of orders) await order.ended?.({ kind: 'cancelled' });
      return;
    }
    const outcomes = await Promise.all(
      orders.map((order) => this.queue.run(order, folder && ((file) => this.intoFree(folder, order, file)))),
    );
    const written = outcomes.filter(({ kind }) => kind === 'written').length;
    for (const [i, outcome] of outcomes.entries())
      if (outcome.kind === 'failed') this.tellFailed(wishes[i]!.fileName, outcome.reason, outcome.isAdvised);
    const where = folder ? outputWords.to(folder.name) : '';
    if (written > 0) this.tell(outputWords.exported(counted(written, 'file'), where));
    else if (outcomes.every(({ kind }) => kind === 'cancelled')) this.tell(CANCELLED);
  }

  /** Writes a file into a folder; one of its name that is there stays. */
  private async intoFree(
    folder: FileSystemDirectoryHandle,
    { fileName, extension }: FileJobSpec,
    file: Blob,
  ): Promise<void> {
    const stem = fileName.slice(0, -extension.length);
    let name = fileName;
    for (let i = 2; await hasFile(folder, name); i++) name = `${stem} ${i}${extension}`;
    await writeInto(folder, name, file);
  }

  /** Orders a film. To be called while the click is fresh. */
  film(wish: FilmWish): Promise<void> {
    const { width, height } = wish;
    return this.start(
      () => this.clipExports.order(wish, this.inputs.film()),
      wish.fileName,
      `${width} × ${height} px`,
      outputWords.tryASmallerSizeOrAnother,
    );
  }

  /** Orders a film of the farm. To be called while the click is fresh. */
  onFarm({ kind, fileName }: FilmWish): Promise<void> {
    return this.start(
      () => {
        const input = this.inputs.farm();
        // What is wrong with it is said when its turn comes.
        input.catch(() => undefined);
        return this.farmExports.order(input, kind, fileName);
      },
      fileName,
      outputWords.renderedOnTheFarm,
      outputWords.tryAgainOrExportItHere,
    );
  }

  /** Asks for a folder, and writes a film's pictures into it. To be called while the click is fresh. */
  async intoFolder(wish: FilmWish): Promise<void> {
    // What is wanted is what was open when the button was pressed.
    const input = this.inputs.film();
    try {
      const folder = await pickFolder().catch(() => null);
      if (!folder) return;
      this.tell('');
      await this.writeInto(folder, wish, input);
    } finally {
      input.letGo();
    }
  }

  private async writeInto(
    folder: FileSystemDirectoryHandle,
    wish: FilmWish,
    input: Held<FilmInput>,
  ): Promise<void> {
    try {
      const { count, note } = await this.queue.work(this.clipExports.intoFolder(wish, input, folder));
      this.tell([outputWords.savedTo(counted(count, 'frame'), folder.name), note].filter(Boolean).join(' '));
    } catch (error) {
      const { name, message } = error as Error;
      if (name === 'AbortError') this.tell(outputWords.cancelledFramesStay);
      else
        this.notices.error(
          `Not all pictures could be written into “${folder.name}”: ${message.replace(/\.?$/, '.')} Your project is safe; those that are there are whole.`,
        );
    }
  }

  private async start(
    make: () => FileJobSpec,
    fileName: string,
    what: string,
    advice: string,
  ): Promise<void> {
    this.tell('');
    let order: FileJobSpec;
    try {
      order = make();
    } catch (error) {
      return this.tellFailed(fileName, reasonOf(error), false, advice);
    }
    const outcome = await this.queue.run(order);
    if (outcome.kind === 'written') {
      const size = (outcome.bytes / 1e6).toFixed(1);
      this.tell([outputWords.exportedMb(fileName, what, size), outcome.note].filter(Boolean).join(' '));
    } else if (outcome.kind === 'cancelled') this.tell(CANCELLED);
    else this.tellFailed(fileName, outcome.reason, outcome.isAdvised, advice);
  }

  private tellFailed(
    fileName: string,
    reason: string,
    isAdvised = false,
    advice = outputWords.tryASmallerSize,
  ): void {
    this.notices.error(
      outputWords.couldntBeExported(fileName, reason.replace(/\.?$/, '.'), isAdvised ? '' : `; ${advice}`),
    );
  }

  /** Says something of the project's files. */
  tell(text: string): void {
    if (this.isClosed && text) this.notices.info(text);
    else this.said.set(text);
  }
}
