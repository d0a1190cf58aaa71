import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { fileOpen } from 'browser-fs-access';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField } from '@angular/material/form-field';
import { MatOption, MatSelect } from '@angular/material/select';
import { openMany } from '../../batch/batch-view';
import { openShelf } from '../../shelf/shelf';
import { type NumberRange, RAW_EXTENSIONS, isSrgbName } from '@hazy-lens/core';
import { bytesText } from '../../model/bytes-text';
import { RATES } from '../../model/project';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { FileOpener } from '../../project/session/file-opener';
import { NewStart } from '../../project/session/new-start';
import { type StoredRecipe, Recipes } from '../../storage/recipes';
import { signalFrom } from '../../ui/from-observable';
import { NumberField, plainRange } from '../../ui/number-field';
import { SuitSection } from './suit-section';
import { sourceWords } from '../../words/source';

const SOURCE_FILES = {
  description: sourceWords.picturesAndClips,
  multiple: true as const,
  mimeTypes: [
    'video/mp4',
    'video/quicktime',
    'video/webm',
    'video/x-matroska',
    'application/zip',
    'image/jpeg',
    'image/png',
    'image/webp',
    'image/avif',
    'image/tiff',
    'image/gif',
    'image/heic',
    'image/heif',
  ],
  extensions: [
    '.mp4',
    '.mov',
    '.m4v',
    '.webm',
    '.mkv',
    '.zip',
    '.jpg',
    '.jpeg',
    '.png',
    '.webp',
    '.avif',
    '.tif',
    '.tiff',
    '.gif',
    '.heic',
    '.heif',
    ...RAW_EXTENSIONS,
  ],
};

@Component({
  selector: 'hl-source-panel',
  imports: [MatButton, MatFormField, MatIcon, MatOption, MatSelect, NumberField, SuitSection],
  template: `
    <h2 class="panel-title">{{ words.source }}</h2>
    <section class="panel-section">
      @if (project.source(); as source) {
        <dl>
          <dt>{{ words.file }}</dt>
          <dd [title]="source.fileName">{{ source.fileName }}</dd>
          <dt>{{ words.format }}</dt>
          <dd [title]="kind()">{{ kind() }}</dd>
          @if (source.footage; as clip) {
            <dt>{{ words.duration }}</dt>
            <dd>{{ words.sFramesFps(footage.times().end.toFixed(2), clip.frames, fps()) }}</dd>
            <dt>{{ words.audio }}</dt>
            <dd>{{ clip.sound ?? words.none }}</dd>
          } @else {
            <dt>{{ words.colourSpace }}</dt>
            <dd [title]="colours()">{{ colours() }}</dd>
          }
          <dt>{{ words.dimensions }}</dt>
          <dd>{{ source.width }} × {{ source.height }} px, {{ megapixels() }} MP</dd>
          <dt>{{ words.fileSize }}</dt>
          <dd>{{ weight() }}</dd>
          <dt>{{ words.date }}</dt>
          <dd>{{ source.date ?? words.unknown }}</dd>
        </dl>
        @if (footage.isNumbered()) {
          <hl-number
            [range]="rates"
            [value]="footage.rate()"
            (changed)="footage.setRate($event.value, $event.gesture)"
          />
        }
      } @else {
        <p class="quiet">{{ words.nothingIsOpen }}</p>
      }
    </section>
    <section class="panel-section">
      <button matButton="filled" (click)="pick()">
        <mat-icon svgIcon="imagePlus" />{{ words.openFile }}
      </button>
      <button matButton="outlined" (click)="openShelf()">{{ words.openShelf }}</button>
      <button matButton="outlined" (click)="openMany()">{{ words.batch }}</button>
      <p class="hint">
        {{ words.orDropOrPaste }}
      </p>
    </section>
    <section class="panel-section" [aria-label]="words.newPictures">
      <h3>{{ words.newPicturesStartWith }}</h3>
      <mat-form-field subscriptSizing="dynamic">
        <mat-select
          [aria-label]="words.newPicturesStartWith"
          [value]="start.choice()"
          (selectionChange)="start.choose($event.value)"
        >
          <mat-option value="band">{{ words.suggestedBand }}</mat-option>
          <mat-option value="nothing">{{ words.noChanges }}</mat-option>
          @for (recipe of recipes().all; track recipe.id) {
            <mat-option [value]="recipe.id">{{ recipe.name }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
    </section>
    @if (project.isOpen()) {
      <section class="panel-section" [aria-label]="words.suitability">
        <hl-suit-section />
      </section>
    }
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: max-content minmax(0, 1fr);
      gap: 6px 8px;
      margin: 0;
    }
    dt {
      color: var(--ink-3);
    }
    dd {
      margin: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SourcePanel {
  protected readonly words = sourceWords;
  protected readonly project = inject(OpenProject);
  protected readonly footage = inject(Footage);
  protected readonly start = inject(NewStart);
  protected readonly recipes = signalFrom<{ all: readonly StoredRecipe[] }>(inject(Recipes).shelf(), {
    all: [],
  });
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly opener = inject(FileOpener);
  private readonly dialog = inject(MatDialog);
  protected readonly megapixels = computed(() =>
    ((this.project.size().width * this.project.size().height) / 1e6).toFixed(1),
  );
  protected readonly weight = computed(() => bytesText(this.project.source()?.bytes ?? 0));

  protected readonly colours = computed(() => {
    const profile = this.project.source()?.profile;
    if (!profile || isSrgbName(profile)) return 'sRGB';
    const own = this.renderLoop.guide()?.primaries === 'display-p3' ? sourceWords.displayP3 : 'sRGB';
    return profile === own ? profile : sourceWords.convertedTo(profile, own);
  });
  protected readonly kind = computed(() => {
    const source = this.project.source();
    if (!source) return '';
    const type = source.type.toUpperCase();
    if (source.footage) {
      const { codec } = source.footage;
      return source.type === 'frames' || codec === type ? codec : `${type}, ${codec}`;
    }
    const pages = source.pages ?? 1;
    const first = pages > 1 ? sourceWords.theFirstOfPictures(pages) : '';
    return sourceWords.bitsPerChannel(type, source.bits ?? 8, first);
  });
  protected readonly fps = computed(() => `${Number(this.footage.rate().toFixed(2))}`);
  protected readonly rates: NumberRange = {
    ...plainRange(sourceWords.frameRate, 'fps', RATES.least, RATES.most, 30),
    decimals: 2,
  };

  protected async pick(): Promise<void> {
    const files = await fileOpen(SOURCE_FILES).catch(() => []);
    await this.opener.open(files);
  }

  protected openMany(): void {
    openMany(this.dialog);
  }

  protected openShelf(): void {
    openShelf(this.dialog);
  }
}
