import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { fileOpen, fileSave } from 'browser-fs-access';
import { type RasterLevel, type Size, depthMapSchema, makeRaster } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { MatteCutter } from '../../engine/matte-cutter';
import { Rasters } from '../../engine/rasters';
import { Exports } from '../../jobs/exports';
import { Document } from '../../state/document';
import { Notices } from '../../state/notices';
import { packRecipe } from '../../state/recipe-files';
import { Session } from '../../state/session';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { FILE_KINDS, OutputSettings } from './output-settings';

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
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutputPanel {
  protected readonly document = inject(Document);
  protected readonly settings = inject(OutputSettings);
  private readonly exports = inject(Exports);
  private readonly exporter = inject(Exporter);
  private readonly notices = inject(Notices);
  private readonly session = inject(Session);
  private readonly rasters = inject(Rasters);
  private readonly cutter = inject(MatteCutter);
  protected readonly kinds = FILE_KINDS;
  protected readonly Math = Math;
  /** True while the haze map is being made. */
  protected readonly isMapping = signal(false);
  protected readonly finished = computed(
    () => this.exports.finished().get(this.document.state().projectId) ?? '',
  );
  protected readonly full = computed(() => Math.max(this.document.size().width, this.document.size().height));
  protected readonly size = computed(() => {
    const { width, height } = this.document.size();
    const scale = Math.min(1, (this.settings.longEdge() ?? this.full()) / this.full());
    return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
  });
  /** True where the picture has more than 8 bits and the kind of file can hold them. */
  protected readonly offersDepth = computed(
    () => this.settings.kind().isDeep && (this.document.source()?.bits ?? 8) > 8,
  );

  protected setLongEdge({ value }: NumberChange): void {
    this.settings.setLongEdge(Math.round(value));
  }

  protected async export(): Promise<void> {
    const { kind, quality, bits, fileName } = this.settings;
    const { type, extension, label } = kind();
    await this.exports.start({
      ...this.size(),
      type,
      quality: quality() / 100,
      bits: this.offersDepth() ? bits() : 8,
      fileName: safeName(fileName()) + extension,
      extension,
      label,
    });
  }

  protected async saveRecipe(): Promise<void> {
    try {
      await this.cutter.settled();
      const { file, extension } = await packRecipe(this.document.recipe(), (name) => this.rasters.file(name));
      await fileSave(file, {
        fileName: `${safeName(this.settings.fileName())}${extension}`,
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
      const depth = this.settings.mapDepth();
      const fileName = `${safeName(this.settings.fileName())} haze map.png`;
      await fileSave(await this.rasters.remote.encode(level, depth), { fileName, extensions: ['.png'] });
      this.say(`“${fileName}” is written: ${level.width} × ${level.height} px, ${depth} bits.`);
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
      this.say('The haze map is the depth map of the Focus step now. Bands still speak after it.');
    });
  }

  private say(text: string): void {
    this.exports.tell(this.document.state().projectId, text);
  }

  /** Makes the haze map of a size, one at a time, and says so where that, or what is done with it, fails. */
  private async withMap(size: Size, use: (level: RasterLevel) => Promise<void>): Promise<void> {
    if (this.isMapping()) return;
    this.isMapping.set(true);
    try {
      await use(await this.exporter.hazeMap(await this.exports.source(), size));
    } catch (error) {
      if ((error as Error).name !== 'AbortError')
        this.notices.error(
          `The haze map could not be made: ${(error as Error).message} The project is as it was.`,
        );
    } finally {
      this.isMapping.set(false);
    }
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
