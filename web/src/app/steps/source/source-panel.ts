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
import { ProjectOpener } from '../../project/session/project-opener';
import { NewStart } from '../../project/session/new-start';
import { type StoredRecipe, Recipes } from '../../storage/recipes';
import { signalFrom } from '../../ui/from-observable';
import { NumberField, plainRange } from '../../ui/number-field';
import { SuitSection } from './suit-section';

const SOURCE_FILES = {
  description: 'Pictures and clips',
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
    <h2 class="panel-title">Source</h2>
    <section class="panel-section">
      @if (project.source(); as source) {
        <dl>
          <dt>File</dt>
          <dd [title]="source.fileName">{{ source.fileName }}</dd>
          <dt>Format</dt>
          <dd [title]="kind()">{{ kind() }}</dd>
          @if (source.footage; as clip) {
            <dt>Duration</dt>
            <dd>{{ footage.times().end.toFixed(2) }} s, {{ clip.frames }} frames, {{ fps() }} fps</dd>
            <dt>Audio</dt>
            <dd>{{ clip.sound ?? 'None' }}</dd>
          } @else {
            <dt>Colour space</dt>
            <dd [title]="colours()">{{ colours() }}</dd>
          }
          <dt>Dimensions</dt>
          <dd>{{ source.width }} × {{ source.height }} px, {{ megapixels() }} MP</dd>
          <dt>File size</dt>
          <dd>{{ weight() }}</dd>
          <dt>Date</dt>
          <dd>{{ source.date ?? 'Unknown' }}</dd>
        </dl>
        @if (footage.isNumbered()) {
          <hl-number
            [range]="rates"
            [value]="footage.rate()"
            (changed)="footage.setRate($event.value, $event.gesture)"
          />
        }
      } @else {
        <p class="quiet">Nothing is open.</p>
      }
    </section>
    <section class="panel-section">
      <button matButton="filled" (click)="pick()"><mat-icon svgIcon="imagePlus" />Open file</button>
      <button matButton="outlined" (click)="openShelf()">Open shelf</button>
      <button matButton="outlined" (click)="openMany()">Batch</button>
      <p class="hint">
        Or drop or paste a file anywhere. JPEG, PNG, WebP, AVIF, HEIC, TIFF, raw; MP4, MOV, WebM, MKV, GIF;
        numbered frames as files, a folder or a zip. Each opens as a new project; your files are never
        changed.
      </p>
    </section>
    <section class="panel-section" aria-label="New pictures">
      <h3>New pictures start with</h3>
      <mat-form-field subscriptSizing="dynamic">
        <mat-select
          aria-label="New pictures start with"
          [value]="start.choice()"
          (selectionChange)="start.choose($event.value)"
        >
          <mat-option value="band">Suggested band</mat-option>
          <mat-option value="nothing">No changes</mat-option>
          @for (recipe of recipes().all; track recipe.id) {
            <mat-option [value]="recipe.id">{{ recipe.name }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
    </section>
    @if (project.isOpen()) {
      <section class="panel-section" aria-label="Suitability">
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
  protected readonly project = inject(OpenProject);
  protected readonly footage = inject(Footage);
  protected readonly start = inject(NewStart);
  protected readonly recipes = signalFrom<{ all: readonly StoredRecipe[] }>(inject(Recipes).shelf(), {
    all: [],
  });
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly opener = inject(ProjectOpener);
  private readonly dialog = inject(MatDialog);
  protected readonly megapixels = computed(() =>
    ((this.project.size().width * this.project.size().height) / 1e6).toFixed(1),
  );
  protected readonly weight = computed(() => bytesText(this.project.source()?.bytes ?? 0));

  protected readonly colours = computed(() => {
    const profile = this.project.source()?.profile;
    if (!profile || isSrgbName(profile)) return 'sRGB';
    const own = this.renderLoop.guide()?.primaries === 'display-p3' ? 'Display P3' : 'sRGB';
    return profile === own ? profile : `${profile}, converted to ${own}`;
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
    const first = pages > 1 ? `, the first of ${pages} pictures` : '';
    return `${type}, ${source.bits ?? 8} bits per channel${first}`;
  });
  protected readonly fps = computed(() => `${Number(this.footage.rate().toFixed(2))}`);
  protected readonly rates: NumberRange = {
    ...plainRange('Frame rate', 'fps', RATES.least, RATES.most, 30),
    decimals: 2,
  };

  protected async pick(): Promise<void> {
    const files = await fileOpen(SOURCE_FILES).catch(() => []);
    await this.opener.openDropped(files);
  }

  protected openMany(): void {
    openMany(this.dialog);
  }

  protected openShelf(): void {
    openShelf(this.dialog);
  }
}
