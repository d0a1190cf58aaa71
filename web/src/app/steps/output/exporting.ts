import { Injectable, computed, inject, signal } from '@angular/core';
import { type ExportWish, Exports } from '../../jobs/exports';
import { ExportInputs } from '../../project/export-input';
import { Notices } from '../../project/notices';
import { OpenProject } from '../../project/open-project';

/** Orders files of the open project, and tells what became of them even after the panel is left. */
@Injectable({ providedIn: 'root' })
export class Exporting {
  private readonly exports = inject(Exports);
  private readonly inputs = inject(ExportInputs);
  private readonly project = inject(OpenProject);
  private readonly notices = inject(Notices);
  private readonly said = signal<ReadonlyMap<string | null, string>>(new Map());
  /** What became of the last file of the open project. */
  readonly finished = computed(() => this.said().get(this.project.state().projectId) ?? '');

  /** To be called while the click is fresh. */
  async start(wish: ExportWish): Promise<void> {
    const { projectId } = this.project.state();
    const { fileName, width, height } = wish;
    this.tell('', projectId);
    const outcome = await this.exports.run(wish, this.inputs.take());
    if (outcome.kind === 'written') {
      const size = (outcome.bytes / 1e6).toFixed(1);
      this.tell(`“${fileName}” is written: ${width} × ${height} px, ${size} MB.`, projectId);
    } else if (outcome.kind === 'cancelled')
      this.tell('Cancelled. No file was written; the project is as it was.', projectId);
    else
      this.notices.error(
        `“${fileName}” could not be written: ${outcome.reason.replace(/\.?$/, '.')} The project is safe; try a smaller size.`,
      );
  }

  /** Says something of a project's files; of the open one's where none is given. */
  tell(text: string, projectId = this.project.state().projectId): void {
    this.said.update((all) => new Map(all).set(projectId, text));
  }
}
