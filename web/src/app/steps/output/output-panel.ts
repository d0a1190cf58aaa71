import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput, MatSuffix } from '@angular/material/input';
import { MatTooltip } from '@angular/material/tooltip';
import { fileOpen, fileSave } from 'browser-fs-access';
import { exportSize } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { stillFormatNamed } from '../../model/export-text';
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
import { MapOutput } from './map-output';
import { OutputSettings } from './output-settings';
import { PresetList } from './preset-list';
import { sentenceOf } from '../../model/causes';
import { outputWords } from '../../words/output';

@Component({
  selector: 'hl-output-panel',
  imports: [
    ClipOutput,
    ExportSettingsForm,
    MatButton,
    MatFormField,
    MatIcon,
    MatInput,
    MatSuffix,
    MapOutput,
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
  protected readonly words = outputWords;
  protected readonly project = inject(OpenProject);
  protected readonly settings = inject(OutputSettings);
  protected readonly footage = inject(Footage);
  private readonly exporting = inject(Exporting);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly notices = inject(Notices);
  private readonly recipes = inject(RecipeImport);
  private readonly rasters = inject(Rasters);
  private readonly dialog = inject(MatDialog);
  private readonly cutter = inject(MatteCutter);
  private readonly projects = inject(Projects);
  private readonly batch = inject(BatchRepository);
  protected readonly variants = computed(() => variantsOf(this.project.state().work));
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

  /** Names of what lies over the picture, by the ids of its layers; none on footage. */
  protected readonly layers = computed(() => {
    const { elements, focus } = this.project.recipe();
    const lifted = focus.mattes.filter((matte) => matte.on && matte.lifted);
    return new Map([
      ...lifted.map(({ id }, i): [string, string] => [
        outputWords.subjectNamed(id),
        outputWords.subjectNamedName(i + 1),
      ]),
      ...elements.filter(({ on }) => on).map(({ id, name = 'element' }): [string, string] => [id, name]),
    ]);
  });

  protected exportLayers(): Promise<void> {
    const fileName = `${this.settings.fileName()} layers.zip`;
    return this.exporting.layers(fileName, this.settings.still().size, this.layers());
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
      description: outputWords.recipe,
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
    if (!file) return this.notices.error(outputWords.thePicture);
    const noRoom = outputWords.deleteProjectsOrBatchPictures;
    await withErrorNotice(this.notices, noRoom, () =>
      this.batch.addRows(rows.map((own) => ({ name: source.fileName || name, file, own }))),
    );
    this.openMany();
  }

  protected openMany(): void {
    openMany(this.dialog);
  }
}
