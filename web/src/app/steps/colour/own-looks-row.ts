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
import { colourWords } from '../../words/colour';

const TABLE_FILES = { extensions: ['.cube'], description: colourWords.lutFiles };

/** Looks of one's own: the colours kept as one, tables in and out, and the chosen one's name. */
@Component({
  selector: 'hl-own-looks-row',
  imports: [MatButton, MatFormField, MatIcon, MatIconButton, MatInput, MatTooltip, NameField],
  template: `
    @if (chosen(); as look) {
      <div class="row">
        <hl-name-field [label]="words.nameOfTheLook" [name]="look.name" (renamed)="rename(look, $event)" />
        <button
          matIconButton
          [matTooltip]="words.deleteLook"
          [attr.aria-label]="words.deleteTheLook(look.name)"
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
          [aria-label]="words.nameOfANewLook"
          [placeholder]="words.nameOfANewLook"
          (keydown.enter)="keep(name)"
        />
      </mat-form-field>
      <button
        matButton="outlined"
        [matTooltip]="words.savesAllColourSettingsExcept"
        [disabled]="isKeeping()"
        (click)="keep(name)"
      >
        {{ words.saveLook }}
      </button>
    </div>
    <div class="row">
      <button matButton="outlined" (click)="bringIn()">{{ words.importCube }}</button>
      <button matButton="outlined" [matTooltip]="words.exportsAllColourSettingsExcept" (click)="save()">
        {{ words.exportCube }}
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
  protected readonly words = colourWords;
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
    const name = field.value.trim() || colourWords.lookNamed(this.kept().all.length + 1);
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
        text: colourWords.lookDeletedPicturesUsing(name),
        action: { label: colourWords.restore, run: () => void this.change(() => this.looks.restore(id)) },
      });
    });
  }

  private change(work: () => Promise<unknown>): Promise<void> {
    return withErrorNotice(this.notices, colourWords.deleteAProjectToMake, work);
  }
}
