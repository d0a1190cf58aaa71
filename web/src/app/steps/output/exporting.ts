import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import { Exporter } from '../../engine/export';
import { pickFolder } from '../../engine/folder';
import { JobQueue, type FileJobSpec } from '../../jobs/job-queue';
import { type FilmInput, type FilmWish, ClipExports } from '../../jobs/clip-exports';
import { FarmExports } from '../../jobs/farm-exports';
import type { Held } from '../../jobs/held';
import { type ExportWish, pictureOrder } from '../../jobs/picture-order';
import { ExportInputs } from '../../project/session/export-input';
import { Notices } from '../../project/session/notices';
import { reasonOf } from '../../model/causes';
import { counted } from '../../model/counted';

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

  /** Orders a picture. To be called while the click is fresh. */
  picture(wish: ExportWish): Promise<void> {
    const { width, height } = wish;
    return this.start(
      () => pictureOrder(this.exporter, wish, this.inputs.take()),
      wish.fileName,
      `${width} × ${height} px`,
      'try a smaller size',
    );
  }

  /** Orders a film. To be called while the click is fresh. */
  film(wish: FilmWish): Promise<void> {
    const { width, height } = wish;
    return this.start(
      () => this.clipExports.order(wish, this.inputs.film()),
      wish.fileName,
      `${width} × ${height} px`,
      'try a smaller size or another kind',
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
      'rendered on the farm',
      'try again, or export it here',
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
      this.tell([`Saved ${counted(count, 'frame')} to “${folder.name}”.`, note].filter(Boolean).join(' '));
    } catch (error) {
      const { name, message } = error as Error;
      if (name === 'AbortError') this.tell('Cancelled. Pictures that were written stay in the folder.');
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
    const failed = (reason: string, isAdvised = false): void =>
      this.notices.error(
        `“${fileName}” couldn’t be written: ${reason.replace(/\.?$/, '.')} Your project is safe${isAdvised ? '' : `; ${advice}`}.`,
      );
    let order: FileJobSpec;
    try {
      order = make();
    } catch (error) {
      return failed(reasonOf(error));
    }
    const outcome = await this.queue.run(order);
    if (outcome.kind === 'written') {
      const size = (outcome.bytes / 1e6).toFixed(1);
      this.tell([`Exported “${fileName}”: ${what}, ${size} MB.`, outcome.note].filter(Boolean).join(' '));
    } else if (outcome.kind === 'cancelled')
      this.tell('Export cancelled. No file was saved; your project is unchanged.');
    else failed(outcome.reason, outcome.isAdvised);
  }

  /** Says something of the project's files. */
  tell(text: string): void {
    if (this.isClosed && text) this.notices.info(text);
    else this.said.set(text);
  }
}
