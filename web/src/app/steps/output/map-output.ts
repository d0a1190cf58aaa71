import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatFormField } from '@angular/material/input';
import { MatOption, MatSelect } from '@angular/material/select';
import { fileSave } from 'browser-fs-access';
import { type RasterLevel, depthMapSchema, exportSize, makeRaster } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { RecipeAssetLoader } from '../../engine/recipe-asset-loader';
import { Rasters } from '../../engine/rasters';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { reasonOf } from '../../model/causes';
import { ExportInputs } from '../../project/session/export-input';
import { Notices } from '../../project/session/notices';
import { OpenProject } from '../../project/session/open-project';
import { Exporting } from './exporting';
import { OutputStore } from '../../workspace/output-store';
import { OutputSettings } from './output-settings';
import { outputWords } from '../../words/output';

const FORMATS = [
  { id: 'png-8', label: outputWords.n8BitPng, extension: '.png' },
  { id: 'png-16', label: outputWords.n16BitPng, extension: '.png' },
  { id: 'tiff-16', label: outputWords.n16BitTiff, extension: '.tif' },
] as const;

/** Grey pictures of what the field is made of: the haze as it is, the depth map, and what each subject is. */
@Component({
  selector: 'hl-map-output',
  imports: [MatButton, MatFormField, MatIcon, MatOption, MatSelect],
  template: `
    <div class="row">
      <mat-form-field subscriptSizing="dynamic">
        <mat-select [aria-label]="words.map" [value]="which()" (selectionChange)="which.set($event.value)">
          @for (one of maps(); track one.id) {
            <mat-option [value]="one.id">{{ one.name }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
      <mat-form-field subscriptSizing="dynamic">
        <mat-select
          [aria-label]="words.mapFormat"
          [value]="store.mapFormat()"
          (selectionChange)="store.set({ mapFormat: $event.value })"
        >
          @for (one of formats; track one.id) {
            <mat-option [value]="one.id">{{ one.label }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
    </div>
    <div class="row">
      <button matButton="outlined" [disabled]="isMaking()" (click)="export()">
        <mat-icon svgIcon="fileDown" />{{ words.exportMap }}
      </button>
      @if (which() === 'haze') {
        <button matButton="outlined" [disabled]="isMaking()" (click)="use()">
          {{ words.useAsDepthMap }}
        </button>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    mat-form-field {
      flex: 1;
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MapOutput {
  protected readonly words = outputWords;
  private readonly project = inject(OpenProject);
  protected readonly store = inject(OutputStore);
  private readonly settings = inject(OutputSettings);
  private readonly exporting = inject(Exporting);
  private readonly inputs = inject(ExportInputs);
  private readonly exporter = inject(Exporter);
  private readonly assets = inject(RecipeAssetLoader);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(Notices);
  protected readonly formats = FORMATS;
  protected readonly isMaking = signal(false);
  protected readonly maps = computed(() => {
    const { depthMap, mattes } = this.project.recipe().focus;
    return [
      { id: 'haze', name: outputWords.hazeMap },
      ...(depthMap ? [{ id: 'depth', name: outputWords.depthMap }] : []),
      ...mattes.map(({ id }, i) => ({ id, name: outputWords.subject(i + 1) })),
    ];
  });
  /** What is exported; the haze map where what was chosen is there no more. */
  protected readonly which = linkedSignal<readonly { id: string }[], string>({
    source: this.maps,
    computation: (maps, last) => maps.find(({ id }) => id === last?.value)?.id ?? 'haze',
  });

  /** Writes the chosen map as a grey picture: white is haze 1, what is near, or all of a subject. */
  protected export(): Promise<void> {
    const { name } = this.maps().find(({ id }) => id === this.which())!;
    const { id, label, extension } = FORMATS.find((one) => one.id === this.store.mapFormat())!;
    const fileName = `${this.settings.fileName()} ${name.toLowerCase()}${extension}`;
    return this.withMap(name, 'as-cropped', async (level) => {
      const file =
        id === 'tiff-16'
          ? new Blob([await this.rasters.remote.greyTiff(level, level.samples)], { type: 'image/tiff' })
          : await this.rasters.remote.encode(level, id === 'png-8' ? 8 : 16);
      await fileSave(file, { fileName, extensions: [extension] });
      this.exporting.tell(outputWords.exportedPx(fileName, level.width, level.height, label));
    });
  }

  /** The haze field as it is now becomes the depth map, with settings under which it says the same. */
  protected use(): Promise<void> {
    return this.withMap(outputWords.hazeMap, 'whole', async (level) => {
      const image = `depth-${crypto.randomUUID()}.png`;
      const raster = makeRaster(image, level.width, level.height, level.samples);
      await this.rasters.put(image, raster, await this.rasters.remote.encode(level, 16));
      const how = { image, focus: 0, clear: 0, falloff: 1, profile: 'linear' };
      this.project.edit(outputWords.hazeMapAsDepthMap, (draft) => {
        draft.focus.depthMap = depthMapSchema.parse(how);
      });
      this.exporting.tell(outputWords.theHazeMapIsNow);
    });
  }

  /** Makes a map, one at a time, and says so where that, or what is done with it, fails. */
  private async withMap(
    name: string,
    of: 'as-cropped' | 'whole',
    use: (level: RasterLevel) => Promise<void>,
  ): Promise<void> {
    if (this.isMaking()) return;
    this.isMaking.set(true);
    try {
      await use(await this.made(this.which(), of));
    } catch (error) {
      if ((error as Error).name !== 'AbortError')
        this.notices.error(outputWords.couldntBeMadeYourProject(name, reasonOf(error)));
    } finally {
      this.isMaking.set(false);
    }
  }

  /** A map: of the haze as it is cropped, or whole; the others lie on the whole picture, as recipes name them. */
  private async made(which: string, of: 'as-cropped' | 'whole'): Promise<RasterLevel> {
    const size = exportSize(
      of === 'whole' ? this.project.size() : this.project.sheet(),
      of === 'whole' ? { by: 'full' } : this.settings.still().size,
    );
    const guide = this.renderLoop.guide();
    const source = await this.inputs.source();
    const { recipe, picture } = source;
    const { depthMap, mattes } = recipe.focus;
    if (which === 'depth' && depthMap)
      return (await this.assets.depth(depthMap.image, depthMap.align, guide ?? picture)).levels[0];
    const matte = mattes.find(({ id }) => id === which);
    if (matte) {
      const alone = { ...matte, on: true, combine: 'add' as const };
      const [kept] = await this.assets.keep([alone], Math.max(picture.width, picture.height), true);
      if (!kept) throw new Error('the subject isn’t cut out yet; draw over it first');
      return kept.raster.levels[0];
    }
    const whole = { ...recipe, tidy: { ...recipe.tidy, on: false } };
    return this.exporter.hazeMap({ ...source, recipe: of === 'whole' ? whole : recipe }, size);
  }
}
