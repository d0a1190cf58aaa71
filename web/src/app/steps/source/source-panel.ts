import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { fileOpen } from 'browser-fs-access';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { Shelf } from '../../shelf/shelf';
import { OpenProject } from '../../project/open-project';
import { Session } from '../../project/session';

const PICTURE_FILES = {
  description: 'Pictures',
  mimeTypes: [
    'image/jpeg',
    'image/png',
    'image/webp',
    'image/avif',
    'image/tiff',
    'image/gif',
    'image/heic',
    'image/heif',
  ],
  extensions: ['.jpg', '.jpeg', '.png', '.webp', '.avif', '.tif', '.tiff', '.gif', '.heic', '.heif'],
};

@Component({
  selector: 'hl-source-panel',
  imports: [MatButton, MatIcon],
  template: `
    <h2 class="panel-title">Source</h2>
    <section class="panel-section">
      @if (project.source(); as source) {
        <dl>
          <dt>File</dt>
          <dd [title]="source.fileName">{{ source.fileName }}</dd>
          <dt>Kind</dt>
          <dd>{{ source.type.toUpperCase() }}, {{ source.bits ?? 8 }} bits a channel{{ pages() }}</dd>
          <dt>Colours</dt>
          <dd [title]="colours()">{{ colours() }}</dd>
          <dt>Size</dt>
          <dd>{{ source.width }} × {{ source.height }} px, {{ megapixels() }} MP</dd>
          <dt>Weight</dt>
          <dd>{{ weight() }}</dd>
          <dt>Date</dt>
          <dd>{{ source.date ?? 'not known' }}</dd>
        </dl>
      } @else {
        <p class="quiet">No picture is open.</p>
      }
    </section>
    <section class="panel-section">
      <button matButton="filled" (click)="pick()"><mat-icon svgIcon="imagePlus" />Open a picture</button>
      <button matButton="outlined" (click)="openShelf()">Shelf and demo pictures</button>
      <p class="hint">
        Or drop one anywhere on the window, or paste it. JPEG, PNG, WebP, AVIF, HEIC, TIFF, and the first
        frame of a GIF. It becomes a new project; the picture itself is never changed.
      </p>
    </section>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 60px 1fr;
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
  private readonly session = inject(Session);
  private readonly dialog = inject(MatDialog);
  protected readonly megapixels = computed(() =>
    ((this.project.size().width * this.project.size().height) / 1e6).toFixed(1),
  );
  protected readonly weight = computed(() => {
    const bytes = this.project.source()?.bytes ?? 0;
    return bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
  });

  protected readonly colours = computed(() => {
    const profile = this.project.source()?.profile;
    return profile ? `${profile}, taken to sRGB` : 'sRGB';
  });
  protected readonly pages = computed(() => {
    const pages = this.project.source()?.pages ?? 1;
    return pages > 1 ? `, the first of ${pages} pictures` : '';
  });

  protected async pick(): Promise<void> {
    const file = await fileOpen(PICTURE_FILES).catch(() => null);
    if (file) await this.session.openFile(file);
  }

  protected openShelf(): void {
    this.dialog.open(Shelf, { width: '1000px', maxWidth: '94vw', ariaLabel: 'Shelf' });
  }
}
