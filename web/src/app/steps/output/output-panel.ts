import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput, MatSuffix } from '@angular/material/input';
import { MatTooltip } from '@angular/material/tooltip';
import { fileOpen, fileSave } from 'browser-fs-access';
import {
  type NumberRange,
  type RasterLevel,
  STILL_FORMATS,
  type Size,
  depthMapSchema,
  makeRaster,
  safeName,
  sizeWithin,
} from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { METADATA_NAMES } from '../../model/metadata-names';
import { ExportInputs } from '../../project/session/export-input';
import { Footage } from '../../project/footage/footage';
import { MatteCutter } from '../../project/subjects/matte-cutter';
import { Rasters } from '../../engine/rasters';
import { OpenProject } from '../../project/session/open-project';
import { Notices } from '../../project/session/notices';
import { packRecipe } from '../../project/recipes/recipe-files';
import { RecipeImport } from '../../project/recipes/recipe-import';
import { BatchRepository } from '../../storage/batch-repository';
import { Projects } from '../../storage/projects';
import { variantsOf } from '../../model/variants';
import { withErrorNotice } from '../../project/session/report-errors';
import { openMany } from '../../batch/batch-view';
import { openShelf } from '../../shelf/shelf';
import { type NumberChange, NumberField, plainRange } from '../../ui/number-field';
import { ClipOutput } from './clip-output';
import { Exporting } from './exporting';
import { OutputSettings } from './output-settings';
import { reasonOf, sentenceOf } from '../../model/causes';

@Component({
  selector: 'hl-output-panel',
  imports: [
    ClipOutput,
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatFormField,
    MatIcon,
    MatInput,
    MatSuffix,
    MatTooltip,
    NumberField,
  ],
  templateUrl: './output-panel.html',
  styles: `
    .file {
      width: 100%;
    }
    .row {
      flex-wrap: wrap;
    }
    .kinds {
      --toggle-padding: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutputPanel {
  protected readonly project = inject(OpenProject);
  protected readonly settings = inject(OutputSettings);
  protected readonly footage = inject(Footage);
  private readonly exporting = inject(Exporting);
  private readonly inputs = inject(ExportInputs);
  private readonly exporter = inject(Exporter);
  private readonly notices = inject(Notices);
  private readonly recipes = inject(RecipeImport);
  private readonly rasters = inject(Rasters);
  private readonly dialog = inject(MatDialog);
  private readonly cutter = inject(MatteCutter);
  private readonly projects = inject(Projects);
  private readonly batch = inject(BatchRepository);
  protected readonly variants = computed(() => variantsOf(this.project.state().work));
  protected readonly kinds = STILL_FORMATS;
  protected readonly metadataNames = METADATA_NAMES;
  protected readonly Math = Math;
  protected readonly quality: NumberRange = plainRange('Quality', '%', 1, 100, 92);
  protected readonly longEdge = computed<NumberRange>(() => ({
    ...plainRange('Long edge', 'px', 16, this.full(), this.full()),
    step: 10,
  }));
  /** True while the haze map is being made. */
  protected readonly isMapping = signal(false);
  protected readonly finished = this.exporting.finished;
  protected readonly full = computed(() => Math.max(this.project.sheet().width, this.project.sheet().height));
  protected readonly size = computed(() =>
    sizeWithin(this.project.sheet(), this.settings.longEdge() ?? this.full()),
  );
  protected readonly offersDepth = computed(() => this.settings.kind().has16Bit);
  protected readonly offersChroma = computed(() => this.settings.kind().id === 'jpeg');

  protected setLongEdge({ value }: NumberChange): void {
    this.settings.longEdge.set(Math.round(value));
  }

  protected async export(): Promise<void> {
    const { kind, quality, bits, chroma, fileName, metadata } = this.settings;
    const { mime: type, extension, label } = kind();
    await this.exporting.picture({
      ...this.size(),
      type,
      quality: quality() / 100,
      bits: this.offersDepth() ? bits() : 8,
      chroma: chroma(),
      fileName: safeName(fileName()) + extension,
      extension,
      label,
      metadata: metadata(),
    });
  }

  protected async saveRecipe(): Promise<void> {
    try {
      const name = safeName(this.settings.fileName());
      const recipe = await this.cutter.settled(this.project.keyed());
      const { file, extension } = await packRecipe(recipe, (name) => this.rasters.file(name));
      await fileSave(file, {
        fileName: `${name}${extension}`,
        extensions: [extension.endsWith('zip') ? '.zip' : '.json'],
      });
    } catch (error) {
      if ((error as Error).name !== 'AbortError') this.notices.error(sentenceOf(error));
    }
  }

  protected async loadRecipe(): Promise<void> {
    const files = await fileOpen({
      mimeTypes: ['application/json', 'application/zip', 'image/png'],
      extensions: ['.json', '.zip', '.png'],
      description: 'Recipe',
      multiple: true,
    }).catch(() => []);
    if (files.length > 0) await this.recipes.open(files);
  }

  protected openRecipes(): void {
    openShelf(this.dialog, 'recipes');
  }

  /** Each variant becomes a row of the batch. */
  protected async batchVariants(): Promise<void> {
    const source = this.project.source();
    const { name } = this.project.state();
    const rows = this.variants().map((one) => ({ name: one.name, recipe: one.recipe, isWhole: true }));
    const file = source && (await this.projects.picture(source));
    if (!file) return this.notices.error('The picture is not in this browser. Open it again.');
    const noRoom = 'Delete projects or batch pictures to free space.';
    await withErrorNotice(this.notices, noRoom, () =>
      this.batch.addRows(rows.map((own) => ({ name: source.fileName || name, file, own }))),
    );
    this.openMany();
  }

  protected openMany(): void {
    openMany(this.dialog);
  }

  /** Writes the haze field as a grey picture: white is haze 1. */
  protected exportMap(): Promise<void> {
    return this.withMap(this.size(), 'as-cropped', async (level) => {
      const depth = this.settings.mapDepth();
      const fileName = `${safeName(this.settings.fileName())} haze map.png`;
      await fileSave(await this.rasters.remote.encode(level, depth), { fileName, extensions: ['.png'] });
      this.exporting.tell(`Exported “${fileName}”: ${level.width} × ${level.height} px, ${depth}-bit.`);
    });
  }

  /** The haze field as it is now becomes the depth map, with settings under which it says the same. */
  protected useMap(): Promise<void> {
    return this.withMap(this.project.size(), 'whole', async (level) => {
      const image = `depth-${crypto.randomUUID()}.png`;
      const raster = makeRaster(image, level.width, level.height, level.samples);
      await this.rasters.put(image, raster, await this.rasters.remote.encode(level, 16));
      const how = { image, focus: 0, clear: 0, falloff: 1, profile: 'linear' };
      this.project.edit('haze map as depth map', (draft) => {
        draft.focus.depthMap = depthMapSchema.parse(how);
      });
      this.exporting.tell('The haze map is now the depth map in Focus. Bands still apply on top.');
    });
  }

  /** Makes the haze map of a size, one at a time, and says so where that, or what is done with it, fails. */
  private async withMap(
    size: Size,
    of: 'as-cropped' | 'whole',
    use: (level: RasterLevel) => Promise<void>,
  ): Promise<void> {
    if (this.isMapping()) return;
    this.isMapping.set(true);
    try {
      const source = await this.inputs.source();
      const { recipe } = source;
      const whole = { ...recipe, tidy: { ...recipe.tidy, on: false } };
      await use(await this.exporter.hazeMap({ ...source, recipe: of === 'whole' ? whole : recipe }, size));
    } catch (error) {
      if ((error as Error).name !== 'AbortError')
        this.notices.error(`The haze map couldn’t be made: ${reasonOf(error)}. Your project is unchanged.`);
    } finally {
      this.isMapping.set(false);
    }
  }
}
