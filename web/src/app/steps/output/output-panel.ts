import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { fileOpen, fileSave } from 'browser-fs-access';
import { type RasterLevel, type Size, depthMapSchema, makeRaster, readExif } from '@hazy-lens/core';
import { type ExportProgress, Exporter } from '../../engine/export';
import { Rasters } from '../../engine/rasters';
import type { EncodeOptions } from '../../engine/codec';
import { Document } from '../../state/document';
import { Notices } from '../../state/notices';
import { packRecipe } from '../../state/recipe-files';
import { Session } from '../../state/session';
import { Projects } from '../../storage/projects';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { timeLeft } from './time-left';

const KINDS = [
  { type: 'image/png', label: 'PNG', extension: '.png' },
  { type: 'image/jpeg', label: 'JPEG', extension: '.jpg' },
  { type: 'image/webp', label: 'WebP', extension: '.webp' },
] as const satisfies readonly { type: EncodeOptions['type']; label: string; extension: string }[];

const STAGES: Record<ExportProgress['stage'], string> = {
  reading: 'Reading the picture',
  rendering: 'Rendering',
  writing: 'Writing the file',
};

@Component({
  selector: 'hl-output-panel',
  imports: [NumberField, Icon],
  templateUrl: './output-panel.html',
  styles: `
    .file {
      display: flex;
      align-items: center;
      background: var(--field);
      border-radius: 4px;
      padding-right: 8px;
    }
    .file input {
      flex: 1;
      min-width: 0;
      height: 28px;
      border: 0;
      background: none;
      padding: 0 8px;
    }
    .file .quiet {
      color: var(--ink-2);
    }
    .button {
      justify-content: center;
    }
    progress {
      width: 100%;
      height: 6px;
      appearance: none;
      border: 0;
      border-radius: 3px;
      overflow: hidden;
      background: var(--field);
    }
    progress::-webkit-progress-bar {
      background: var(--field);
    }
    progress::-webkit-progress-value {
      background: var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutputPanel {
  protected readonly document = inject(Document);
  private readonly exporter = inject(Exporter);
  private readonly projects = inject(Projects);
  private readonly notices = inject(Notices);
  private readonly session = inject(Session);
  private readonly rasters = inject(Rasters);
  protected readonly kinds = KINDS;
  protected readonly Math = Math;
  protected readonly kind = signal<(typeof KINDS)[number]>(KINDS[1]);
  protected readonly quality = signal(92);
  /** Null for the full size. */
  protected readonly longEdge = signal<number | null>(null);
  protected readonly mapDepth = signal<8 | 16>(16);
  protected readonly fileName = signal<string | null>(null);
  protected readonly progress = signal<(ExportProgress & { says: string; left: string | null }) | null>(null);
  protected readonly finished = signal('');
  private abort: AbortController | null = null;

  protected readonly full = computed(() => Math.max(this.document.size().width, this.document.size().height));
  protected readonly name = computed(() => this.fileName() ?? this.document.state().name);
  protected readonly size = computed(() => {
    const { width, height } = this.document.size();
    const scale = Math.min(1, (this.longEdge() ?? this.full()) / this.full());
    return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
  });

  protected setLongEdge({ value }: NumberChange): void {
    this.longEdge.set(Math.round(value));
  }

  protected cancel(): void {
    this.abort?.abort();
  }

  protected async export(): Promise<void> {
    const { type, extension, label } = this.kind();
    const abort = (this.abort = new AbortController());
    const started = performance.now();
    this.finished.set('');
    const report = (now: ExportProgress): void =>
      this.progress.set({
        ...now,
        says: STAGES[now.stage],
        left: timeLeft(now.done, performance.now() - started),
      });
    const { width, height } = this.size();
    const fileName = safeName(this.name()) + extension;
    const blob = this.sourceExif().then((exif) =>
      this.exporter.export(
        this.document.recipe(),
        { width, height, type, quality: this.quality() / 100, exif },
        report,
        abort.signal,
      ),
    );
    // The picker may be turned away while the picture is still being made.
    blob.catch(() => undefined);
    try {
      // A picker must open while the click is fresh; a download has to wait for its bytes.
      await fileSave('showSaveFilePicker' in window ? blob : await blob, {
        fileName,
        extensions: [extension],
        description: `${label} picture`,
      });
      this.finished.set(
        `“${fileName}” is written: ${width} × ${height} px, ${((await blob).size / 1e6).toFixed(1)} MB.`,
      );
    } catch (error) {
      const cancelled = abort.signal.aborted || (error as Error).name === 'AbortError';
      abort.abort();
      if (cancelled) this.finished.set('Cancelled. No file was written; the project is as it was.');
      else
        this.notices.error(
          `“${fileName}” could not be written: ${(error as Error).message} The project is safe; try a smaller size.`,
        );
    } finally {
      this.progress.set(null);
    }
  }

  protected async saveRecipe(): Promise<void> {
    try {
      const { file, extension } = await packRecipe(this.document.recipe(), (name) => this.rasters.file(name));
      await fileSave(file, {
        fileName: `${safeName(this.name())}${extension}`,
        extensions: [extension.endsWith('zip') ? '.zip' : '.json'],
      });
    } catch (error) {
      if ((error as Error).name !== 'AbortError') this.notices.error((error as Error).message);
    }
  }

  protected async loadRecipe(): Promise<void> {
    const files = await fileOpen({
      mimeTypes: ['application/json', 'application/zip', 'image/png'],
      extensions: ['.json', '.zip', '.png'],
      description: 'Recipe',
      multiple: true,
    }).catch(() => []);
    if (files.length > 0) await this.session.openRecipe(files);
  }

  /** Writes the haze field as a grey picture: white is haze 1. */
  protected exportMap(): Promise<void> {
    return this.withMap(this.size(), async (level) => {
      const depth = this.mapDepth();
      const fileName = `${safeName(this.name())} haze map.png`;
      await fileSave(await this.rasters.remote.encode(level, depth), { fileName, extensions: ['.png'] });
      this.finished.set(`“${fileName}” is written: ${level.width} × ${level.height} px, ${depth} bits.`);
    });
  }

  /** The haze field as it is now becomes the depth map, with settings under which it says the same. */
  protected useMap(): Promise<void> {
    return this.withMap(this.document.size(), async (level) => {
      const image = `depth-${crypto.randomUUID()}.png`;
      const raster = makeRaster(image, level.width, level.height, level.samples);
      await this.rasters.put(image, raster, await this.rasters.remote.encode(level, 16));
      const how = { image, focus: 0, clear: 0, falloff: 1, profile: 'linear' };
      this.document.edit('haze map as depth map', (draft) => {
        draft.focus.depthMap = depthMapSchema.parse(how);
      });
      this.finished.set('The haze map is the depth map of the Focus step now. Bands still speak after it.');
    });
  }

  /** Makes the haze map of a size, and says so where that, or what is done with it, fails. */
  private async withMap(size: Size, use: (level: RasterLevel) => Promise<void>): Promise<void> {
    try {
      const { width, height } = size;
      await use(await this.exporter.hazeMap(this.document.recipe(), { width, height }));
    } catch (error) {
      if ((error as Error).name !== 'AbortError')
        this.notices.error(
          `The haze map could not be made: ${(error as Error).message} The project is as it was.`,
        );
    }
  }

  private async sourceExif(): Promise<Uint8Array | null> {
    const source = this.document.source();
    const file = source && (await this.projects.picture(source).catch(() => null));
    return file ? readExif(new Uint8Array(await file.arrayBuffer())) : null;
  }
}

/** A file name without what systems do not take. */
function safeName(name: string): string {
  return (
    name
      // eslint-disable-next-line no-control-regex
      .replace(/[\\/:*?"<>|\u0000-\u001f]/g, ' ')
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, 120) || 'picture'
  );
}
