import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput } from '@angular/material/input';
import { MatTooltip } from '@angular/material/tooltip';
import { fileOpen, fileSave } from 'browser-fs-access';
import { LookShelf } from '../../project/recipes/look-shelf';
import { Notices } from '../../project/session/notices';
import { OpenProject } from '../../project/session/open-project';
import { withErrorNotice } from '../../project/session/report-errors';
import { OwnLooks, type StoredLook } from '../../storage/own-looks';
import { signalFrom } from '../../ui/from-observable';
import { NameField } from '../../ui/name-field';

const TABLE_FILES = { extensions: ['.cube'], description: 'LUT files' };

/** Looks of one's own: the colours kept as one, tables in and out, and the chosen one's name. */
@Component({
  selector: 'hl-own-looks-row',
  imports: [MatButton, MatFormField, MatIcon, MatIconButton, MatInput, MatTooltip, NameField],
  template: `
    @if (chosen(); as look) {
      <div class="row">
        <hl-name-field label="Name of the look" [name]="look.name" (renamed)="rename(look, $event)" />
        <button
          matIconButton
          matTooltip="Delete look"
          [attr.aria-label]="'Delete the look ' + look.name"
          (click)="remove(look)"
        >
          <mat-icon svgIcon="close" />
        </button>
      </div>
    }
    <div class="row">
      <mat-form-field subscriptSizing="dynamic">
        <input
          matInput
          #name
          maxlength="80"
          autocomplete="off"
          aria-label="Name of a new look"
          placeholder="Name of a new look"
          (keydown.enter)="keep(name)"
        />
      </mat-form-field>
      <button
        matButton="outlined"
        matTooltip="Saves all colour settings except clarity, for other pictures"
        [disabled]="isKeeping()"
        (click)="keep(name)"
      >
        Save look
      </button>
    </div>
    <div class="row">
      <button matButton="outlined" (click)="bringIn()">Import .cube</button>
      <button
        matButton="outlined"
        matTooltip="Exports all colour settings except clarity as a standard LUT"
        (click)="save()"
      >
        Export .cube
      </button>
    </div>
  `,
  styles: `
    .row {
      display: flex;
      gap: 6px;
      margin-top: 6px;
    }
    mat-form-field {
      flex: 1;
      min-width: 0;
    }
    .row > [matButton] {
      white-space: nowrap;
    }
    .row:last-child > [matButton] {
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnLooksRow {
  private readonly project = inject(OpenProject);
  private readonly looks = inject(OwnLooks);
  private readonly shelf = inject(LookShelf);
  private readonly notices = inject(Notices);
  private readonly kept = signalFrom(this.looks.shelf(), { all: [], removed: [] });
  protected readonly isKeeping = signal(false);
  /** The look that the picture has, where it is one of one's own. */
  protected readonly chosen = computed(() => {
    const image = this.project.calmRecipe().colour.look?.image;
    return this.kept().all.find((look) => look.image === image) ?? null;
  });

  protected async keep(field: HTMLInputElement): Promise<void> {
    if (this.isKeeping()) return;
    this.isKeeping.set(true);
    const name = field.value.trim() || `Look ${this.kept().all.length + 1}`;
    field.value = '';
    await this.change(() => this.shelf.keep(name));
    this.isKeeping.set(false);
  }

  protected bringIn(): Promise<void> {
    return this.change(async () => this.shelf.bringIn(await fileOpen(TABLE_FILES)));
  }

  protected save(): Promise<void> {
    return this.change(async () => {
      const file = await this.shelf.cube();
      await fileSave(file, { fileName: file.name, extensions: TABLE_FILES.extensions });
    });
  }

  protected rename({ id }: StoredLook, name: string): Promise<void> {
    return this.change(() => this.looks.rename(id, name));
  }

  /** Projects that have it keep it; on the shelf it can be put back. */
  protected remove({ id, name }: StoredLook): Promise<void> {
    return this.change(async () => {
      await this.looks.remove(id);
      this.notices.show({
        kind: 'info',
        text: `Look “${name}” deleted. Pictures using it don’t change.`,
        action: { label: 'Restore', run: () => void this.change(() => this.looks.restore(id)) },
      });
    });
  }

  private change(work: () => Promise<unknown>): Promise<void> {
    return withErrorNotice(this.notices, 'Delete a project to make room for another look.', work);
  }
}
