import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput, MatSuffix } from '@angular/material/input';
import { MatTooltip } from '@angular/material/tooltip';
import { fileOpen, fileSave } from 'browser-fs-access';
import { type RasterLevel, type Size, depthMapSchema, exportSize, makeRaster } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { stillFormatNamed } from '../../model/export-text';
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
import { ExportSettingsForm } from '../../ui/export-settings';
import { ClipOutput } from './clip-output';
import { Exporting } from './exporting';
import { OutputSettings } from './output-settings';
import { PresetList } from './preset-list';
import { reasonOf, sentenceOf } from '../../model/causes';

@Component({
  selector: 'hl-output-panel',
  imports: [
    ClipOutput,
    ExportSettingsForm,
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatFormField,
    MatIcon,
    MatInput,
    MatSuffix,
    MatTooltip,
    PresetList,
  ],
  templateUrl: './output-panel.html',
  styles: `
    .file {
      width: 100%;
    }
    .row {
      flex-wrap: wrap;
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
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly notices = inject(Notices);
  private readonly recipes = inject(RecipeImport);
  private readonly rasters = inject(Rasters);
  private readonly dialog = inject(MatDialog);
  private readonly cutter = inject(MatteCutter);
  private readonly projects = inject(Projects);
  private readonly batch = inject(BatchRepository);
  protected readonly variants = computed(() => variantsOf(this.project.state().work));
  /** True while the haze map is being made. */
  protected readonly isMapping = signal(false);
  protected readonly finished = this.exporting.finished;
  protected readonly format = computed(() => stillFormatNamed(this.settings.still().kind));
  private readonly size = computed(() => exportSize(this.project.sheet(), this.settings.still().size));

  /** The picture may have colours that its file cannot hold. */
  protected readonly isWiderThanFile = computed(
    () => this.renderLoop.picture()?.primaries === 'display-p3' && this.settings.still().space === 'srgb',
  );

  protected async export(): Promise<void> {
    const fileName = this.settings.fileName() + this.format().extension;
    await this.exporting.picture({ settings: this.settings.still(), fileName }, this.size());
  }

  protected async saveRecipe(): Promise<void> {
    try {
      const name = this.settings.fileName();
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
      const fileName = `${this.settings.fileName()} haze map.png`;
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
